import { Button, Group, NativeSelect, SegmentedControl, Text } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useAnswered } from '../core/answers';
import type { Project, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import { save } from '../page/download';
import { Code } from '../parts/Code';
import { CopyButton } from '../parts/CopyButton';
import { withParts } from '../session/tree';
import classes from './HandOff.module.css';

const said = words.handOff;

/** A drawing's own file, with the depth that a scene gives it. */
export function OwnFileOut({ project }: { project: Project }) {
  const drawings = drawingsOf(project);
  const [chosen, setChosen] = useState(0);
  const [edge, setEdge] = useState<Schemas['Edge']>('grow');
  const drawing = drawings[Math.min(chosen, drawings.length - 1)];
  const { scene, asset } = drawing ?? {};
  const asked = useMemo(
    () => (scene && asset ? { project, scene, asset, edge } : null),
    [project, scene, asset, edge],
  );
  const file = useAnswered(
    asked,
    (body: NonNullable<typeof asked>, signal) => askCore('/api/artwork/depth', body, signal),
    { pause: 0, cancels: true },
  );
  if (!drawing) return null;
  const svg = file.answer?.svg ?? '';
  const notes = file.answer?.notes ?? [];
  return (
    <>
      <Group gap={8} mt={8}>
        <NativeSelect
          size="xs"
          aria-label={said.ownFileOf}
          value={String(Math.min(chosen, drawings.length - 1))}
          data={drawings.map(({ label }, at) => ({ value: String(at), label }))}
          onChange={(event) => setChosen(Number(event.currentTarget.value))}
        />
        <Text size="xs">{said.edge}</Text>
        <SegmentedControl
          size="xs"
          aria-label={said.edge}
          value={edge}
          data={[
            { value: 'grow', label: said.edges.grow },
            { value: 'shrink', label: said.edges.shrink },
            { value: 'cut', label: said.edges.cut },
          ]}
          onChange={(value) => setEdge(value as Schemas['Edge'])}
        />
      </Group>
      <Group gap={8} mt={8}>
        <CopyButton text={svg} what={said.all} fresh={file.fresh} />
        <Button
          size="compact-sm"
          variant="default"
          disabled={!file.fresh}
          onClick={() => save(`${drawing.name}.svg`, new Blob([svg], { type: 'image/svg+xml' }))}
        >
          {said.saveAsAFile}
        </Button>
        <Text size="xs" c="dimmed">
          {said.ownFileStays}
        </Text>
      </Group>
      {file.failure && (
        <Text size="sm" c="red" role="alert" mt={8}>
          {file.failure}
        </Text>
      )}
      {notes.length > 0 && (
        <Text size="sm" mt={8} component="div">
          {said.svgDiffers}
          <ul className={classes.notes}>
            {notes.map(({ message }) => (
              <li key={message}>{message}</li>
            ))}
          </ul>
        </Text>
      )}
      <Code className={classes.code} text={svg} language="xml" />
    </>
  );
}

interface Drawing {
  asset: string;
  scene: string;
  name: string;
  label: string;
}

/** The drawings on the scenes of a project, each as often as there are scenes with it. */
export function drawingsOf({ scenes, assets = [] }: Project): Drawing[] {
  return scenes.flatMap((scene) => {
    const pieces = withParts(scene.pieces);
    const shown = pieces.flatMap(({ shape, drawn_from: from }) =>
      shape.kind === 'drawing' ? [shape.asset] : from ? [from.asset] : [],
    );
    return [...new Set(shown)].flatMap((asset) => {
      const name = assets.find(({ id }) => id === asset)?.name;
      return name ? [{ asset, scene: scene.id, name, label: `${name} (${scene.name})` }] : [];
    });
  });
}
