import type { CoatOf, Schemas } from '../../core/client';
import { ranges } from '../../core/constants';
import { words } from '../../messages';
import { changeCoat } from '../../session/coats';
import { along } from './axes';
import { type HandleProps, handleOf, within } from './handle';
import { Knob } from './Knob';
import { Tags } from './Tags';

/** A height, where the light's own shadow of the piece lies: farther away is higher. */
export function HeightKnob({
  coat,
  outline,
  piece,
  size,
  others,
  scene,
  scale,
}: HandleProps & { coat: CoatOf<'raised'>; outline: Schemas['CoatOutline'] }) {
  const handle = handleOf(outline, 'height');
  if (!handle) return null;
  const { height } = coat;
  const hold = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    const [by] = along(handle.axes, dx, dy);
    const step = event.altKey ? 10 : 1;
    changeCoat(coat, { height: within(Math.round((height + by) * step) / step, ...ranges.HeightPx) });
  };
  return (
    <>
      <Knob name={words.stage.heightOf(coat.name)} {...handle.at} scale={scale} onHold={hold} />
      <Tags
        of={[
          {
            label: words.stage.height,
            name: words.stage.ofOnTheStage(words.stage.height, coat.name),
            value: height,
            range: ranges.HeightPx,
            onChange: (to) => changeCoat(coat, { height: to }),
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
