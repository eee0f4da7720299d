import { Button, Menu, TextInput } from '@mantine/core';
import { IconChevronDown } from '@tabler/icons-react';
import { limits, ranges } from '../core/constants';
import { FillField } from '../parts/FillField';
import { Panel } from '../parts/Panel';
import { addScene, duplicateScene, editScene, removeScene } from '../session/scenes';
import { chooseScene, commit, useDocument, useScene } from '../session/store';
import classes from './Header.module.css';
import { Values } from './values/fields';

const button = { variant: 'subtle', color: 'gray', size: 'compact-sm', c: 'inherit' } as const;

/** The scenes, and the open one's name, size and ground. */
export function SceneMenu() {
  const scenes = useDocument((state) => state.document?.scenes);
  const scene = useScene();
  if (!scenes) return null;
  return (
    <>
      <Menu position="bottom-start">
        <Menu.Target>
          <Button {...button} rightSection={<IconChevronDown size={14} />}>
            {scene?.name ?? 'No scene'}
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {scenes.map((other) => (
            <Menu.Item key={other.id} onClick={() => chooseScene(other.id)}>
              {other.name}
            </Menu.Item>
          ))}
          <Menu.Divider />
          <Menu.Item onClick={addScene}>New scene</Menu.Item>
          {scene && <Menu.Item onClick={duplicateScene}>Duplicate this scene</Menu.Item>}
          {scenes.length > 1 && <Menu.Item onClick={removeScene}>Remove this scene</Menu.Item>}
        </Menu.Dropdown>
      </Menu>
      {scene && (
        <Panel
          position="bottom-start"
          width={340}
          className={classes.panel}
          target={(toggle) => (
            <Button {...button} px={6} onClick={toggle}>
              Ground
            </Button>
          )}
        >
          <TextInput
            size="xs"
            label="Name of the scene"
            maxLength={limits.nameCharacters}
            value={scene.name}
            onChange={(event) => {
              const name = event.currentTarget.value;
              editScene((mine) => {
                mine.name = name;
              }, true);
            }}
            onBlur={commit}
          />
          <Values
            of={(['width', 'height'] as const).map((side) => ({
              label: side === 'width' ? 'Width' : 'Height',
              name: `Scene ${side}`,
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
            label="Ground"
            value={scene.ground}
            own={false}
            onChange={(ground, gesture) =>
              editScene((mine) => {
                mine.ground = ground;
              }, gesture)
            }
          />
        </Panel>
      )}
    </>
  );
}
