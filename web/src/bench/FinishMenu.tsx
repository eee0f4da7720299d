import { Button, Group, Menu, Modal, ScrollArea, TextInput } from '@mantine/core';
import { IconChevronDown } from '@tabler/icons-react';
import { memo, useState } from 'react';
import type { Piece, Project } from '../core/client';
import { limits } from '../core/constants';
import { words } from '../messages';
import { Name } from '../parts/Name';
import { useLater } from '../parts/useLater';
import { finishOf, saveAsFinish, wearers, wearFinish } from '../session/finishes';
import { makeItsOwn } from '../session/stacks';
import { calmIn, useDocument } from '../session/store';
import classes from './Stack.module.css';
import { useOwnInTheme } from './useOwnInTheme';

/** What the piece wears, and the ways in and out of a finish. */
export function FinishMenu({ piece }: { piece: Piece }) {
  const document = useLater(useDocument(calmIn), piece.id);
  return document && <Worn piece={piece} document={document} />;
}

const Worn = memo(function Worn({ piece, document }: { piece: Piece; document: Project }) {
  const [naming, setNaming] = useState(false);
  const theme = useOwnInTheme('finish' in piece.wear ? piece.wear.finish : undefined);
  const worn = 'finish' in piece.wear ? finishOf(document, piece.wear.finish) : undefined;
  const places = worn ? wearers(document, worn.id) : [];
  const count = words.bench.onPieces(places.length);
  return (
    <>
      <Menu position="bottom-start" width={240}>
        <Menu.Target>
          <Button
            size="compact-xs"
            variant="default"
            className={classes.finish}
            classNames={{ label: classes.finishLabel }}
            title={places.map(({ sceneName, pieceName }) => `${sceneName}: ${pieceName}`).join('\n')}
            aria-label={worn ? words.bench.finish(worn.name, count) : words.bench.finishOwnCoats}
            rightSection={<IconChevronDown aria-hidden size={12} />}
          >
            {worn ? (
              <>
                <span dir="auto" className={classes.finishName}>
                  {worn.name}
                </span>
                <span className={classes.finishCount}>{words.bench.finishCount(count)}</span>
              </>
            ) : (
              words.bench.ownCoats
            )}
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {worn ? (
            <>
              <Menu.Label>{words.bench.aChangeHereChangesThe(count)}</Menu.Label>
              <Menu.Item onClick={makeItsOwn}>{words.bench.useOwnCoats}</Menu.Item>
              {theme.name && (
                <Menu.Item onClick={() => theme.change(!theme.own)}>
                  {theme.own ? words.bench.sameInAllThemes : words.bench.ownCoatsInTheme(theme.name)}
                </Menu.Item>
              )}
            </>
          ) : (
            <Menu.Item onClick={() => setNaming(true)}>{words.bench.saveAsFinishMenu}</Menu.Item>
          )}
          {(document.finishes ?? []).length > 0 && <Menu.Divider />}
          <ScrollArea.Autosize mah={300}>
            {document.finishes?.map((finish) => (
              <Menu.Item
                key={finish.id}
                fw={finish === worn ? 600 : undefined}
                onClick={() => wearFinish(finish.id)}
              >
                <Name of={finish.name} />
              </Menu.Item>
            ))}
          </ScrollArea.Autosize>
        </Menu.Dropdown>
      </Menu>
      <Modal
        opened={naming}
        onClose={() => setNaming(false)}
        title={words.bench.saveAsAFinish}
        withCloseButton={false}
      >
        <SaveAs name={piece.name} onDone={() => setNaming(false)} />
      </Modal>
    </>
  );
});

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
        label={words.bench.nameOfTheFinish}
        placeholder={name}
        maxLength={limits.nameCharacters}
        value={typed}
        onChange={(event) => setTyped(event.currentTarget.value)}
      />
      <Group justify="end" mt="md">
        <Button variant="default" onClick={onDone}>
          {words.common.cancel}
        </Button>
        <Button type="submit">{words.bench.saveTheFinish}</Button>
      </Group>
    </form>
  );
}
