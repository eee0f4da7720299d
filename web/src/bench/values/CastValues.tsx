import type { Coat, CoatOf } from '../../core/client';
import { percents, ranges } from '../../core/constants';
import { words } from '../../messages';
import { ColourField } from '../../parts/ColourField';
import type { Change } from './change';
import { FollowSelect, type Numbers, Row, Values } from './fields';
import { blur } from './numbers';

export function CastValues({ coat, change }: { coat: CoatOf<'cast'>; change: Change<Coat> }) {
  const share = (
    label: string,
    value: number,
    slider: [number, number],
    set: (value: number) => void,
  ): Numbers => ({
    label,
    unit: '%',
    value: value * 100,
    range: percents(ranges.Relative),
    slider,
    set: (percent) => set(percent / 100),
  });
  return (
    <>
      <Values
        of={[
          share(words.values.shear, coat.shear, [-200, 200], (shear) => change({ shear })),
          share(words.values.squash, coat.squash, [-150, 150], (squash) => change({ squash })),
          share(words.values.anchor, coat.anchor, [0, 120], (anchor) => change({ anchor })),
          blur(words.values.blurNear, coat.blur_near, (blur_near) => change({ blur_near })),
          blur(words.values.blurFar, coat.blur_far, (blur_far) => change({ blur_far })),
          {
            label: words.common.fade,
            unit: '%',
            value: coat.fade * 100,
            range: percents(ranges.Fraction),
            set: (percent) => change({ fade: percent / 100 }),
          },
        ]}
      />
      <FollowSelect value={coat.follows ?? null} onChange={(follows) => change({ follows }, false)} />
      <Row label={words.values.colour}>
        <ColourField
          label={words.values.colour}
          value={coat.colour}
          own
          onChange={(colour, gesture) => change({ colour }, gesture)}
        />
      </Row>
    </>
  );
}
