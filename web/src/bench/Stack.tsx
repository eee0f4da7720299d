import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { Switch } from '@mantine/core';
import { memo, useMemo } from 'react';
import type { Piece } from '../core/client';
import { words } from '../messages';
import { useLater } from '../parts/useLater';
import { useSeenIds } from '../parts/useSeen';
import { chosenPieces } from '../session/choice';
import { type Layer, layerOf } from '../session/layers';
import { pieceOf, sceneOf, stackOf } from '../session/lookup';
import { editPieces } from '../session/pieces';
import { useReported } from '../session/reported';
import { useScene } from '../session/seen';
import { editCoats } from '../session/stacks';
import { calmIn, useDocument } from '../session/store';
import { useAdditions, useCoatPictures } from '../session/thumbnails';
import { Band } from './Band';
import { CoatRow } from './CoatRow';
import { Control } from './Control';
import { Elements } from './Elements';
import { FinishMenu } from './FinishMenu';
import { GroupPath } from './GroupPath';
import { NothingChosen } from './NothingChosen';
import region from './region.module.css';
import { Several } from './Several';
import classes from './Stack.module.css';
import { StackMenu } from './StackMenu';
import { Starters } from './Starters';
import { States } from './States';
import { SurfaceLine } from './SurfaceLine';
import { Ticked } from './Ticked';

interface Props {
  onOnly: (coat: string | null) => void;
}

/** The stack of the chosen piece, top of the list nearest the eye, the piece itself a line in it. */
export const Stack = memo(function Stack(props: Props) {
  const scene = useScene();
  const pieceId = useDocument((state) => state.piece);
  const piece = pieceOf(scene, pieceId);
  return (
    <section
      data-region="stack"
      aria-label={words.bench.stack}
      className={`${region.region} ${classes.stack}`}
    >
      {piece ? <PieceStack key={piece.id} piece={piece} {...props} /> : <NothingChosen />}
    </section>
  );
});

const pointer = { activationConstraint: { distance: 4 } };
const keyboard = { coordinateGetter: sortableKeyboardCoordinates };

function PieceStack({ piece, onOnly }: Props & { piece: Piece }) {
  const report = useReported((told) => told.report);
  const coats = useDocument((now) => stackOf(now, piece));
  const [seen, see] = useSeenIds();
  const pictures = useCoatPictures(piece, seen);
  const additions = useAdditions(piece);
  const sensors = useSensors(useSensor(PointerSensor, pointer), useSensor(KeyboardSensor, keyboard));
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || over.id === active.id) return;
    editCoats((list) => {
      const from = list.findIndex((coat) => coat.id === active.id);
      const to = list.findIndex((coat) => coat.id === over.id);
      list.splice(0, list.length, ...arrayMove(list, from, to));
    });
  };
  const rows = (layer: Layer) =>
    (coats ?? [])
      .filter((coat) => layerOf(coat) === layer)
      .map((coat) => (
        <CoatRow
          key={coat.id}
          coat={coat}
          said={report?.piece === piece.id ? report.coats.find((other) => other.id === coat.id) : undefined}
          picture={pictures.get(coat.id)}
          onSeen={see}
          onOnly={onOnly}
        />
      ));
  const calm = useDocument((now) => pieceOf(sceneOf(calmIn(now), now.scene), piece.id)) ?? piece;
  const order = JSON.stringify((coats ?? []).map((coat) => coat.id));
  // The same list as long as the order is: every row draws itself anew with another.
  const ids = useMemo<string[]>(() => JSON.parse(order), [order]);
  return (
    <>
      <StackHeader piece={calm} />
      <Elements piece={calm} />
      <div className={classes.list}>
        <Ticked />
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
          <SortableContext items={ids} strategy={verticalListSortingStrategy}>
            <Band layer="on" additions={additions}>
              {rows('on')}
            </Band>
            <SurfaceLine piece={piece} />
            <Band layer="under" additions={additions}>
              {rows('under')}
            </Band>
            <Band layer="behind" additions={additions}>
              {rows('behind')}
            </Band>
          </SortableContext>
        </DndContext>
      </div>
    </>
  );
}

const Title = memo(function Title({ name, on }: { name: string; on: boolean }) {
  const switchAll = (on: boolean) =>
    editPieces(chosenPieces(), (mine) => {
      mine.coats_on = on;
    });
  return (
    <div className={classes.line}>
      <h2 className={classes.title} title={name} dir="auto">
        {name}
      </h2>
      <Switch
        size="xs"
        label={words.bench.allCoats}
        labelPosition="left"
        checked={on}
        onChange={(event) => switchAll(event.currentTarget.checked)}
      />
    </div>
  );
});

/** What can be done with the stack as a whole, drawn when the hand has been followed. */
const Menus = memo(function Menus({ piece }: HeaderProps) {
  return (
    <>
      <FinishMenu piece={piece} />
      <Starters piece={piece} />
      <span className={classes.gap} />
      <StackMenu piece={piece} />
    </>
  );
});

interface HeaderProps {
  piece: Piece;
}

const StackHeader = memo(function StackHeader({ piece }: HeaderProps) {
  const also = useDocument((state) => state.also.length);
  return (
    <div className={classes.header}>
      <GroupPath piece={piece.id} />
      <Title name={piece.name} on={piece.coats_on ?? true} />
      <div className={classes.line}>
        <Menus piece={useLater(piece, piece.id)} />
      </div>
      {also > 0 && <Several />}
      <States finish={'finish' in piece.wear ? piece.wear.finish : undefined} />
      <Control piece={piece} />
    </div>
  );
});
