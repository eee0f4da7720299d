import type { Coat, CoatOf, Schemas } from '../../core/client';
import { percents, ranges } from '../../core/constants';
import { words } from '../../messages';
import { changeCoat } from '../../session/coats';
import { along } from './axes';
import { type HandleProps, handleOf, within } from './handle';
import { Knob } from './Knob';
import type { Tagged } from './Tag';
import { Tags } from './Tags';

/** The far end of a cast shadow: sideways shears it, up and down squashes it. */
export function CastKnob({
  coat,
  outline,
  piece,
  size,
  others,
  scene,
  scale,
}: HandleProps & { coat: CoatOf<'cast'>; outline: Schemas['CoatOutline'] }) {
  const handle = handleOf(outline, 'far_end');
  if (!handle) return null;
  const { at, from } = handle;
  const fine = (value: number, event: { altKey: boolean }) => {
    const step = event.altKey ? 1000 : 100;
    return within(Math.round(value * step) / step, ...ranges.Relative);
  };
  const hold = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    const [shear, squash] = along(handle.axes, at.x + dx - from.x, at.y + dy - from.y);
    const to = { follows: null, shear: fine(shear, event), squash: fine(squash, event) };
    changeCoat(coat, to as Partial<Coat>);
  };
  const tag = (label: 'shear' | 'squash'): Tagged => ({
    label: words.stage[label],
    name: words.stage.ofOnTheStage(words.stage[label], coat.name),
    value: coat[label] * 100,
    range: percents(ranges.Relative),
    onChange: (percent) => changeCoat(coat, { [label]: percent / 100 } as Partial<Coat>),
  });
  return (
    <>
      <Knob name={words.stage.farEndOf(coat.name)} {...at} scale={scale} onHold={hold} />
      <Tags
        of={[tag('shear'), tag('squash')]}
        about={{ ...piece, ...size }}
        others={others}
        scene={scene}
        scale={scale}
      />
    </>
  );
}
