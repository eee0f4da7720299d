import { Button, Group, Text } from '@mantine/core';
import type { Piece, Schemas } from '../core/client';
import { addAlternative, chooseAlternative, triedOf } from '../session/alternatives';
import { useScene } from '../session/store';

const button = { size: 'compact-xs', variant: 'default' } as const;

/** A piece beside what is tried in its place, until one is chosen. */
export function Alternatives({ piece, boxes }: { piece: Piece; boxes: Schemas['PieceBox'][] }) {
  const scene = useScene();
  const size = boxes.find((box) => box.id === piece.id);
  if (!scene) return null;
  const tried = triedOf(scene, piece);
  const add = size && (
    <Button {...button} onClick={() => addAlternative(piece, size)}>
      Try an alternative
    </Button>
  );
  if (tried.length < 2) return add ?? null;
  return (
    <>
      {add}
      <Group gap={6} wrap="nowrap" justify="space-between" w="100%">
        <Text size="xs" c="dimmed">
          {piece.alternative_of ? 'Tried in place of the original.' : 'The original.'} {tried.length} are
          compared.
        </Text>
        <Button {...button} onClick={() => chooseAlternative(piece)}>
          Choose this one
        </Button>
      </Group>
    </>
  );
}
