// Reads what is handed off as its receivers would, and says what they have to remark. In: {"css": [], "scss": [], "tokens": []}.
// Out: {"remarks": [], "scss": [CSS of each], "tokens": [{"terrazzo": CSS, "dictionary": CSS} of each]}.
// Token files that others wrote are read as well: "sets": [{"path", "settled"}], out: "sets": [{"terrazzo": {"css", "names"}, …}].
// Terrazzo knows the format as it was settled only, not what files said before.
import { readFile } from 'node:fs/promises';
import { json } from 'node:stream/consumers';
import { pathToFileURL } from 'node:url';
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

// The variable of a token has its whole path in its name, in both readers.
const plain = (path) => path.replace(/[^a-zA-Z0-9]+/g, '-').toLowerCase();

const number = (part) => part ?? 'none';
const length = (of) => (of ? `${of.value}${of.unit}` : '0');
const colour = ({ colorSpace: space, components: [a, b, c], alpha = 1 }) => {
  if (space === 'hsl' || space === 'hwb') return `${space}(${number(a)} ${b}% ${c}% / ${alpha})`;
  const parts = [a, b, c].map(number).join(' ');
  return ['lab', 'lch', 'oklab', 'oklch'].includes(space) ? `${space}(${parts} / ${alpha})` : `color(${space} ${parts} / ${alpha})`;
};
const layer = (of) => `${of.inset ? 'inset ' : ''}${[of.offsetX, of.offsetY, of.blur, of.spread].map(length).join(' ')} ${colour(of.color)}`;

async function terrazzoFile(url, src) {
  const logger = new Logger({ level: 'silent' });
  const config = defineConfig({ plugins: [], lint: { rules: {} } }, { cwd: new URL('file:///') });
  const { tokens } = await parse([{ filename: url, src }], { config, logger, req: (file) => readFile(file, 'utf8') });
  const shadows = Object.values(tokens).filter(({ $type }) => $type === 'shadow');
  const lines = shadows.map(({ id, $value }) => `--${plain(id)}: ${[$value].flat().map(layer).join(', ')};`);
  return { css: `:root { ${lines.join('\n')} }`, names: shadows.map(({ id }) => id.replaceAll('.', '/')) };
}

const over = (below, above) => {
  for (const [name, value] of Object.entries(above)) {
    below[name] = value && typeof value === 'object' && !Array.isArray(value) && below[name] ? over(below[name], value) : value;
  }
  return below;
};

// What a resolver file puts together when nothing is chosen: this reader knows no such files.
async function byDefault(url, file) {
  if (!file.resolutionOrder) return file;
  const at = (reference) => reference.slice(2).split('/').reduce((inner, name) => inner[name], file);
  const all = {};
  const take = async (source) => over(all, source.$ref ? JSON.parse(await readFile(new URL(source.$ref, url))) : source);
  for (const entry of file.resolutionOrder.map((one) => (one.$ref ? at(one.$ref) : one))) {
    for (const source of entry.sources ?? entry.contexts[entry.default ?? Object.keys(entry.contexts)[0]]) await take(source);
  }
  return all;
}

async function dictionaryFile(url, src) {
  const tokens = await byDefault(url, JSON.parse(src));
  const named = { name: 'name/plain', type: 'name', transform: ({ path }) => plain(path.join('-')) };
  const transforms = StyleDictionary.hooks.transformGroups.css.filter((one) => !one.startsWith('name/'));
  const css = { transforms: [...transforms, named.name], files: [{ destination: 'tokens.css', format: 'css/variables' }] };
  const reader = new StyleDictionary({ tokens, hooks: { transforms: { [named.name]: named } }, platforms: { css }, log: { verbosity: 'silent', errors: { brokenReferences: 'console' } } });
  const { allTokens } = await reader.getPlatformTokens('css');
  const kinds = ['shadow', 'boxShadow'];
  const names = allTokens.filter((one) => kinds.includes(one.$type ?? one.type)).map(({ path }) => path.join('/'));
  return { css: (await reader.formatPlatform('css'))[0].output, names };
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
const sets = [];
for (const { path, settled } of asked.sets ?? []) {
  const url = pathToFileURL(path);
  const src = await readFile(url, 'utf8');
  const readers = { dictionary: await dictionaryFile(url, src) };
  if (settled) readers.terrazzo = await terrazzoFile(url, src);
  sets.push(readers);
}
process.stdout.write(JSON.stringify({ remarks, scss, tokens, sets }));
