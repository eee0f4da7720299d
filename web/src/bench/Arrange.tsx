import { Group, NativeSelect, Text } from '@mantine/core';
import { memo, useState } from 'react';
import type { Schemas } from '../core/client';
import { words } from '../messages';
import { options } from '../parts/options';
import { Quiet } from '../parts/Quiet';
import { arrange } from '../session/arrange';
import { useChosenPieces } from '../session/choice';
import { pieceOf, sceneOf } from '../session/lookup';
import { useDocument } from '../session/store';
import classes from './Stack.module.css';

const lines: { line: Schemas['AlignLine']; label: string }[] = [
  { line: 'left', label: words.common.left },
  { line: 'centre', label: words.bench.centre },
  { line: 'right', label: words.bench.right },
  { line: 'top', label: words.common.top },
  { line: 'middle', label: words.bench.middle },
  { line: 'bottom', label: words.bench.bottom },
];

const button = { fz: 12, px: 6 } as const;

/** Where the chosen pieces lie to one another, or one to its scene; joining and grouping them, and taking them apart. */
export const Arrange = memo(function Arrange() {
  const chosen = useChosenPieces();
  const [first = null] = chosen;
  const kind = useDocument((now) => pieceOf(sceneOf(now.document, now.scene), first)?.shape.kind);
  const isRotated = useDocument(
    (now) => (pieceOf(sceneOf(now.document, now.scene), first)?.rotation ?? 0) !== 0,
  );
  const [op, setOp] = useState<Schemas['JoinOp']>('add');
  const [failure, setFailure] = useState<string | null>(null);
  const run = (how: Schemas['Arrangement']) => {
    setFailure(null);
    arrange(how).catch((error: Error) => setFailure(error.message));
  };
  const several = chosen.length > 1;
  return (
    <fieldset className={classes.arrange}>
      <legend>{several ? words.bench.alignTogether : words.bench.alignWithScene}</legend>
      <Group gap={2} ml={-6}>
        {lines.map(({ line, label }) => (
          <Quiet key={line} {...button} onClick={() => run({ kind: 'align', line })}>
            {label}
          </Quiet>
        ))}
        {chosen.length > 2 && (
          <>
            <Quiet {...button} onClick={() => run({ kind: 'distribute', axis: 'x' })}>
              {words.bench.spaceAcross}
            </Quiet>
            <Quiet {...button} onClick={() => run({ kind: 'distribute', axis: 'y' })}>
              {words.bench.spaceDown}
            </Quiet>
          </>
        )}
      </Group>
      {several && (
        <Group gap={4} mt={6}>
          <NativeSelect
            size="xs"
            aria-label={words.bench.wayOfJoining}
            value={op}
            data={options(words.values.joinOps)}
            onChange={(event) => setOp(event.currentTarget.value as Schemas['JoinOp'])}
          />
          <Quiet {...button} onClick={() => run({ kind: 'join', op })}>
            {words.bench.join}
          </Quiet>
          <Quiet {...button} onClick={() => run({ kind: 'group' })}>
            {words.bench.group}
          </Quiet>
        </Group>
      )}
      {!several && kind === 'join' && (
        <Quiet
          {...button}
          mt={6}
          disabled={isRotated}
          title={isRotated ? words.bench.notWhileRotated : undefined}
          onClick={() => run({ kind: 'take_apart' })}
        >
          {words.bench.separate}
        </Quiet>
      )}
      {!several && kind === 'group' && (
        <Quiet {...button} mt={6} onClick={() => run({ kind: 'separate' })}>
          {words.bench.separate}
        </Quiet>
      )}
      {failure && (
        <Text role="alert" size="xs" c="red" mt={6}>
          {failure}
        </Text>
      )}
    </fieldset>
  );
});
