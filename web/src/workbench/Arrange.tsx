import { Button, Group, NativeSelect } from '@mantine/core';
import { useState } from 'react';
import type { Schemas } from '../api/client';
import { align, distribute, join, type Line, type Sizes, takeApart } from '../document/arrange';
import { pieceOf, useChosenPieces, useScene } from '../document/store';
import classes from './Stack.module.css';

const lines: { line: Line; says: string }[] = [
  { line: 'left', says: 'Left' },
  { line: 'centre', says: 'Centre' },
  { line: 'right', says: 'Right' },
  { line: 'top', says: 'Top' },
  { line: 'middle', says: 'Middle' },
  { line: 'bottom', says: 'Bottom' },
];

const button = { size: 'compact-xs', variant: 'default' } as const;

/** Where the chosen pieces lie to one another, or one to its scene; joining them and taking a join apart. */
export function Arrange({ boxes }: { boxes: Schemas['PieceThumbnail'][] }) {
  const scene = useScene();
  const chosen = useChosenPieces();
  const [op, setOp] = useState<Schemas['JoinOp']>('add');
  const sizes: Sizes = new Map(boxes.map(({ id, w, h }) => [id, { w, h }]));
  const piece = pieceOf(scene, chosen[0] ?? null);
  const several = chosen.length > 1;
  return (
    <fieldset className={classes.arrange}>
      <legend>{several ? 'Line them up with one another' : 'Line it up with the scene'}</legend>
      <Group gap={4}>
        {lines.map(({ line, says }) => (
          <Button key={line} {...button} onClick={() => align(line, sizes)}>
            {says}
          </Button>
        ))}
        {chosen.length > 2 && (
          <>
            <Button {...button} onClick={() => distribute('x', sizes)}>
              Even gaps across
            </Button>
            <Button {...button} onClick={() => distribute('y', sizes)}>
              Even gaps down
            </Button>
          </>
        )}
      </Group>
      {several && (
        <Group gap={4} mt={6}>
          <NativeSelect
            size="xs"
            aria-label="How they are joined"
            value={op}
            data={['add', 'subtract', 'intersect', 'exclude']}
            onChange={(event) => setOp(event.currentTarget.value as Schemas['JoinOp'])}
          />
          <Button {...button} onClick={() => join(op)}>
            Join into one silhouette
          </Button>
        </Group>
      )}
      {!several && piece?.shape.kind === 'join' && (
        <Button
          {...button}
          mt={6}
          disabled={(piece.rotation ?? 0) !== 0}
          title={(piece.rotation ?? 0) === 0 ? undefined : 'Turn it back to 0° first'}
          onClick={() => takeApart(piece.id)}
        >
          Take the join apart
        </Button>
      )}
    </fieldset>
  );
}
