import { useRef, useState } from 'react';
import { scrollToMiddle, selected, showSheet } from './frameDocument';
import { usePage } from './usePage';
import classes from './WhatChanges.module.css';

interface Props {
  asset: string;
  /** The sheet that is tried on the page. */
  css: string;
  selector: string;
  label: string;
}

/** Px that a picture is wide and high, and around the element in it. */
const [WIDTH, HEIGHT, AROUND] = [514, 190, 36];
/** Px of the page's window: what lies farther down is scrolled to. */
const WINDOW = 900;
/** The least factor that a large element is shown at; of a larger one its upper left is shown. */
const LEAST = 0.4;

/** How far a page is moved so that an element lies in the middle of a picture, or as near to it as the page reaches. */
function moved(side: number, start: number, length: number, end: number): number {
  const middle = Math.max(AROUND, (side - length) / 2) - start;
  return Math.min(0, Math.max(side - end, middle));
}

/** The first element of a selector as this browser draws it within its page. */
export function ElementPicture({ asset, css, selector, label }: Props) {
  const frame = useRef<HTMLIFrameElement>(null);
  const width = usePage((state) => state.width);
  const scheme = usePage((state) => state.scheme);
  const [place, setPlace] = useState<{ x: number; y: number; scale: number } | null>(null);
  const onLoad = () => {
    const page = frame.current?.contentDocument;
    if (!page) return;
    showSheet(page, css);
    const element = selected(page, selector).find((one) => one.getClientRects().length > 0);
    if (!element) return;
    scrollToMiddle(element);
    const { left, top, width: wide, height: high } = element.getBoundingClientRect();
    const fitting = Math.min(1, WIDTH / (wide + 2 * AROUND), HEIGHT / (high + 2 * AROUND));
    const scale = Math.max(LEAST, fitting);
    setPlace({
      x: moved(WIDTH / scale, left, wide, page.documentElement.clientWidth),
      y: moved(HEIGHT / scale, top, high, WINDOW),
      scale,
    });
  };
  const { x, y, scale } = place ?? { x: 0, y: 0, scale: 1 };
  return (
    <div className={classes.picture} style={{ width: WIDTH, height: HEIGHT }}>
      <iframe
        ref={frame}
        title={label}
        src={`/api/pages/${encodeURIComponent(asset)}`}
        sandbox="allow-same-origin"
        loading="lazy"
        tabIndex={-1}
        className={classes.frame}
        style={{
          width,
          height: WINDOW,
          colorScheme: scheme,
          transform: `scale(${scale}) translate(${x}px, ${y}px)`,
          visibility: place ? 'visible' : 'hidden',
        }}
        onLoad={onLoad}
      />
    </div>
  );
}
