import { useEffect, useMemo, useRef } from 'react';
import type { Piece, Project, Report, Scene } from '../../core/client';
import { useSeen } from '../../session/store';
import { useView } from '../../session/view';
import classes from './InBrowser.module.css';
import { usePicture } from './usePicture';
import type { Region } from './useRoom';
import { WipeLine } from './WipeLine';

interface Props {
  scene: Scene;
  piece: Piece;
  report: Report;
  scale: number;
  dense: number;
  region: Region | null;
  /** Of the piece's box, in px. */
  width: number;
}

/**
 * The chosen piece as this browser draws its code, over what lies below it, to the right of a line that can be drawn
 * across the stage; to the left of it lies the core's picture.
 */
export function InBrowser({ scene, piece, report, scale, dense, region, width }: Props) {
  const wipe = useView((state) => state.wipe);
  const seen = useSeen();
  const below = useMemo(() => seen && onlyBelow(seen, scene.id, piece.id), [seen, scene.id, piece.id]);
  const shown = { project: below, scene: scene.id, scale: dense, region, before: false, only: null };
  const { canvas } = usePicture(shown);
  // The line begins where there is something to compare.
  const { middle } = useRef({ middle: (piece.x + width / 2) / scene.width }).current;
  useEffect(() => useView.setState({ wipe: Math.min(1, Math.max(0, middle)) }), [middle]);
  return (
    <>
      <div className={classes.half} style={{ clipPath: `inset(0 0 0 ${wipe * 100}%)` }}>
        <canvas ref={canvas} className={classes.picture} />
        <Drawn page={report.code.page} x={piece.x} y={piece.y} scale={scale} />
      </div>
      <WipeLine label="Wipe between the design and this browser" />
      <span className={classes.name} style={{ left: `calc(${wipe * 100}% + 10px)` }}>
        {report.code.target.replaceAll('_', '-')} in this browser
      </span>
    </>
  );
}

/** A document in which the piece and what lies above it are not shown. */
function onlyBelow(document: Project, scene: string, piece: string): Project {
  const bare = (mine: Scene) => {
    const at = mine.pieces.findIndex((other) => other.id === piece);
    const pieces = mine.pieces.map((other, i) => (i >= at ? { ...other, hidden: true } : other));
    return { ...mine, pieces };
  };
  const scenes = document.scenes.map((mine) => (mine.id === scene ? bare(mine) : mine));
  return { ...document, scenes };
}

/** Code as it stands, kept apart from the styles of this page. */
function Drawn({ page, x, y, scale }: { page: string; x: number; y: number; scale: number }) {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!host.current) return;
    const root = host.current.shadowRoot ?? host.current.attachShadow({ mode: 'open' });
    root.innerHTML = `<style>${apart}</style>${page}`;
  }, [page]);
  const transform = `scale(${scale}) translate(${x}px, ${y}px)`;
  return <div ref={host} className={classes.drawn} style={{ transform }} data-in-browser />;
}

/** What a page of its own would bring: no rule of this one. */
const apart = `:host { all: initial }
:where(:host > *) { position: absolute; left: 0; top: 0; margin-block: 0; text-rendering: geometricPrecision }`;
