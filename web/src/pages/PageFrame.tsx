import { useElementSize } from '@mantine/hooks';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { words } from '../messages';
import { choosePiece } from '../session/choice';
import { pieceOf } from '../session/lookup';
import { useScene } from '../session/seen';
import { useDocument } from '../session/store';
import { elementAt, nameOf, scrollToMiddle, seenOf, selected } from './frameDocument';
import classes from './Pages.module.css';
import { keepShowing } from './showing';
import { usePage } from './usePage';

interface Props {
  asset: string;
  name: string;
  /** Whether the page is shown as it came. */
  before: boolean;
}

/** The page, drawn by this browser with what is given to it, and over it what is pointed at and selected. */
export function PageFrame({ asset, name, before }: Props) {
  const { ref, width: room, height } = useElementSize();
  const frame = useRef<HTMLIFrameElement>(null);
  const width = usePage((state) => state.width);
  const scheme = usePage((state) => state.scheme);
  const page = usePage((state) => state.page);
  const zoom = room > 0 ? Math.min(1, (room - 2 * INSET) / width) : 1;
  const [pointed, setPointed] = useState<HTMLElement | null>(null);
  useEffect(() => usePage.setState({ zoom }), [zoom]);
  useEffect(() => () => usePage.setState({ page: null }), []);
  useEffect(() => (page ? keepShowing(page, before) : undefined), [page, before]);
  const onLoad = useCallback(() => {
    const loaded = frame.current?.contentDocument ?? null;
    usePage.setState({ page: loaded });
    if (loaded) listen(loaded, setPointed);
    // Whoever comes by keys is on the page at once, where arrows lead from element to element.
    if (document.activeElement === document.body) loaded?.defaultView?.focus();
  }, []);
  const tall = zoom > 0 ? (height - INSET) / zoom : 0;
  return (
    <div ref={ref} className={classes.room}>
      <div className={classes.sheet} style={{ width: width * zoom, height: tall * zoom }}>
        <iframe
          ref={frame}
          title={words.pages.frame(name)}
          src={`/api/pages/${encodeURIComponent(asset)}`}
          sandbox="allow-same-origin"
          className={classes.frame}
          style={{ width, height: tall, scale: String(zoom), colorScheme: scheme }}
          onLoad={onLoad}
        />
        {page && <Over page={page} zoom={zoom} pointed={pointed} />}
      </div>
    </div>
  );
}

/** Px around the page. */
const INSET = 14;

/** Points and selects by pointer and keys; nothing in the page does anything by itself. */
function listen(page: Document, point: (element: HTMLElement | null) => void) {
  const at = (event: MouseEvent) => elementAt(page, event.clientX, event.clientY);
  page.addEventListener('pointermove', (event) => point(at(event)));
  page.addEventListener('pointerleave', () => point(null));
  for (const kind of ['click', 'auxclick', 'submit', 'dragstart', 'contextmenu'] as const) {
    page.addEventListener(kind, (event) => event.preventDefault(), true);
  }
  page.addEventListener('click', (event) => select(at(event), false), true);
  let reached: HTMLElement | null = null;
  page.addEventListener(
    'keydown',
    (event) => {
      const next = STEPS[event.key]?.(reached, page);
      if (next) {
        reached = next;
        point(next);
        next.scrollIntoView({ block: 'nearest' });
      } else if (event.key === 'Enter' && reached) select(reached, true);
      if (event.key.startsWith('Arrow') || event.key === 'Enter' || event.key === ' ') event.preventDefault();
    },
    true,
  );
}

type Step = (from: HTMLElement | null, page: Document) => HTMLElement | null;

/** Where arrows lead in a page. */
const STEPS: Record<string, Step> = {
  ArrowDown: (from, page) => beside(from, page, 'nextElementSibling'),
  ArrowUp: (from, page) => beside(from, page, 'previousElementSibling'),
  ArrowRight: (from, page) =>
    shown(from ? from.firstElementChild : page.body.firstElementChild, 'nextElementSibling'),
  ArrowLeft: (from, page) => (from?.parentElement === page.body ? null : (from?.parentElement ?? null)),
};

type Side = 'nextElementSibling' | 'previousElementSibling';

function beside(from: HTMLElement | null, page: Document, side: Side): HTMLElement | null {
  return shown(from ? from[side] : page.body.firstElementChild, side);
}

/** The first element from one on that has a box. */
function shown(from: Element | null, side: Side): HTMLElement | null {
  let found = from;
  while (found && found.getClientRects().length === 0) found = found[side];
  return found as HTMLElement | null;
}

/** Selects an element: the piece that stands for it, or else a new one is thought of. */
function select(element: HTMLElement | null, byKeys: boolean) {
  const { document, scene } = useDocument.getState();
  const pieces = document?.scenes.find(({ id }) => id === scene)?.pieces ?? [];
  const own = pieces.findLast(({ fitting }) => {
    const there = element && fitting && selected(element.ownerDocument, fitting.selector);
    return there?.includes(element as HTMLElement);
  });
  choosePiece(own?.id ?? null);
  const draft = element && !own ? { element, seen: seenOf(element) } : null;
  usePage.setState({ draft, byKeys, selector: null });
}

interface Box {
  key: string;
  left: number;
  top: number;
  width: number;
  height: number;
}

/** What is pointed at, selected, and like it, as frames over the page. */
function Over({ page, zoom, pointed }: { page: Document; zoom: number; pointed: HTMLElement | null }) {
  const draft = usePage((state) => state.draft);
  const thought = usePage((state) => state.selector);
  const scene = useScene();
  const piece = useDocument((state) => state.piece);
  const selector = pieceOf(scene, piece)?.fitting?.selector ?? thought;
  const [, redraw] = useState(0);
  useEffect(() => {
    const view = page.defaultView;
    const again = () => redraw((count) => count + 1);
    page.addEventListener('scroll', again, true);
    view?.addEventListener('resize', again);
    return () => {
      page.removeEventListener('scroll', again, true);
      view?.removeEventListener('resize', again);
    };
  }, [page]);
  const matches = useMemo(() => (selector ? selected(page, selector) : []), [page, selector]);
  const boxOf = (element: HTMLElement, key: string): Box => {
    const { left, top, width, height } = element.getBoundingClientRect();
    return { key, left: left * zoom, top: top * zoom, width: width * zoom, height: height * zoom };
  };
  useEffect(() => {
    if (piece) bringIntoSight(page, matches);
  }, [page, piece, matches]);
  const first = draft?.element ?? matches[0];
  const inSight = (box: Box) =>
    box.top + box.height > 0 && box.top < (page.defaultView?.innerHeight ?? 0) * zoom;
  const others = matches
    .filter((element) => element !== first)
    .map((element, at) => boxOf(element, String(at)))
    .filter(inSight)
    .slice(0, SHOWN);
  const told = pointed && pointed !== first ? pointed : null;
  return (
    <div className={classes.over} aria-hidden>
      {others.map(({ key, ...box }) => (
        <span key={key} className={classes.alike} style={box} />
      ))}
      {first && <Named element={first} box={boxOf(first, 'first')} className={classes.chosen} />}
      {told && <Named element={told} box={boxOf(told, 'told')} className={classes.pointed} />}
    </div>
  );
}

/** Scrolls to the first of some elements, unless one of them is to be seen. */
function bringIntoSight(page: Document, [first, ...others]: HTMLElement[]) {
  const tall = page.defaultView?.innerHeight ?? 0;
  const isSeen = (element: HTMLElement) => {
    const { top, bottom } = element.getBoundingClientRect();
    return bottom > 0 && top < tall;
  };
  if (first && ![first, ...others].some(isSeen)) scrollToMiddle(first);
}

/** Elements that are framed at the same time. */
const SHOWN = 200;

/** Px that the name of an element is high. */
const TAG = 24;

function Named({ element, box, className }: { element: HTMLElement; box: Box; className?: string }) {
  const { key: _, ...place } = box;
  const { width, height } = element.getBoundingClientRect();
  // Beside the element, never on it.
  const top = place.top >= TAG ? place.top - TAG : Math.max(0, place.top + place.height + 4);
  return (
    <>
      <span className={className} style={place} />
      <span className={classes.tag} style={{ left: Math.max(0, place.left), top }}>
        <b>{nameOf(element)}</b> {words.pages.size(width, height)}
      </span>
    </>
  );
}
