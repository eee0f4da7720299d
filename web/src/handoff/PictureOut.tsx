import { Button, Group, NativeSelect, SegmentedControl, Text } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useAnswered } from '../core/answers';
import { ApiFailure, editor, fetchInTime, LONG_PATIENCE, type Problem, type Project } from '../core/client';
import { words } from '../messages';
import { save } from '../page/download';
import { useAddress } from '../parts/useAddress';
import { onlyScene, pieceOf, sceneOf } from '../session/lookup';
import classes from './HandOff.module.css';

const sizes = ['1', '2', '3', '4'].map((value) => ({ value, label: `${value}×` }));

/** A scene, or one piece of it, as a PNG with transparency: whole, or its shadows alone. */
export function PictureOut({ project }: { project: Project }) {
  const [sceneId, setScene] = useState(project.scenes[0]?.id ?? '');
  const [piece, setPiece] = useState('');
  const [part, setPart] = useState('whole');
  const [scale, setScale] = useState('2');
  const scene = sceneOf(project, sceneId) ?? project.scenes[0];
  const id = scene?.id;
  const asked = useMemo(
    () =>
      id
        ? {
            project: onlyScene(project, id),
            scene: id,
            piece: piece || undefined,
            shadow_only: part === 'shadow',
            scale: Number(scale),
          }
        : null,
    [project, id, piece, part, scale],
  );
  const picture = useAnswered(asked, png, { pause: 0, cancels: true });
  const address = useAddress(picture.answer);
  if (!scene) return null;
  const named = pieceOf(scene, piece)?.name ?? scene.name;
  const file = `${named}${part === 'shadow' ? ' shadow' : ''}@${scale}x.png`;
  return (
    <>
      <Group gap={8} mt={8}>
        <NativeSelect
          size="xs"
          aria-label={words.handOff.sceneOfThePicture}
          value={scene.id}
          data={project.scenes.map((one) => ({ value: one.id, label: one.name }))}
          onChange={(event) => {
            setScene(event.currentTarget.value);
            setPiece('');
          }}
        />
        <NativeSelect
          size="xs"
          aria-label={words.handOff.partOfTheScene}
          value={piece}
          data={[
            { value: '', label: words.handOff.allPieces },
            ...scene.pieces.map((one) => ({ value: one.id, label: one.name })),
          ]}
          onChange={(event) => setPiece(event.currentTarget.value)}
        />
        <SegmentedControl
          size="xs"
          aria-label={words.handOff.part}
          value={part}
          data={[
            { value: 'whole', label: words.handOff.whole },
            { value: 'shadow', label: words.handOff.shadowOnly },
          ]}
          onChange={setPart}
        />
        <SegmentedControl
          size="xs"
          aria-label={words.common.size}
          value={scale}
          data={sizes}
          onChange={setScale}
        />
        <Button
          size="compact-sm"
          disabled={!picture.fresh}
          onClick={() => picture.answer && save(file, picture.answer)}
        >
          {words.handOff.saveThePng}
        </Button>
        <Text size="xs" c="dimmed">
          {words.handOff.pixels(scene.width * Number(scale), scene.height * Number(scale))}
        </Text>
      </Group>
      {picture.failure && (
        <Text size="sm" c="red" role="alert" mt={8}>
          {picture.failure}
        </Text>
      )}
      {address && <img src={address} alt={`${named}, ${part}`} className={classes.png} data-png />}
    </>
  );
}

async function png(question: object, signal: AbortSignal): Promise<Blob> {
  const headers = { ...editor, 'Content-Type': 'application/json', Accept: 'image/png' };
  const asked = { method: 'POST', headers, body: JSON.stringify(question), signal };
  const response = await fetchInTime('/api/preview', asked, LONG_PATIENCE);
  if (!response.ok) throw new ApiFailure(response.status, (await response.json()) as Problem);
  return response.blob();
}
