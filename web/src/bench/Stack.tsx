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
import { Button, Group, NativeSelect, Switch, Text } from '@mantine/core';
import { memo, useMemo } from 'react';
import type { Piece, Report, Schemas } from '../core/client';
import { copyCoats, pasteCoats, useClipboard } from '../session/clipboard';
import { clearStack, followAll } from '../session/coats';
import { type Layer, layerOf } from '../session/layers';
import { editPieces } from '../session/pieces';
import { chosenPieces, editCoats, pieceOf, stackOf, useDocument, useScene } from '../session/store';
import { AddCoat } from './AddCoat';
import { Alternatives } from './Alternatives';
import { Arrange } from './Arrange';
import { CoatRow } from './CoatRow';
import { PasteCss } from './PasteCss';
import region from './region.module.css';
import classes from './Stack.module.css';
import { Starters } from './Starters';
import { States } from './States';
import { SurfaceLine } from './SurfaceLine';
import { Ticked } from './Ticked';
import { Wears } from './Wears';

interface Props {
  report: Report | null;
  thumbnails: Schemas['Thumbnails'] | null;
  boxes: Schemas['PieceBox'][];
  onOnly: (coat: string | null) => void;
}

/** The stack of the chosen piece, top of the list nearest the eye, the piece itself a line in it. */
export function Stack(props: Props) {
  const scene = useScene();
  const pieceId = useDocument((state) => state.piece);
  const piece = pieceOf(scene, pieceId);
  return (
    <section aria-label="Stack" className={`${region.region} ${classes.stack}`}>
      {piece ? (
        <PieceStack key={piece.id} piece={piece} {...props} />
      ) : (
        <div className={classes.nothing}>
          <Text fw={600}>No piece is chosen</Text>
          <Text size="sm" c="dimmed">
            Choose one on the stage or on the shelf below it. What you change here applies to that piece.
          </Text>
        </div>
      )}
    </section>
  );
}

const none: never[] = [];
const pointer = { activationConstraint: { distance: 4 } };
const keyboard = { coordinateGetter: sortableKeyboardCoordinates };

function PieceStack({ piece, report, thumbnails, boxes, onOnly }: Props & { piece: Piece }) {
  const coats = useDocument((now) => stackOf(now, piece));
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
          picture={thumbnails?.coats.find((other) => other.id === coat.id)?.picture}
          onOnly={onOnly}
        />
      ));
  const own = report?.piece === piece.id ? report : null;
  const behind = rows('behind');
  const order = JSON.stringify((coats ?? []).map((coat) => coat.id));
  // The same list as long as the order is: every row draws itself anew with another.
  const ids = useMemo<string[]>(() => JSON.parse(order), [order]);
  return (
    <>
      <StackHeader piece={piece} report={own} boxes={boxes} />
      <States piece={piece} />
      <div className={classes.list}>
        <Ticked />
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
          <SortableContext items={ids} strategy={verticalListSortingStrategy}>
            <h3 className={classes.layer}>on the surface</h3>
            {rows('on')}
            <SurfaceLine piece={piece} />
            <h3 className={classes.layer}>under it</h3>
            {rows('under')}
            {behind.length > 0 && <h3 className={classes.layer}>behind it</h3>}
            {behind}
          </SortableContext>
        </DndContext>
        <AddCoat additions={thumbnails?.additions ?? none} />
        <PasteCss />
      </div>
    </>
  );
}

/** The light that the whole stack follows, or lets go of. */
function FollowAll({ report }: { report: Report | null }) {
  const lights = useDocument((state) => state.document?.lights) ?? none;
  if (lights.length === 0 || !report) return null;
  const both = new Map(report.coats.flatMap((coat) => (coat.offset ? [[coat.id, coat.offset]] : [])));
  return (
    <NativeSelect
      size="xs"
      aria-label="What the whole stack follows"
      value=""
      data={[
        { value: '', label: 'Follow…' },
        ...lights.map((light) => ({ value: light.id, label: `all follow ${light.name}` })),
        { value: 'none', label: 'all let go' },
      ]}
      onChange={(event) => {
        const chosen = event.currentTarget.value;
        if (chosen) followAll(chosen === 'none' ? null : chosen, both);
      }}
    />
  );
}

interface HeaderProps {
  piece: Piece;
  report: Report | null;
  boxes: Schemas['PieceBox'][];
}

const StackHeader = memo(function StackHeader({ piece, report, boxes }: HeaderProps) {
  const { wear } = piece;
  const worn = 'finish' in wear ? wear.finish : null;
  const finish = useDocument((state) => state.document?.finishes?.find((other) => other.id === worn)?.name);
  const also = useDocument((state) => state.also.length);
  const copied = useClipboard((state) => state.coats.length);
  const switchAll = (on: boolean) =>
    editPieces(chosenPieces(), (mine) => {
      mine.coats_on = on;
    });
  return (
    <div className={classes.header}>
      <Group justify="space-between" wrap="nowrap">
        <h2 className={classes.title}>
          “{piece.name}” {finish ? <>wears {finish}</> : 'has coats of its own'}
        </h2>
        <Switch
          size="xs"
          label="Coats"
          labelPosition="left"
          checked={piece.coats_on ?? true}
          onChange={(event) => switchAll(event.currentTarget.checked)}
        />
      </Group>
      {also > 0 && (
        <Text size="xs" mt={4}>
          {also === 1 ? 'One more piece is chosen: ' : `${also} more pieces are chosen: `}
          coats of the same name and kind change with these, and pasting reaches all.
        </Text>
      )}
      <Wears piece={piece} />
      <div className={classes.tools}>
        <Starters piece={piece.id} />
        <Button size="compact-xs" variant="default" onClick={() => copyCoats(true)}>
          Copy the stack
        </Button>
        <Button size="compact-xs" variant="default" disabled={copied === 0} onClick={pasteCoats}>
          {copied === 0 ? 'Paste' : `Paste ${copied}`}
        </Button>
        <Button size="compact-xs" variant="default" onClick={clearStack}>
          Clear
        </Button>
        <Alternatives piece={piece} boxes={boxes} />
        <FollowAll report={report} />
      </div>
      {also > 0 && <Arrange />}
    </div>
  );
});
