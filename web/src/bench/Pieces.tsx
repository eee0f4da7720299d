import {
  DndContext,
  type DragEndEvent,
  MouseSensor,
  pointerWithin,
  TouchSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { memo, useCallback, useDeferredValue, useMemo, useState } from 'react';
import type { Piece, Project, Scene } from '../core/client';
import { words } from '../messages';
import { sayFailure } from '../page/toast';
import { fits } from '../parts/Search';
import { useLater } from '../parts/useLater';
import { useSeenIds } from '../parts/useSeen';
import { useChosenPieces } from '../session/choice';
import { moveTo, placeByKey, type Zone } from '../session/moving';
import { useScene, useSeen } from '../session/seen';
import { useDocument } from '../session/store';
import { usePiecePictures } from '../session/thumbnails';
import { partsOf, pathTo, withParts } from '../session/tree';
import { useView } from '../session/view';
import { AddPiece } from './AddPiece';
import classes from './Pieces.module.css';
import region from './region.module.css';
import { Shelved } from './Shelved';

/** So many pieces are looked through at a glance; more are searched. */
const MANY = 12;

/** The scene's pieces as pictures on a shelf, the parts of groups in branches. */
export const Pieces = memo(function Pieces() {
  // Drawing many pieces must not delay what follows the hand.
  const open = useDocument((state) => state.scene);
  const [scene, seen] = [useLater(useScene(), open), useLater(useSeen(), open)];
  return <Shelf scene={scene} project={seen} />;
});

const mouse = { activationConstraint: { distance: 4 } };
/** A finger that moves at once scrolls. */
const finger = { activationConstraint: { delay: 250, tolerance: 6 } };

const Shelf = memo(function Shelf({ scene, project }: { scene?: Scene; project: Project | null }) {
  const chosen = useChosenPieces();
  const [inView, see] = useSeenIds();
  const pictures = usePiecePictures(project, inView);
  const [wanted, setWanted] = useState('');
  const several = useView((state) => state.several);
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set());
  // What is typed is seen at once, however long the list takes.
  const found = useDeferredValue(wanted);
  const pieces = scene?.pieces ?? none;
  const all = useMemo(() => withParts(pieces), [pieces]);
  const searched = all.length > MANY;
  const looks = searched && found !== '';
  const [first = null] = chosen;
  const rows = useMemo(() => {
    const around = new Set(pathTo(pieces, first).map(({ id }) => id));
    around.delete(first ?? '');
    return rowsOf(pieces, (id) => looks || opened.has(id) || around.has(id));
  }, [pieces, first, opened, looks]);
  const fitting = useMemo(
    () => new Set(all.filter((piece) => !looks || hasFitting(piece, found)).map((piece) => piece.id)),
    [all, looks, found],
  );
  const fold = useCallback((id: string, open: boolean) => {
    setOpened((before) => new Set(open ? [...before, id] : [...before].filter((other) => other !== id)));
  }, []);
  const move = (id: string, zone: Zone, target: string) => {
    if (!scene) return;
    if (zone === 'into') fold(target, true);
    moveTo(scene, id, zone, target).catch((error: Error) => sayFailure(error.message));
  };
  const onKey = (piece: Piece, key: string) => {
    const place = scene && placeByKey(scene, piece, key);
    if (place) move(piece.id, place.zone, place.target);
    return place !== null;
  };
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    const zone = over?.data.current?.zone as Zone | undefined;
    const target = over?.data.current?.piece as string | undefined;
    if (zone && target) move(String(active.id), zone, target);
  };
  const sensors = useSensors(useSensor(MouseSensor, mouse), useSensor(TouchSensor, finger));
  return (
    <section aria-label={words.common.pieces} className={`${region.region} ${classes.shelf}`}>
      {searched && (
        <input
          type="search"
          className={classes.search}
          aria-label={words.bench.searchPieces}
          placeholder={words.bench.search}
          value={wanted}
          onChange={(event) => setWanted(event.currentTarget.value)}
          onKeyDown={(event) => event.key === 'Escape' && setWanted('')}
        />
      )}
      <DndContext sensors={sensors} collisionDetection={pointerWithin} onDragEnd={onDragEnd}>
        <div className={classes.row}>
          {rows.map(({ piece, depth, open }) => (
            <Shelved
              key={piece.id}
              piece={piece}
              depth={depth}
              open={open}
              chosen={chosen.includes(piece.id)}
              first={piece.id === first}
              picture={pictures.get(piece.id)}
              fitting={fitting.has(piece.id)}
              onSeen={see}
              onFold={fold}
              onKey={onKey}
            />
          ))}
          {fitting.size === 0 && all.length > 0 && (
            <span className={classes.name}>{words.common.nothingFound(wanted)}</span>
          )}
        </div>
      </DndContext>
      <button
        type="button"
        className={classes.several}
        aria-pressed={several}
        title={words.bench.aboutSeveral}
        onClick={() => useView.setState({ several: !several })}
      >
        {words.bench.chooseSeveral}
      </button>
      <AddPiece />
    </section>
  );
});

const none: Piece[] = [];

interface Row {
  piece: Piece;
  /** How many groups it lies in. */
  depth: number;
  /** Whether the parts of a group are shown; null for what has none. */
  open: boolean | null;
}

function rowsOf(pieces: Piece[], isOpen: (id: string) => boolean, depth = 0): Row[] {
  return pieces.flatMap((piece) => {
    const parts = partsOf(piece);
    if (parts.length === 0) return [{ piece, depth, open: null }];
    const open = isOpen(piece.id);
    return [{ piece, depth, open }, ...(open ? rowsOf(parts, isOpen, depth + 1) : [])];
  });
}

/** Whether a piece, or one in it, is among what is searched for. */
function hasFitting(piece: Piece, found: string): boolean {
  return fits(found, piece.name) || partsOf(piece).some((part) => hasFitting(part, found));
}
