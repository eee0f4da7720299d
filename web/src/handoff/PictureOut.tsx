import { Button, Group, NativeSelect, SegmentedControl, Text } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { editor, type Project } from '../core/client';
import { identity } from '../session/identity';
import { onlyScene, sceneOf } from '../session/store';
import { save } from './download';
import classes from './HandOff.module.css';

const sizes = ['1', '2', '3', '4'].map((value) => ({ value, label: `${value}×` }));

/** A scene, or one piece of it, as a PNG with transparency: whole, or its shadows alone. */
export function PictureOut({ project }: { project: Project }) {
  const [sceneId, setScene] = useState(project.scenes[0]?.id ?? '');
  const [piece, setPiece] = useState('');
  const [part, setPart] = useState('whole');
  const [scale, setScale] = useState('2');
  const scene = sceneOf(project, sceneId) ?? project.scenes[0];
  const asked = {
    scene: scene?.id ?? '',
    piece: piece || undefined,
    shadow_only: part === 'shadow',
    scale: Number(scale),
  };
  const picture = useQuery({
    queryKey: ['picture', identity(project), asked],
    queryFn: async () => {
      const response = await fetch('/api/preview', {
        method: 'POST',
        headers: { ...editor, 'Content-Type': 'application/json', Accept: 'image/png' },
        body: JSON.stringify({ project: onlyScene(project, asked.scene), ...asked }),
      });
      if (!response.ok) throw new Error((await response.json()).detail);
      return response.blob();
    },
    enabled: Boolean(scene),
    placeholderData: (last) => last,
    gcTime: 0,
  });
  const address = useAddress(picture.data);
  if (!scene) return null;
  const named = scene.pieces.find((other) => other.id === piece)?.name ?? scene.name;
  const file = `${named}${part === 'shadow' ? ' shadow' : ''}@${scale}x.png`;
  return (
    <>
      <Group gap={8} mt={8}>
        <NativeSelect
          size="xs"
          aria-label="Scene of the picture"
          value={scene.id}
          data={project.scenes.map((one) => ({ value: one.id, label: one.name }))}
          onChange={(event) => {
            setScene(event.currentTarget.value);
            setPiece('');
          }}
        />
        <NativeSelect
          size="xs"
          aria-label="What of the scene"
          value={piece}
          data={[
            { value: '', label: 'All pieces' },
            ...scene.pieces.map((one) => ({ value: one.id, label: one.name })),
          ]}
          onChange={(event) => setPiece(event.currentTarget.value)}
        />
        <SegmentedControl
          size="xs"
          aria-label="Part"
          value={part}
          data={[
            { value: 'whole', label: 'Whole' },
            { value: 'shadow', label: 'Shadow only' },
          ]}
          onChange={setPart}
        />
        <SegmentedControl size="xs" aria-label="Size" value={scale} data={sizes} onChange={setScale} />
        <Button
          size="compact-sm"
          disabled={!picture.data || picture.isFetching}
          onClick={() => picture.data && save(file, picture.data)}
        >
          Save the PNG
        </Button>
        <Text size="xs" c="dimmed">
          {scene.width * Number(scale)} × {scene.height * Number(scale)} pixels
        </Text>
      </Group>
      {picture.error && (
        <Text size="sm" c="red" role="alert" mt={8}>
          {picture.error.message}
        </Text>
      )}
      {address && <img src={address} alt={`${named}, ${part}`} className={classes.png} data-png />}
    </>
  );
}

/** An address of a blob for as long as it is shown. */
function useAddress(blob: Blob | undefined): string | null {
  const address = useMemo(() => (blob ? URL.createObjectURL(blob) : null), [blob]);
  useEffect(() => () => void (address && URL.revokeObjectURL(address)), [address]);
  return address;
}
