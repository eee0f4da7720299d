import { Group, Menu, NativeSelect, Switch } from '@mantine/core';
import { memo } from 'react';
import type { Piece, Schemas } from '../../core/client';
import { percents, ranges } from '../../core/constants';
import { words } from '../../messages';
import { FillField } from '../../parts/FillField';
import { options } from '../../parts/options';
import { Quiet } from '../../parts/Quiet';
import { useName } from '../../parts/useName';
import { chosenPiece } from '../../session/choice';
import { sceneOf } from '../../session/lookup';
import { copyToScene, duplicatePiece, editPiece, removePieces, shiftPiece } from '../../session/pieces';
import { calmIn, commit, useDocument } from '../../session/store';
import { listOf } from '../../session/tree';
import { useView } from '../../session/view';
import { type Numbers, Row, Values } from './fields';
import { TextValues } from './TextValues';
import classes from './values.module.css';

type Shape = Schemas['Shape'];

/** The piece itself: its name, place, geometry, fill, and what can be done with it. */
export function PieceValues({ piece }: { piece: Piece }) {
  const change = (to: (piece: Piece) => void, gesture = true) => editPiece(piece.id, to, gesture);
  const reshape = (to: Partial<Shape>, gesture = true) =>
    change((mine) => {
      mine.shape = { ...mine.shape, ...to } as Shape;
    }, gesture);
  const naming = useName(
    piece.name,
    (name) =>
      change((mine) => {
        mine.name = name;
      }),
    commit,
  );
  return (
    <div className={classes.values}>
      <Row label={words.values.name}>
        <input className={classes.text} aria-label={words.values.nameOfThePiece} {...naming} />
      </Row>
      <ShapeValues shape={piece.shape} reshape={reshape} />
      <Values
        of={[
          place(words.common.left, piece.x, (x) =>
            change((mine) => {
              mine.x = x;
            }),
          ),
          place(words.common.top, piece.y, (y) =>
            change((mine) => {
              mine.y = y;
            }),
          ),
          {
            label: words.values.rotation,
            unit: '°',
            value: piece.rotation ?? 0,
            range: ranges.Degrees,
            slider: [-180, 180],
            set: (rotation) =>
              change((mine) => {
                mine.rotation = rotation;
              }),
          },
          {
            label: words.common.opacity,
            name: words.values.opacityOfThePiece,
            unit: '%',
            value: (piece.opacity ?? 1) * 100,
            range: percents(ranges.Opacity),
            set: (percent) =>
              change((mine) => {
                mine.opacity = percent / 100;
              }),
          },
        ]}
      />
      {hasFill(piece) && (
        <FillField
          label={words.values.fill}
          own={false}
          value={piece.fill ?? { kind: 'none' }}
          onChange={(fill, gesture) =>
            change((mine) => {
              mine.fill = fill;
            }, gesture)
          }
        />
      )}
      {piece.shape.kind === 'group' && <ResizingChoice />}
      <ClipTo piece={piece.id} value={piece.clip_to ?? ''} />
      <Visible piece={piece.id} hidden={piece.hidden ?? false} />
      <Deeds piece={piece.id} />
    </div>
  );
}

const Visible = memo(function Visible({ piece, hidden }: { piece: string; hidden: boolean }) {
  return (
    <Row label={words.values.visible}>
      <Switch
        size="xs"
        aria-label={words.values.visibleOnTheStage}
        checked={!hidden}
        onChange={(event) => {
          const hidden = !event.currentTarget.checked;
          editPiece(piece, (mine) => {
            mine.hidden = hidden;
          });
        }}
      />
    </Row>
  );
});

/** What can be done with a piece as a whole. */
const Deeds = memo(function Deeds({ piece }: { piece: string }) {
  const duplicate = () => {
    const now = chosenPiece(useDocument.getState());
    if (now) duplicatePiece(now);
  };
  return (
    <Group gap={2} ml={-6} mt={4}>
      <Quiet fz={12} px={6} onClick={() => shiftPiece(piece, 1)}>
        {words.values.moveForward}
      </Quiet>
      <Quiet fz={12} px={6} onClick={() => shiftPiece(piece, -1)}>
        {words.values.moveBack}
      </Quiet>
      <Quiet fz={12} px={6} onClick={duplicate}>
        {words.values.duplicatePiece}
      </Quiet>
      <CopyToScene />
      <Quiet fz={12} px={6} onClick={() => removePieces([piece])}>
        {words.values.removePiece}
      </Quiet>
    </Group>
  );
});

function place(label: string, value: number, set: (value: number) => void): Numbers {
  return { label, unit: 'px', value, range: ranges.Px, slider: [0, 1000], set };
}

function side(label: string, value: number, set: (value: number) => void): Numbers {
  return { label, unit: 'px', value, range: ranges.Size, slider: [0, 600], set };
}

function ShapeValues({
  shape,
  reshape,
}: {
  shape: Shape;
  reshape: (to: Partial<Shape>, gesture?: boolean) => void;
}) {
  switch (shape.kind) {
    case 'text':
      return <TextValues shape={shape} reshape={reshape} />;
    case 'group':
      return null;
    case 'join':
      return (
        <>
          <Row label={words.values.join}>
            <NativeSelect
              size="xs"
              aria-label={words.values.wayOfJoining}
              value={shape.op}
              data={options(words.values.joinOps)}
              onChange={(event) => reshape({ op: event.currentTarget.value as Schemas['JoinOp'] }, false)}
            />
          </Row>
          <Values of={[rounding(shape.rounding ?? 0, reshape)]} />
        </>
      );
    default: {
      const fields = [
        side(words.common.width, shape.w, (w) => reshape({ w })),
        side(words.common.height, shape.h, (h) => reshape({ h })),
      ];
      if (shape.kind === 'box' && !Array.isArray(shape.radii)) {
        const radius = { label: words.values.corners, unit: 'px', value: shape.radii ?? 0 };
        fields.push({
          ...radius,
          range: ranges.Length,
          slider: [0, 100],
          set: (radii) => reshape({ radii }),
        });
      }
      if (shape.kind === 'path') fields.push(rounding(shape.rounding ?? 0, reshape));
      return <Values of={fields} />;
    }
  }
}

function rounding(value: number, reshape: (to: Partial<Shape>) => void): Numbers {
  return {
    label: words.values.rounding,
    unit: 'px',
    value,
    range: ranges.Length,
    slider: [0, 60],
    set: (rounding) => reshape({ rounding }),
  };
}

/** The other scenes, onto each of which the chosen piece can be copied. */
function CopyToScene() {
  const scenes = useDocument((state) => calmIn(state)?.scenes);
  const open = useDocument((state) => state.scene);
  const others = (scenes ?? []).filter((scene) => scene.id !== open);
  if (others.length === 0) return null;
  const copy = (to: string) => {
    const piece = chosenPiece(useDocument.getState());
    if (piece) copyToScene(piece, to);
  };
  return (
    <Menu position="top-start" width={220}>
      <Menu.Target>
        <Quiet fz={12} px={6} opens>
          {words.values.copyToScene}
        </Quiet>
      </Menu.Target>
      <Menu.Dropdown>
        {others.map((scene) => (
          <Menu.Item key={scene.id} onClick={() => copy(scene.id)}>
            {scene.name}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

/** What a drag at the edges of a group does with its parts. */
function ResizingChoice() {
  const resizing = useView((state) => state.resizing);
  return (
    <Row label={words.values.resizing}>
      <NativeSelect
        size="xs"
        aria-label={words.values.resizingParts}
        value={resizing}
        data={options(words.values.resizings)}
        onChange={(event) => useView.setState({ resizing: event.currentTarget.value as typeof resizing })}
      />
    </Row>
  );
}

const ClipTo = memo(function ClipTo({ piece, value }: { piece: string; value: string }) {
  const others = useDocument((state) => listOf(sceneOf(calmIn(state), state.scene), piece));
  return (
    <Row label={words.values.clip}>
      <NativeSelect
        size="xs"
        aria-label={words.values.clippedTo}
        value={value}
        data={[
          { value: '', label: words.values.noClip },
          ...others
            .filter((other) => other.id !== piece)
            .map((other) => ({ value: other.id, label: other.name })),
        ]}
        onChange={(event) => {
          const clip = event.currentTarget.value || null;
          editPiece(piece, (mine) => {
            mine.clip_to = clip;
          });
        }}
      />
    </Row>
  );
});

/** Whether a piece is filled by choice: pictures, drawings and groups are filled by what they show. */
function hasFill({ shape }: Piece): boolean {
  return !['picture', 'drawing', 'group'].includes(shape.kind);
}
