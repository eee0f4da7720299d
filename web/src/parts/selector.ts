import { limits } from '../core/constants';

/** Whether a text can stand as the selector of a rule: the browser reads it, and what follows the rule stays as it is. */
export function isSelector(text: string): boolean {
  if (text.includes('/*') || text.length > limits.nameCharacters) return false;
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(`${text} {}\n.after {}`);
  const rules = [...sheet.cssRules].map((rule) => (rule as CSSStyleRule).selectorText);
  return rules.length === 2 && rules[0] !== undefined && rules[1] === '.after';
}
