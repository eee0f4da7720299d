import { Text } from '@mantine/core';
import { useEffect, useState } from 'react';
import type { Report, Scene, Schemas } from '../../core/client';
import { words } from '../../messages';
import { useChosenPieces } from '../../session/choice';
import { pieceOf, sceneOf, stackOf } from '../../session/lookup';
import { useReported } from '../../session/reported';
import { seenIn, useScene, useSeen } from '../../session/seen';
import { lightsIn } from '../../session/shared';
import type { DocumentState } from '../../session/state';
import { useDocument } from '../../session/store';
import { listOf } from '../../session/tree';
import { usePicture } from '../../session/usePicture';
import { useView } from '../../session/view';
import { CoatHandles } from './CoatHandles';
import { FillHandles } from './FillHandles';
import { Guides } from './Guides';
import { InBrowser } from './InBrowser';
import { MeasureTool } from './MeasureTool';
import { PickTool } from './PickTool';
import { PieceHandles } from './PieceHandles';
import { PointedElement } from './PointedElement';
import { PointsTool } from './PointsTool';
import { ProfileLine } from './ProfileLine';
import { onTheScene } from './place';
import { ReferencePicture } from './Reference';
import classes from './Stage.module.css';
import { TextInPlace } from './TextInPlace';
import { type Frame, useHand } from './useHand';
import { MAGNIFIED, useRoom } from './useRoom';
import { WipeLine } from './WipeLine';

interface Props {
  before: boolean;
  only: string | null;
}

/** The scene as the core draws it, with what can be taken hold of on it. */
export function Stage({ before, only }: Props) {
  const report = useReported((told) => told.report);
  const boxes = useReported((told) => told.boxes);
  const sceneId = useDocument((state) => state.scene);
  const scene = useScene();
  const room = useRoom(scene, useView((state) => state.reference) === 'beside' && Boolean(scene?.reference));
  const { scale, region, dense } = room;
  const pointed = useView((state) => state.pointed);
  const seen = useSeen();
  // A coat that is removed while it is seen alone leaves the whole piece to be seen.
  const alone = useDocument((state) => existing(state, only ?? pointed));
  const shown = { project: seen, scene: sceneId, scale: dense, region, before, only: alone };
  const { canvas, failure, painter } = usePicture(shown, seenNow);
  useEffect(() => useDocument.subscribe((now) => painter.hurry(seenIn(now), now.scene)), [painter]);
  const [writing, setWriting] = useState<string | null>(null);
  const { guides, frame, hand } = useHand(scene, boxes, scale, setWriting);
  const bare = before || alone !== null;
  const chosen = useChosenPieces();
  const tool = useView((state) => state.tool);
  const mode = useView((state) => state.reference);
  const reference = scene?.reference;
  const compares = useView((state) => state.browser);
  const inBrowser = compares && !bare && report ? pieceOf(scene, report.piece) : undefined;
  return (
    <section aria-label={words.stage.stageRegion} className={classes.stage} data-before={before || undefined}>
      <div className={classes.scroll} ref={room.ref} onScroll={room.onScroll} data-room>
        {scene && scale > 0 && (
          <div
            className={classes.sheet}
            data-width={scene.width}
            style={{ width: scene.width * scale, height: scene.height * scale, margin: room.margins }}
            {...hand}
          >
            <canvas
              ref={canvas}
              role="img"
              aria-label={summary(scene, chosen)}
              className={classes.picture}
              data-magnified={scale >= MAGNIFIED || undefined}
            />
            {reference && mode !== 'off' && mode !== 'beside' && (
              <ReferencePicture shown={reference} scale={scale} />
            )}
            {inBrowser && (
              <InBrowser
                scene={scene}
                piece={inBrowser}
                report={report as Report}
                scale={scale}
                dense={dense}
                region={region}
                width={boxes.find((box) => box.id === inBrowser.id)?.w ?? 0}
              />
            )}
            {!bare && tool === 'hand' && (
              <OnStage
                report={report}
                boxes={boxes}
                scale={scale}
                writing={writing}
                onWritten={() => setWriting(null)}
              />
            )}
            {frame && <span className={classes.frame} style={placeOf(frame, scale)} />}
            <Guides guides={guides} scene={scene} scale={scale} />
            {reference && mode === 'wipe' && !inBrowser && (
              <WipeLine label={words.stage.wipeBetweenTheSceneAnd} />
            )}
            {tool === 'points' && <PointsTool scene={scene} scale={scale} />}
            {tool === 'pick' && <PickTool scene={scene} scale={scale} />}
            {tool === 'measure' && <MeasureTool scene={scene} scale={scale} />}
          </div>
        )}
        {scene && reference && mode === 'beside' && (
          <div
            className={classes.sheet}
            data-beside
            style={{ width: scene.width * scale, height: scene.height * scale }}
          >
            <ReferencePicture shown={reference} scale={scale} />
          </div>
        )}
      </div>
      {failure && (
        <Text role="alert" className={classes.failure}>
          {words.stage.lastPicture(failure)}
        </Text>
      )}
    </section>
  );
}

/** The document as it is looked at, also where the page does not show that yet. */
const seenNow = () => seenIn(useDocument.getState());

function placeOf({ x, y, w, h }: Frame, scale: number) {
  return { left: x * scale, top: y * scale, width: w * scale, height: h * scale };
}

/** The scene in words: what is on it, highest first, and what is chosen. */
function summary(scene: Scene, chosen: string[]): string {
  const seen = scene.pieces.filter((piece) => !piece.hidden).reverse();
  const named = seen.slice(0, NAMED).map((piece) => piece.name);
  const more = seen.length - named.length;
  const picked = chosen.flatMap((id) => pieceOf(scene, id)?.name ?? []);
  return words.stage.summary(scene.name, seen.length, named, more, picked);
}

/** So many pieces are named; the shelf has them all. */
const NAMED = 12;

/** A coat's id, if the chosen piece has it. */
function existing({ document, scene, piece, state }: DocumentState, coat: string | null): string | null {
  const chosen = coat === null ? undefined : pieceOf(sceneOf(document, scene), piece);
  const stack = stackOf({ document, scene, state }, chosen);
  return stack?.some((other) => other.id === coat) ? coat : null;
}

/** Outlines of what is chosen, and handles of the piece or of the open coat. */
function OnStage({
  report,
  boxes,
  scale,
  writing,
  onWritten,
}: {
  report: Report | null;
  boxes: Schemas['PieceBox'][];
  scale: number;
  writing: string | null;
  onWritten: () => void;
}) {
  const document = useDocument((state) => state.document);
  const sceneId = useDocument((state) => state.scene);
  const coatId = useDocument((state) => state.coat);
  const state = useDocument((now) => now.state);
  const lineShown = useView((state) => state.lineShown);
  const surface = useView((state) => state.surface);
  const chosen = useChosenPieces();
  const scene = sceneOf(document, sceneId);
  if (!document || !scene) return null;
  const found = chosen.flatMap((id) => {
    const [piece, size] = [pieceOf(scene, id), boxes.find((box) => box.id === id)];
    if (!piece || !size) return [];
    const now = sizeNow(piece.shape, size);
    const there = onTheScene(piece, { ...size, ...now }, size.list);
    return [{ piece: there, size: now, axes: size.axes, list: size.list }];
  });
  const [first] = found;
  const beside = new Set(listOf(scene, first?.piece.id ?? null).map((piece) => piece.id));
  const others = boxes.filter((box) => beside.has(box.id) && box.id !== first?.piece.id);
  const stack = stackOf({ document, scene: sceneId, state }, first?.piece);
  const coat = stack?.find((other) => other.id === coatId);
  const fill = first?.piece.fill;
  const gradient = fill?.kind === 'linear' || fill?.kind === 'radial' ? fill : null;
  const writes = first?.piece.id === writing && first.piece.shape.kind === 'text';
  const own = report?.piece === first?.piece.id ? report : null;
  const [profile, handles] = [own?.profile, own?.gradient];
  return (
    <>
      {(coat ? found.slice(1) : found).map(({ piece, size }) => (
        <span
          key={piece.id}
          className={classes.chosen}
          style={{
            left: piece.x * scale,
            top: piece.y * scale,
            width: size.w * scale,
            height: size.h * scale,
            rotate: `${piece.rotation ?? 0}deg`,
          }}
        />
      ))}
      {first && <PointedElement scale={scale} {...first} />}
      {first && coat && (
        <CoatHandles document={document} scene={scene} coat={coat} scale={scale} others={others} {...first} />
      )}
      {first && !coat && found.length === 1 && !writes && <PieceHandles scale={scale} {...first} />}
      {first && !coat && surface && gradient && handles && (
        <FillHandles fill={gradient} handles={handles} scene={scene} scale={scale} {...first} />
      )}
      {first && profile && lineShown && (
        <ProfileLine
          profile={profile}
          lights={lightsIn(document, scene.theme)}
          scene={scene}
          scale={scale}
          {...first}
        />
      )}
      {writes && first.piece.shape.kind === 'text' && (
        <TextInPlace
          key={first.piece.id}
          scale={scale}
          onDone={onWritten}
          {...first}
          shape={first.piece.shape}
        />
      )}
    </>
  );
}

/** The size a piece's box has now; that of text is what the core last said. */
function sizeNow(shape: Schemas['Shape'], said: { w: number; h: number }): { w: number; h: number } {
  return 'w' in shape ? { w: shape.w, h: shape.h } : { w: said.w, h: said.h };
}
