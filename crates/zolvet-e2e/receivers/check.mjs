// Reads what is handed off as its receivers would, and says what they have to remark. In: {"css": [], "scss": [], "tokens": []}.
// Out: {"remarks": [], "scss": [CSS of each], "tokens": [{"terrazzo": CSS, "dictionary": CSS} of each]}.
import { json } from 'node:stream/consumers';
import { build, defineConfig, Logger, parse } from '@terrazzo/parser';
import pluginCss from '@terrazzo/plugin-css';
import * as cssTree from 'css-tree';
import { compileString } from 'sass';
import StyleDictionary from 'style-dictionary';
import stylelint from 'stylelint';

const asked = await json(process.stdin);
const remarks = [];

async function lint(code, at) {
  const { results } = await stylelint.lint({ code, config: { extends: 'stylelint-config-standard' } });
  for (const { line, text } of results[0].warnings) remarks.push(`stylelint: sheet ${at}, line ${line}: ${text}`);
}

function tree(code, at) {
  const remark = (line, text) => remarks.push(`css-tree: sheet ${at}, line ${line}: ${text}`);
  const ast = cssTree.parse(code, { positions: true, onParseError: (error) => remark(error.line, error.message) });
  cssTree.walk(ast, function visit(node) {
    if (node.type !== 'Declaration' || node.property.startsWith('--') || this.atrule?.name === 'property') return;
    const { error } = cssTree.lexer.matchProperty(node.property, node.value);
    // What custom properties stand for is known to browsers only.
    if (error && !error.message.includes('var()')) remark(node.loc.start.line, error.message);
  });
}

async function terrazzo(text) {
  const logger = new Logger({ level: 'warn' });
  const config = defineConfig({ plugins: [pluginCss({ filename: 'tokens.css' })], lint: { rules: {} } }, { cwd: new URL('file:///') });
  const { tokens, sources, resolver } = await parse([{ filename: new URL('file:///tokens.json'), src: text }], { config, logger });
  const { outputFiles } = await build(tokens, { sources, resolver, config, logger });
  return String(outputFiles[0].contents);
}

async function dictionary(text) {
  const css = { transformGroup: 'css', files: [{ destination: 'tokens.css', format: 'css/variables' }] };
  const log = { verbosity: 'verbose', warnings: 'error' };
  const [file] = await new StyleDictionary({ tokens: JSON.parse(text), platforms: { css }, log }).formatPlatform('css');
  return file.output;
}

// css-tree gives up matching lists of many shadows after a number of steps: that is not about the list.
const say = (...words) => words[0]?.startsWith?.('[csstree-match] BREAK') || remarks.push(words.join(' '));
console.log = () => {};
console.warn = say;
console.error = say;
for (const [at, code] of asked.css.entries()) {
  await lint(code, at);
  tree(code, at);
}
const logger = { warn: (message) => say('sass:', message), debug: () => {} };
const scss = asked.scss.map((code) => compileString(code, { logger }).css);
const tokens = [];
for (const text of asked.tokens) tokens.push({ terrazzo: await terrazzo(text), dictionary: await dictionary(text) });
process.stdout.write(JSON.stringify({ remarks, scss, tokens }));
