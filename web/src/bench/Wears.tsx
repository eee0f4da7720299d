import { Button, Group, NativeSelect, Text, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Piece } from '../core/client';
import { limits } from '../core/constants';
import { Panel } from '../parts/Panel';
import { saveAsFinish, wearers, wearFinish } from '../session/finishes';
import { makeItsOwn, useDocument } from '../session/store';
import classes from './Stack.module.css';

/** What the piece wears, who else wears it, and the ways in and out of a finish. */
export function Wears({ piece }: { piece: Piece }) {
  const document = useDocument((state) => state.document);
  const worn = 'finish' in piece.wear ? piece.wear.finish : '';
  if (!document) return null;
  const others = worn ? wearers(document, worn).filter((wearer) => wearer.piece !== piece.id) : [];
  const where = others.map((wearer) => `${wearer.sceneName} ▸ ${wearer.pieceName}`).join('\n');
  const finishes = document.finishes ?? [];
  return (
    <div className={classes.wears}>
      <Group gap={6} wrap="nowrap">
        <NativeSelect
          size="xs"
          aria-label="Finish it wears"
          value={worn}
          data={[
            { value: '', label: 'coats of its own' },
            ...finishes.map((finish) => ({ value: finish.id, label: finish.name })),
          ]}
          onChange={(event) => {
            const chosen = event.currentTarget.value;
            if (chosen) wearFinish(chosen);
            else makeItsOwn();
          }}
        />
        {worn ? (
          <Button size="compact-xs" variant="default" onClick={makeItsOwn}>
            Make its own
          </Button>
        ) : (
          <SaveAs name={piece.name} />
        )}
      </Group>
      {worn && (
        <Text size="xs" c="dimmed" title={where} mt={4}>
          {others.length > 0
            ? `A change here changes the finish: ${others.length} other ${others.length === 1 ? 'piece follows' : 'pieces follow'}.`
            : 'No other piece wears it.'}
        </Text>
      )}
    </div>
  );
}

function SaveAs({ name }: { name: string }) {
  const [opened, setOpened] = useState(false);
  const [typed, setTyped] = useState('');
  const save = () => {
    saveAsFinish(typed || name);
    setOpened(false);
  };
  return (
    <Panel
      opened={opened}
      onChange={setOpened}
      position="bottom"
      width={260}
      target={(toggle) => (
        <Button size="compact-xs" variant="default" aria-expanded={opened} onClick={toggle}>
          Save as a finish…
        </Button>
      )}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
      >
        <TextInput
          size="xs"
          label="What the finish is called"
          placeholder={name}
          maxLength={limits.nameCharacters}
          value={typed}
          onChange={(event) => setTyped(event.currentTarget.value)}
        />
        <Button size="compact-sm" mt={8} type="submit">
          Save the finish
        </Button>
      </form>
    </Panel>
  );
}
