import { Button } from '@mantine/core';
import type { Coat, CoatOf } from '../../core/client';
import { ranges } from '../../core/constants';
import { words } from '../../messages';
import { ColourField } from '../../parts/ColourField';
import { sceneOf } from '../../session/lookup';
import { bearingIn } from '../../session/shared';
import { useDocument } from '../../session/store';
import type { Change } from './change';
import { FollowSelect, Row, Values } from './fields';
import { split } from './split';
import classes from './values.module.css';

/** The shadows of a height: one number drives them all. */
export function RaisedValues({ coat, change }: { coat: CoatOf<'raised'>; change: Change<Coat> }) {
  const lights = useDocument((state) => state.document?.lights);
  const theme = useDocument((state) => sceneOf(state.document, state.scene)?.theme ?? '');
  const followed = lights?.find((light) => light.id === coat.follows);
  const follow = (follows: string | null) => {
    const bearing = followed ? bearingIn(followed, theme) : coat.bearing;
    change(follows ? { follows } : { follows, bearing }, false);
  };
  return (
    <>
      <Values
        of={[
          {
            label: words.values.height,
            unit: 'px',
            value: coat.height,
            range: ranges.HeightPx,
            slider: [ranges.HeightPx[0], 64],
            set: (height) => change({ height }),
          },
        ]}
      />
      <FollowSelect value={coat.follows ?? null} onChange={follow} />
      {!coat.follows && (
        <Values
          of={[
            {
              label: words.stage.bearing,
              unit: '°',
              value: coat.bearing,
              range: ranges.Degrees,
              slider: [0, 360],
              set: (bearing) => change({ bearing }),
            },
          ]}
        />
      )}
      <Row label={words.values.colour}>
        <ColourField
          label={words.values.colour}
          value={coat.colour}
          own
          onChange={(colour, gesture) => change({ colour }, gesture)}
        />
      </Row>
      <p className={classes.said}>{words.values.castByLight(coat.rig, followed?.name)}</p>
      <Button size="compact-xs" variant="default" onClick={() => void split(coat)}>
        {words.values.splitIntoCoats(coat.shadows.length)}
      </Button>
    </>
  );
}
