import { Button, Group, Menu, Modal, ScrollArea, TextInput } from '@mantine/core';
import { IconChevronDown } from '@tabler/icons-react';
import { useState } from 'react';
import type { Piece } from '../core/client';
import { limits } from '../core/constants';
import { finishOf, saveAsFinish, wearers, wearFinish } from '../session/finishes';
import { makeItsOwn, useDocument } from '../session/store';
import classes from './Stack.module.css';

/** What the piece wears, and the ways in and out of a finish. */
export function FinishMenu({ piece }: { piece: Piece }) {
  const document = useDocument((state) => state.document);
  const [naming, setNaming] = useState(false);
  if (!document) return null;
  const worn = 'finish' in piece.wear ? finishOf(document, piece.wear.finish) : undefined;
  const places = worn ? wearers(document, worn.id) : [];
  const count = places.length === 1 ? 'on 1 piece' : `on ${places.length} pieces`;
  return (
    <>
      <Menu position="bottom-start" width={240}>
        <Menu.Target>
          <Button
            size="compact-xs"
            variant="default"
            className={classes.finish}
            title={places.map(({ sceneName, pieceName }) => `${sceneName}: ${pieceName}`).join('\n')}
            aria-label={worn ? `Finish: ${worn.name}, ${count}` : 'Finish: own coats'}
            rightSection={<IconChevronDown size={12} />}
          >
            {worn ? `${worn.name}, ${count}` : 'Own coats'}
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {worn ? (
            <>
              <Menu.Label>A change here changes the finish, {count}.</Menu.Label>
              <Menu.Item onClick={makeItsOwn}>Use own coats</Menu.Item>
            </>
          ) : (
            <Menu.Item onClick={() => setNaming(true)}>Save as a finish…</Menu.Item>
          )}
          {(document.finishes ?? []).length > 0 && <Menu.Divider />}
          <ScrollArea.Autosize mah={300}>
            {document.finishes?.map((finish) => (
              <Menu.Item
                key={finish.id}
                fw={finish === worn ? 600 : undefined}
                onClick={() => wearFinish(finish.id)}
              >
                {finish.name}
              </Menu.Item>
            ))}
          </ScrollArea.Autosize>
        </Menu.Dropdown>
      </Menu>
      <Modal
        opened={naming}
        onClose={() => setNaming(false)}
        title="Save as a finish"
        withCloseButton={false}
      >
        <SaveAs name={piece.name} onDone={() => setNaming(false)} />
      </Modal>
    </>
  );
}

function SaveAs({ name, onDone }: { name: string; onDone: () => void }) {
  const [typed, setTyped] = useState('');
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        saveAsFinish(typed || name);
        onDone();
      }}
    >
      <TextInput
        data-autofocus
        label="Name of the finish"
        placeholder={name}
        maxLength={limits.nameCharacters}
        value={typed}
        onChange={(event) => setTyped(event.currentTarget.value)}
      />
      <Group justify="end" mt="md">
        <Button variant="default" onClick={onDone}>
          Cancel
        </Button>
        <Button type="submit">Save the finish</Button>
      </Group>
    </form>
  );
}
