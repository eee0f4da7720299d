import { Menu } from '@mantine/core';
import { memo, useMemo, useState } from 'react';
import type { Scene } from '../core/client';
import { words } from '../messages';
import { Name } from '../parts/Name';
import { Quiet } from '../parts/Quiet';
import { chooseScene } from '../session/choice';
import { plainScenes } from '../session/pageScenes';
import { addScene, duplicateScene, removeScene } from '../session/scenes';
import { calmIn, useDocument } from '../session/store';
import classes from './SceneLine.module.css';
import { Themes } from './Themes';

/** The scenes of the project. */
export function SceneMenu() {
  const open = useDocument((state) => state.scene);
  const document = useDocument(calmIn);
  const scenes = useMemo(() => document && plainScenes(document), [document]);
  return scenes && <Scenes scenes={scenes} open={open} />;
}

const Scenes = memo(function Scenes({ scenes, open }: { scenes: Scene[]; open: string | null }) {
  const scene = scenes.find((other) => other.id === open);
  const [themes, setThemes] = useState(false);
  return (
    <>
      <Themes opened={themes} onClose={() => setThemes(false)} />
      <Menu position="bottom-start">
        <Menu.Target>
          <Quiet opens className={classes.scene} title={scene?.name}>
            <Name of={scene?.name ?? words.bench.noScene} className={classes.sceneName} />
          </Quiet>
        </Menu.Target>
        <Menu.Dropdown>
          {scenes.map((other) => (
            <Menu.Item
              key={other.id}
              fw={other === scene ? 600 : undefined}
              onClick={() => chooseScene(other.id)}
            >
              <Name of={other.name} />
            </Menu.Item>
          ))}
          <Menu.Divider />
          <Menu.Item onClick={addScene}>{words.bench.newScene}</Menu.Item>
          {scene && <Menu.Item onClick={duplicateScene}>{words.bench.duplicateThisScene}</Menu.Item>}
          {scenes.length > 1 && <Menu.Item onClick={removeScene}>{words.bench.removeThisScene}</Menu.Item>}
          <Menu.Divider />
          <Menu.Item onClick={() => setThemes(true)}>{words.bench.themesMenu}</Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </>
  );
});
