import css from 'highlight.js/lib/languages/css';
import json from 'highlight.js/lib/languages/json';
import scss from 'highlight.js/lib/languages/scss';
import xml from 'highlight.js/lib/languages/xml';
import { createLowlight } from 'lowlight';
import { Fragment, memo, type ReactNode, useMemo } from 'react';
import classes from './Code.module.css';

const highlighter = createLowlight({ css, json, scss, xml });

type Tree = ReturnType<typeof highlighter.highlight>;
type Node = Tree['children'][number];

/** Longer texts are shown without colours. */
const LONGEST = 60_000;

interface Props {
  text: string;
  language: 'css' | 'json' | 'scss' | 'xml' | null;
  className?: string;
}

/** Code in colours, to be read and selected. */
export const Code = memo(function Code({ text, language, className }: Props) {
  const shown = useMemo(() => {
    if (!language || text.length > LONGEST) return text;
    return highlighter.highlight(language, text).children.map(drawn);
  }, [text, language]);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable from the keyboard
    <pre className={className ? `${classes.code} ${className}` : classes.code} tabIndex={0}>
      {shown}
    </pre>
  );
});

function drawn(node: Node, at: number): ReactNode {
  if (node.type === 'text') return <Fragment key={at}>{node.value}</Fragment>;
  if (node.type !== 'element') return null;
  const names = [node.properties.className].flat().map((name) => classes[`${name}`.replace(/^hljs-/, '')]);
  return (
    <span key={at} className={names.filter(Boolean).join(' ')}>
      {node.children.map(drawn)}
    </span>
  );
}
