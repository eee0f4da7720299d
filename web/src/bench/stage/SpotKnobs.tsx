import type { Coat, CoatOf, Schemas } from '../../core/client';
import { ranges } from '../../core/constants';
import { words } from '../../messages';
import { rounded } from '../../parts/drag';
import { changeCoat } from '../../session/coats';
import { along } from './axes';
import { type HandleProps, handleOf, within } from './handle';
import { Knob } from './Knob';
import { Tags } from './Tags';

/** The patch of a highlight: moved by its middle, sized by its corner. */
export function SpotKnobs({
  coat,
  outline,
  piece,
  size,
  others,
  scene,
  scale,
}: HandleProps & { coat: CoatOf<'highlight'>; outline: Schemas['CoatOutline'] }) {
  const [place, corner, edge] = [
    handleOf(outline, 'place'),
    handleOf(outline, 'size'),
    handleOf(outline, 'blur'),
  ];
  if (!place || !corner || !edge) return null;
  const { spot } = coat;
  const { shape } = spot;
  const box = shape.kind === 'box' || shape.kind === 'ellipse' ? shape : null;
  const move = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    const [x, y] = along(place.axes, dx, dy);
    const to = { x: rounded(spot.x + x, event), y: rounded(spot.y + y, event) };
    changeCoat(coat, { spot: { ...spot, ...to } } as Partial<Coat>);
  };
  const resize = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    if (!box) return;
    const [x, y] = along(corner.axes, dx, dy);
    const side = (length: number) => within(rounded(length, event), 1, ranges.Size[1]);
    const to = { w: side(box.w + 2 * x), h: side(box.h + 2 * y) };
    const at = { x: spot.x + (box.w - to.w) / 2, y: spot.y + (box.h - to.h) / 2 };
    changeCoat(coat, { spot: { ...spot, ...at, shape: { ...box, ...to } } } as Partial<Coat>);
  };
  const soften = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    const blur = within(rounded(coat.blur + along(edge.axes, dx, dy)[0], event), ...ranges.BlurRadius);
    changeCoat(coat, { blur } as Partial<Coat>);
  };
  return (
    <>
      <Knob name={words.stage.placeOf(coat.name)} {...place.at} scale={scale} onHold={move} />
      {box && (
        <Knob
          name={words.stage.sizeOf(coat.name)}
          {...corner.at}
          scale={scale}
          shape="square"
          cursor="nwse-resize"
          onHold={resize}
        />
      )}
      <Knob
        name={words.stage.softnessOf(coat.name)}
        {...edge.at}
        scale={scale}
        shape="ring"
        cursor="ew-resize"
        onHold={soften}
      />
      <Tags
        of={[
          {
            label: words.stage.blurLower,
            name: words.stage.blurOfOnTheStage(coat.name),
            value: coat.blur,
            range: ranges.BlurRadius,
            onChange: (blur) => changeCoat(coat, { blur } as Partial<Coat>),
          },
        ]}
        about={{ ...piece, ...size }}
        others={others}
        scene={scene}
        scale={scale}
      />
    </>
  );
}
