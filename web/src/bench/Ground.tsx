import { TextInput } from '@mantine/core';
import type { Scene } from '../core/client';
import { ranges } from '../core/constants';
import { words } from '../messages';
import { FillField } from '../parts/FillField';
import { Panel } from '../parts/Panel';
import { Quiet } from '../parts/Quiet';
import { useName } from '../parts/useName';
import { editScene } from '../session/scenes';
import { commit } from '../session/store';
import classes from './SceneLine.module.css';
import { Values } from './values/fields';

/** What the scene is called, how large it is, and what its pieces lie on. */
export function Ground({ scene }: { scene: Omit<Scene, 'pieces'> }) {
  const naming = useName(
    scene.name,
    (name) =>
      editScene((mine) => {
        mine.name = name;
      }, true),
    commit,
  );
  return (
    <Panel
      position="bottom-start"
      width={340}
      className={classes.panel}
      target={(toggle) => (
        <Quiet opens onClick={toggle}>
          {words.bench.ground}
        </Quiet>
      )}
    >
      <TextInput size="xs" label={words.bench.nameOfTheScene} {...naming} />
      <Values
        of={(['width', 'height'] as const).map((side) => ({
          label: side === 'width' ? words.common.width : words.common.height,
          name: words.bench.scene(side),
          unit: 'px',
          value: scene[side],
          range: [1, ranges.Size[1]],
          slider: [100, 1920],
          set: (length) =>
            editScene((mine) => {
              mine[side] = length;
            }, true),
        }))}
      />
      <FillField
        label={words.bench.ground}
        value={scene.ground}
        own={false}
        onChange={(ground, gesture) =>
          editScene((mine) => {
            mine.ground = ground;
          }, gesture)
        }
      />
    </Panel>
  );
}
