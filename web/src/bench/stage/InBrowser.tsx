import { useEffect, useMemo, useRef } from 'react';
import { useAnswered } from '../../core/answers';
import type { Piece, Project, Report, Scene, Schemas } from '../../core/client';
import { askCore } from '../../core/core';
import { useFontFaces } from '../../core/fontFaces';
import type { SceneRegion } from '../../core/stage';
import { words } from '../../messages';
import { useSeen } from '../../session/seen';
import { usePicture } from '../../session/usePicture';
import { useView } from '../../session/view';
import classes from './InBrowser.module.css';
import { WipeLine } from './WipeLine';

interface Props {
  scene: Scene;
  piece: Piece;
  report: Report;
  scale: number;
  dense: number;
  region: SceneRegion | null;
  /** Of the piece's box, in px. */
  width: number;
}

/**
 * The scene as this browser draws its code, every piece of it, to the right of a line that can be drawn across the stage;
 * to the left of it lies the core's picture.
 */
export function InBrowser({ scene, piece, report, scale, dense, region, width }: Props) {
  const wipe = useView((state) => state.wipe);
  const seen = useSeen();
  const ready = useFontFaces(seen?.assets);
  const bare = useMemo(() => seen && onlyGround(seen, scene.id), [seen, scene.id]);
  const { canvas } = usePicture({
    project: bare,
    scene: scene.id,
    scale: dense,
    region,
    before: false,
    only: null,
  });
  const { target } = report.code;
  const asked = useMemo(
    () => seen && { project: seen, scene: scene.id, piece: piece.id, target },
    [seen, scene.id, piece.id, target],
  );
  const ask = async (body: NonNullable<typeof asked>) => await askCore('/api/scene-code', body);
  const code = useAnswered(asked, ask, { pause: 60, atMost: 150 });
  // The line begins where there is something to compare.
  const { middle } = useRef({ middle: (piece.x + width / 2) / scene.width }).current;
  useEffect(() => useView.setState({ wipe: Math.min(1, Math.max(0, middle)) }), [middle]);
  return (
    <>
      <div className={classes.half} style={{ clipPath: `inset(0 0 0 ${wipe * 100}%)` }}>
        <canvas ref={canvas} className={classes.picture} />
        {ready && (
          <div
            className={classes.drawn}
            style={{ transform: `scale(${scale})`, width: scene.width, height: scene.height }}
            data-in-browser={code.fresh ? 'fresh' : ''}
          >
            {code.answer?.map((placed) => (
              <Drawn key={placed.piece} placed={placed} />
            ))}
          </div>
        )}
      </div>
      <WipeLine label={words.stage.wipeBetweenTheDesignAnd} />
      <span className={classes.name} style={{ left: `calc(${wipe * 100}% + 10px)` }}>
        {target.replaceAll('_', '-')}
        {words.stage.inThisBrowser}
      </span>
      {code.failure && (
        <span role="alert" className={classes.name} style={{ left: `calc(${wipe * 100}% + 10px)`, top: 34 }}>
          {code.failure}
        </span>
      )}
    </>
  );
}

/** A document in which the scene has nothing but its ground. */
function onlyGround(document: Project, scene: string): Project {
  const bare = (mine: Scene) => ({
    ...mine,
    pieces: mine.pieces.map((piece) => ({ ...piece, hidden: true })),
  });
  return { ...document, scenes: document.scenes.map((mine) => (mine.id === scene ? bare(mine) : mine)) };
}

/** Code as it stands, kept apart from the styles of this page. */
function Drawn({ placed: { page, piece, x, y } }: { placed: Schemas['PlacedCode'] }) {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!host.current) return;
    const root = host.current.shadowRoot ?? host.current.attachShadow({ mode: 'open' });
    root.innerHTML = `<style>${apart}</style>${page}`;
  }, [page]);
  return <div ref={host} className={classes.element} style={{ left: x, top: y }} data-code-of={piece} />;
}

/** What a page of its own would bring: no rule of this one. The host makes no group of its own, so that pieces blend. */
const apart = `:host { all: initial; position: absolute }
:where(:host > *) { position: absolute; left: 0; top: 0; margin-block: 0; text-rendering: geometricPrecision }`;
