// What Chromium makes of style sheets: run once for a page that has them, before any element is asked about.
//
// No file can say that a pointer is there, so pseudo-classes that elements cannot be given are classes: they weigh the same.
const top = (text) => {
    const found = [];
    let depth = 0, start = 0;
    for (let at = 0; at < text.length; at++) {
        if (text[at] === '\\') { at++; continue; }
        if ('(['.includes(text[at])) depth++;
        if (')]'.includes(text[at])) depth--;
        if (text[at] === ',' && depth === 0) { found.push(text.slice(start, at)); start = at + 1; }
    }
    return [...found, text.slice(start)];
};
const STATES = [
    'hover', 'active', 'focus', 'focus-visible', 'focus-within', 'disabled', 'enabled', 'checked', 'indeterminate', 'default',
    'required', 'optional', 'valid', 'invalid', 'user-valid', 'user-invalid', 'in-range', 'out-of-range', 'read-only',
    'read-write', 'placeholder-shown', 'autofill', '-webkit-autofill', 'link', 'visited', 'any-link', '-webkit-any-link',
    'target', 'fullscreen', 'modal', 'open', 'popover-open', 'lang\\([^)]*\\)', 'dir\\([^)]*\\)',
];
const classOf = (flag) => `zv-${flag.replace(/[^a-z]/g, '-')}`;
const PSEUDO = new RegExp(`(?<![:\\\\]):(${STATES.join('|')})(?![-\\w(])`, 'g');
// Nothing can be said after a pseudo-element but a pseudo-class.
const replaced = (selector) => top(selector).map((one) => {
    const end = one.search(/(?<!\\)::[-\w]/);
    const before = end < 0 ? one : one.slice(0, end);
    return before.replace(PSEUDO, (_, name) => `.${classOf(name)}`) + (end < 0 ? '' : one.slice(end));
}).join(',');

// `all` says something about everything, and nothing about depth.
const KEYWORDS = ['unset', 'initial', 'revert', 'inherit'];
const sayings = (style) => {
    const values = DEPTH.map((name) => style.getPropertyValue(name));
    const all = KEYWORDS.includes(values[0]) && values.every((value) => value === values[0]);
    return all ? [] : DEPTH.filter((_, at) => values[at] !== '');
};
const DEPTH = ['box-shadow', 'text-shadow', 'filter', 'backdrop-filter'];
const rules = [];
const styleAround = (rule) => {
    let outer = rule.parentRule;
    while (outer && !(outer instanceof CSSStyleRule)) outer = outer.parentRule;
    return outer;
};
const walk = (list, around) => {
    for (const rule of list) {
        if (rule instanceof CSSStyleRule) {
            const selector = replaced(rule.selectorText);
            if (selector !== rule.selectorText) rule.selectorText = selector;
            const said = sayings(rule.style);
            if (said.length > 0) rules.push({ rule, said, around });
            walk(rule.cssRules, around);
        } else if (rule instanceof CSSNestedDeclarations) {
            const said = sayings(rule.style);
            if (said.length > 0) rules.push({ rule: styleAround(rule), said, around });
        } else if (rule instanceof CSSMediaRule) {
            walk(rule.cssRules, [...around, () => matchMedia(rule.media.mediaText).matches]);
        } else if (rule instanceof CSSSupportsRule) {
            walk(rule.cssRules, [...around, () => CSS.supports(rule.conditionText)]);
        } else if (rule instanceof CSSContainerRule || rule instanceof CSSKeyframesRule || rule.constructor.name === 'CSSStartingStyleRule' || rule.constructor.name === 'CSSScopeRule') {
            continue;
        } else if (rule.cssRules) {
            walk(rule.cssRules, around);
        }
    }
};
for (const sheet of document.styleSheets) if (sheet.ownerNode.dataset.asked !== undefined) walk(sheet.cssRules, []);

const full = (rule) => {
    const outer = styleAround(rule);
    if (!outer) return rule.selectorText.replace(/(?<!\\)&/g, ':root');
    const within = rule.selectorText.includes('&') ? rule.selectorText : top(rule.selectorText).map((one) => `& ${one}`).join(',');
    return within.replace(/(?<!\\)&/g, `:is(${full(outer)})`);
};
const parts = (selector) => {
    return top(selector).map((one) => {
        const pseudo = one.match(/::[-\w]+(\([^)]*\))?((?::[-\w]+)*)\s*$/);
        const css2 = one.match(/(?<!:):(before|after|first-line|first-letter)\s*$/);
        const end = pseudo ?? css2;
        const plain = end ? one.slice(0, end.index).trim() || '*' : one.trim();
        const name = pseudo ? pseudo[0].trim().replace(/^::/, '').split(':')[0] : css2 ? css2[1] : null;
        return { plain: /[>+~]$/.test(plain) ? `${plain} *` : plain, pseudo: name };
    });
};
for (const one of rules) one.parts = parts(full(one.rule));
const active = () => rules.map(({ around }) => around.every((holds) => holds()));

const probe = document.createElement('i');
const known = new Map();
const colour = (text) => {
    if (!known.has(text)) {
        document.documentElement.append(probe);
        probe.style.cssText = `color: color(from ${text} srgb r g b / alpha) !important; transition: none !important`;
        const [r, g, b, a = 1] = getComputedStyle(probe).color.match(/-?[\d.]+(e-?\d+)?/g).map(Number);
        known.set(text, [r, g, b].map((part) => Math.min(1, Math.max(0, part))).concat(a));
        probe.remove();
    }
    return known.get(text);
};
// As [kind, x, y, blur, spread, r, g, b, a]; kind 0 is a drop shadow, 1 an inner one.
const shadow = (text, factor) => {
    const inset = /\binset\b/.test(text);
    const found = text.match(/(rgba?|color|oklch|oklab|lab|lch|hsl|hwb)\([^()]*\)/);
    const lengths = (text.replace(found?.[0] ?? '', '').match(/-?[\d.]+(e[-+]?\d+)?(?=px)/g) ?? []).map(Number);
    const [x = 0, y = 0, blur = 0, spread = 0] = lengths;
    return [inset ? 1 : 0, x, y, blur * factor, spread, ...colour(found?.[0] ?? 'black')];
};
const functions = (text) => [...text.matchAll(/([-\w]+)\(((?:[^()]|\([^()]*\))*)\)/g)].map(([, name, inside]) => [name, inside]);
const READ = {
    'box-shadow': (text) => text === 'none' ? [] : top(text).map((one) => shadow(one, 1)),
    'text-shadow': (text) => text === 'none' ? [] : top(text).map((one) => shadow(one, 1)),
    // Kind 2 is a blur by its σ.
    filter: (text) => functions(text).flatMap(([name, inside]) =>
        name === 'drop-shadow' ? [shadow(inside, 2)] : name === 'blur' ? [[2, Number.parseFloat(inside)]] : []),
    // Kind 3 is σ, saturation and brightness of what lies behind.
    'backdrop-filter': (text) => {
        if (text === 'none') return [];
        const of = Object.fromEntries(functions(text).map(([name, inside]) => [name, Number.parseFloat(inside)]));
        return [[3, of.blur ?? 0, of.saturate ?? 1, of.brightness ?? 1]];
    },
};

const build = ({ tag, attributes, flags, children, this: here }, element) => {
    for (const { name } of [...element.attributes]) element.removeAttribute(name);
    for (const [name, value] of attributes) element.setAttribute(name, value);
    for (const flag of flags) element.classList.add(classOf(flag));
    if (here) window.here = element;
    for (const child of children) {
        if (child.tag === 'body' && tag === 'html') build(child, document.body);
        else element.append(build(child, document.createElement(child.tag)));
    }
    return element;
};
window.judged = (pages) => pages.map(({ page, pseudo }) => {
    document.body.replaceChildren();
    build(page, document.documentElement);
    const style = getComputedStyle(window.here, pseudo ? `::${pseudo}` : undefined);
    const found = Object.fromEntries(DEPTH.map((name) => [name, READ[name](style[name === 'box-shadow' ? 'boxShadow' : name === 'text-shadow' ? 'textShadow' : name === 'backdrop-filter' ? 'backdropFilter' : 'filter'])]));
    const on = active();
    const matching = rules.flatMap(({ parts }, at) => {
        const fits = (one) => one.pseudo === (pseudo ?? null) && (() => { try { return window.here.matches(one.plain); } catch { return false; } })();
        return on[at] && parts.some(fits) ? [at] : [];
    });
    return { found, matching };
});
window.listed = () => {
    const on = active();
    return rules.map(({ rule, said, parts }, at) => ({ selector: full(rule), said, active: on[at], text: rule.cssText.slice(0, 300) }));
};
