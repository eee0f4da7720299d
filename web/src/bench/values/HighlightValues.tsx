import type { Coat, CoatOf } from '../../core/client';
import { ranges } from '../../core/constants';
import { words } from '../../messages';
import { FillField } from '../../parts/FillField';
import type { Change } from './change';
import { FollowSelect, type Numbers, Values } from './fields';
import { blur } from './numbers';

export function HighlightValues({ coat, change }: { coat: CoatOf<'highlight'>; change: Change<Coat> }) {
  const { spot } = coat;
  const move = (to: Partial<typeof spot>) => change({ spot: { ...spot, ...to } });
  const size: Numbers[] = [];
  const { shape } = spot;
  if (shape.kind === 'ellipse' || shape.kind === 'box') {
    size.push(
      {
        label: words.common.width,
        unit: 'px',
        value: shape.w,
        range: ranges.Size,
        slider: [0, 400],
        set: (w) => move({ shape: { ...shape, w } }),
      },
      {
        label: words.common.height,
        unit: 'px',
        value: shape.h,
        range: ranges.Size,
        slider: [0, 400],
        set: (h) => move({ shape: { ...shape, h } }),
      },
    );
  }
  return (
    <>
      <Values
        of={[
          {
            label: words.common.left,
            unit: 'px',
            value: spot.x,
            range: ranges.Px,
            slider: [-100, 400],
            set: (x) => move({ x }),
          },
          {
            label: words.common.top,
            unit: 'px',
            value: spot.y,
            range: ranges.Px,
            slider: [-100, 400],
            set: (y) => move({ y }),
          },
          ...size,
          blur(words.common.blur, coat.blur, (value) => change({ blur: value })),
        ]}
      />
      <FollowSelect value={coat.follows ?? null} onChange={(follows) => change({ follows }, false)} />
      <FillField
        label={words.common.light}
        value={coat.fill}
        onChange={(fill, gesture) => change({ fill }, gesture)}
      />
    </>
  );
}
