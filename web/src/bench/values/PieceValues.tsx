import { Group, Menu, NativeSelect, Switch } from '@mantine/core';
import type { Piece, Schemas } from '../../core/client';
import { percents, ranges } from '../../core/constants';
import { words } from '../../messages';
import { FillField } from '../../parts/FillField';
import { options } from '../../parts/options';
import { Quiet } from '../../parts/Quiet';
import { useName } from '../../parts/useName';
import { sceneOf } from '../../session/lookup';
import { copyToScene, duplicatePiece, editPiece, removePieces, shiftPiece } from '../../session/pieces';
import { commit, useDocument } from '../../session/store';
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
      <ClipTo piece={piece} />
      <Row label={words.values.visible}>
        <Switch
          size="xs"
          aria-label={words.values.visibleOnTheStage}
          checked={!piece.hidden}
          onChange={(event) => {
            const hidden = !event.currentTarget.checked;
            change((mine) => {
              mine.hidden = hidden;
            }, false);
          }}
        />
      </Row>
      <Group gap={2} ml={-6} mt={4}>
        <Quiet fz={12} px={6} onClick={() => shiftPiece(piece.id, 1)}>
          {words.values.moveForward}
        </Quiet>
        <Quiet fz={12} px={6} onClick={() => shiftPiece(piece.id, -1)}>
          {words.values.moveBack}
        </Quiet>
        <Quiet fz={12} px={6} onClick={() => duplicatePiece(piece)}>
          {words.values.duplicatePiece}
        </Quiet>
        <CopyToScene piece={piece} />
        <Quiet fz={12} px={6} onClick={() => removePieces([piece.id])}>
          {words.values.removePiece}
        </Quiet>
      </Group>
    </div>
  );
}

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

/** The other scenes, onto each of which the piece can be copied. */
function CopyToScene({ piece }: { piece: Piece }) {
  const scenes = useDocument((state) => state.document?.scenes);
  const open = useDocument((state) => state.scene);
  const others = (scenes ?? []).filter((scene) => scene.id !== open);
  if (others.length === 0) return null;
  return (
    <Menu position="top-start" width={220}>
      <Menu.Target>
        <Quiet fz={12} px={6} opens>
          {words.values.copyToScene}
        </Quiet>
      </Menu.Target>
      <Menu.Dropdown>
        {others.map((scene) => (
          <Menu.Item key={scene.id} onClick={() => copyToScene(piece, scene.id)}>
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

function ClipTo({ piece }: { piece: Piece }) {
  const others = useDocument((state) => listOf(sceneOf(state.document, state.scene), piece.id));
  return (
    <Row label={words.values.clip}>
      <NativeSelect
        size="xs"
        aria-label={words.values.clippedTo}
        value={piece.clip_to ?? ''}
        data={[
          { value: '', label: words.values.noClip },
          ...others
            .filter((other) => other.id !== piece.id)
            .map((other) => ({ value: other.id, label: other.name })),
        ]}
        onChange={(event) => {
          const clip = event.currentTarget.value || null;
          editPiece(piece.id, (mine) => {
            mine.clip_to = clip;
          });
        }}
      />
    </Row>
  );
}

/** Whether a piece is filled by choice: pictures, drawings and groups are filled by what they show. */
function hasFill({ shape }: Piece): boolean {
  return !['picture', 'drawing', 'group'].includes(shape.kind);
}
