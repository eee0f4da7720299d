import type { Schemas } from '../core/client';
import { interaction } from '../core/constants';
import type { SeenElement } from '../session/fitting';

/** The attribute with the number of an element, which the service gives it. */
const NUMBER = 'data-zolvet-element';

/** Puts a style element of ours into a page, which is its last. */
function styleOf(page: Document, name: string): HTMLStyleElement {
  const found = page.querySelector<HTMLStyleElement>(`style[data-zolvet="${name}"]`);
  if (found) return found;
  const style = page.createElement('style');
  style.dataset.zolvet = name;
  page.documentElement.append(style);
  return style;
}

/** Shows a sheet in a page. Values are read with transitions off, else those of a moment before would be. */
export function showSheet(page: Document, css: string) {
  const calm = styleOf(page, 'calm');
  if (!calm.textContent) calm.textContent = '*, ::before, ::after { transition: none !important }';
  const sheet = styleOf(page, 'sheet');
  if (sheet.textContent !== css) sheet.textContent = css;
}

/** The elements of a page that a selector selects; none where the browser does not know it. */
export function selected(page: Document, selector: string): HTMLElement[] {
  try {
    return [...page.querySelectorAll<HTMLElement>(selector)].filter((one) => !one.closest('head, style'));
  } catch {
    return [];
  }
}

/** Scrolls the page of an element so that it is in the middle; what is around the frame stays where it is. */
export function scrollToMiddle(element: HTMLElement) {
  const view = element.ownerDocument.defaultView;
  const { top, height } = element.getBoundingClientRect();
  view?.scrollBy({ top: top - (view.innerHeight - height) / 2, behavior: 'instant' });
}

/** Whether the browser knows a selector. */
export function isKnown(page: Document, selector: string): boolean {
  try {
    page.querySelector(selector);
    return selector.trim() !== '';
  } catch {
    return false;
  }
}

/** What a person calls an element. */
export function nameOf(element: Element): string {
  const [first] = element.classList;
  return first ? `.${first}` : element.localName;
}

/** The element of a page at a place of its window that has a number. */
export function elementAt(page: Document, x: number, y: number): HTMLElement | null {
  const found = page.elementFromPoint(x, y)?.closest<HTMLElement>(`[${NUMBER}]`) ?? null;
  return found && found !== page.documentElement && found !== page.body ? found : null;
}

/** What the browser has computed for an element, without the sheet that is tried on it. */
export function seenOf(element: HTMLElement): SeenElement {
  const page = element.ownerDocument;
  const sheet = styleOf(page, 'sheet');
  const tried = sheet.textContent;
  sheet.textContent = '';
  const style = computed(element);
  const box = element.getBoundingClientRect();
  const view = page.defaultView;
  const corner = (name: string) => Number.parseFloat(style.getPropertyValue(name)) || 0;
  const most = Math.min(box.width, box.height) / 2;
  const radius = (name: string) => {
    const value = style.getPropertyValue(name);
    const px = value.endsWith('%') ? (corner(name) / 100) * Math.min(box.width, box.height) : corner(name);
    return Math.min(px, most);
  };
  const seen: SeenElement = {
    number: Number(element.getAttribute(NUMBER)),
    name: nameOf(element),
    box: {
      x: box.left + (view?.scrollX ?? 0),
      y: box.top + (view?.scrollY ?? 0),
      w: box.width,
      h: box.height,
    },
    radii: [
      radius('border-top-left-radius'),
      radius('border-top-right-radius'),
      radius('border-bottom-right-radius'),
      radius('border-bottom-left-radius'),
    ],
    fill: isSeen(style.backgroundColor) ? style.backgroundColor : null,
    ground: groundOf(element),
    page: groundOf(page.body.firstElementChild ?? page.body),
    shadow: style.boxShadow === 'none' ? '' : style.boxShadow,
    filter: style.filter === 'none' ? '' : style.filter,
    used: element.matches(USED),
    texts: textsOf(element, box),
  };
  sheet.textContent = tried;
  return seen;
}

/** Elements that are there to be used. */
const USED =
  'button, a, input, select, textarea, summary, [tabindex], [role=button], [role=link], [role=switch], [role=tab]';

/** Texts of an element that are kept, and characters of each. */
const TEXTS = 24;
const FIRST_WORDS = 40;

/** The texts of an element that lie on its own surface. */
function textsOf(element: HTMLElement, box: DOMRect): Schemas['FittedText'][] {
  const page = element.ownerDocument;
  const walker = page.createTreeWalker(element, NodeFilter.SHOW_TEXT);
  const found: Schemas['FittedText'][] = [];
  while (found.length < TEXTS && walker.nextNode()) {
    const name = (walker.currentNode.textContent ?? '').trim().replace(/\s+/g, ' ');
    const around = walker.currentNode.parentElement;
    if (!name || !around || hasOwnSurface(around, element)) continue;
    const range = page.createRange();
    range.selectNodeContents(walker.currentNode);
    const { left, top, width, height } = range.getBoundingClientRect();
    const style = computed(around);
    const size = Number.parseFloat(style.fontSize);
    if (width < 1 || height < 1 || size < 1 || style.visibility !== 'visible') continue;
    found.push({
      name: name.slice(0, FIRST_WORDS),
      x: Math.round(left - box.left),
      y: Math.round(top - box.top),
      w: Math.round(width),
      h: Math.round(height),
      colour: style.color,
      size,
      weight: Number(style.fontWeight) || 400,
    });
  }
  return found;
}

/** Whether something between a text and an element paints a surface of its own under the text. */
function hasOwnSurface(around: Element, element: Element): boolean {
  for (let at: Element | null = around; at && at !== element; at = at.parentElement) {
    const { backgroundColor, backgroundImage } = computed(at);
    if (isSeen(backgroundColor) || backgroundImage !== 'none') return true;
  }
  return false;
}

function computed(element: Element): CSSStyleDeclaration {
  return (element.ownerDocument.defaultView ?? window).getComputedStyle(element);
}

/** Whether a computed colour paints anything. */
function isSeen(colour: string): boolean {
  const alpha = /(?:rgba\(.*,\s*|\/\s*)([\d.]+%?)\)$/.exec(colour)?.[1];
  return colour !== 'transparent' && (alpha === undefined || Number.parseFloat(alpha) > 0);
}

/** The colour of the nearest element around one that has one. */
function groundOf(element: Element): string {
  for (let around = element.parentElement; around; around = around.parentElement) {
    const { backgroundColor } = computed(around);
    if (isSeen(backgroundColor)) return backgroundColor;
  }
  return '#ffffff';
}

/** The depth that the browser computes for an element with a sheet on its page, as CSS; empty where it has none. */
export function depthOf(element: HTMLElement, css: string): string {
  const sheet = styleOf(element.ownerDocument, 'sheet');
  const tried = sheet.textContent;
  sheet.textContent = css;
  const { boxShadow, filter, backdropFilter } = computed(element);
  const parts = Object.entries({ 'box-shadow': boxShadow, filter, 'backdrop-filter': backdropFilter });
  const said = parts
    .filter(([, value]) => value && value !== 'none')
    .map(([name, value]) => `${name}: ${value}`);
  sheet.textContent = tried;
  return said.join('; ');
}

/** A shadow that no page has, which tells whether a rule wins. */
const PROBE = '7777px';
/** Elements that a rule is tried on. */
const TRIED = 200;

/** How strong a rule for some elements has to be, so that it wins over those of the page. */
export function strengthOf(page: Document, selector: string): Schemas['Strength'] {
  const found = interaction.strengths.find(([strength]) =>
    wins(page, { selector, strength }, (rule) => rule),
  );
  return found?.[0] ?? 'important';
}

/** Whether a rule in a layer loses against those of the page, where the same rule in none wins. */
export function losesInLayer(page: Document, { selector, strength }: Schemas['Fitting']): boolean {
  const tried = { selector, strength: strength ?? 'plain' };
  return !wins(page, tried, (rule) => `@layer ${LAYER} { ${rule} }`);
}

/** A layer that no page has. */
const LAYER = 'zolvet-probe';

/** Whether a rule of a strength wins over those of the page. */
function wins(
  page: Document,
  { selector, strength }: Pick<Schemas['Fitting'], 'selector'> & { strength: Schemas['Strength'] },
  within: (rule: string) => string,
): boolean {
  const as = interaction.strengths.find(([name]) => name === strength)?.[1] ?? '%';
  const important = strength === 'important' ? ' !important' : '';
  const probe = styleOf(page, 'probe');
  const rule = `${as.replace('%', () => selector)} { box-shadow: 0 0 0 ${PROBE} red${important} }`;
  probe.textContent = within(rule);
  const elements = selected(page, selector).slice(0, TRIED);
  const won = elements.every((element) => computed(element).boxShadow.includes(PROBE));
  probe.remove();
  return won;
}
