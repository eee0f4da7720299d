import { Button, Group, Menu, Modal, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useLocation } from 'wouter';
import { answer, api } from '../core/client';
import { limits } from '../core/constants';
import { words } from '../messages';
import { offerUndo, sayFailure } from '../page/toast';
import { Name } from '../parts/Name';
import { Quiet } from '../parts/Quiet';
import { copyName } from '../session/names';
import { closeSession, openSession } from '../session/session';
import { commit, edit, useDocument } from '../session/store';
import classes from './Bar.module.css';
import { closeDialog, useFrame } from './frame';

/** What the project is called, and what can be done with all of it. */
export function ProjectMenu() {
  const id = useDocument((state) => state.id);
  const name = useDocument((state) => state.document?.name ?? '');
  const renaming = useFrame((frame) => frame.dialog === 'rename');
  const { duplicate, remove } = useProject();
  const [, go] = useLocation();
  return (
    <h1 className={classes.project}>
      <Menu position="bottom-start">
        <Menu.Target>
          <Quiet opens title={name}>
            <Name of={name} />
          </Quiet>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => useFrame.setState({ dialog: 'rename' })}>{words.frame.rename}</Menu.Item>
          <Menu.Item onClick={duplicate}>{words.common.duplicate}</Menu.Item>
          <Menu.Item onClick={() => useFrame.setState({ dialog: 'revisions' })}>
            {words.frame.revisions}
          </Menu.Item>
          <Menu.Item onClick={() => go(`/projects/${id}/hand-off`)}>{words.frame.exportIt}</Menu.Item>
          <Menu.Divider />
          <Menu.Item onClick={remove}>{words.common.deleteIt}</Menu.Item>
          <Menu.Divider />
          <Menu.Item onClick={() => go('/')}>{words.frame.allProjects}</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <Modal
        opened={renaming}
        onClose={closeDialog}
        title={words.frame.renameTheProject}
        withCloseButton={false}
      >
        {renaming && <Rename name={name} />}
      </Modal>
    </h1>
  );
}

function Rename({ name }: { name: string }) {
  const [typed, setTyped] = useState(name);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        edit((draft) => {
          draft.name = typed.trim() || name;
        });
        closeDialog();
      }}
    >
      <TextInput
        data-autofocus
        label={words.frame.nameOfTheProject}
        maxLength={limits.nameCharacters}
        value={typed}
        onChange={(event) => setTyped(event.currentTarget.value)}
      />
      <Group justify="end" mt="md">
        <Button variant="default" onClick={closeDialog}>
          {words.common.cancel}
        </Button>
        <Button type="submit">{words.frame.renameIt}</Button>
      </Group>
    </form>
  );
}

/** What is done with a whole project, over the service. */
function useProject() {
  const queries = useQueryClient();
  const [, go] = useLocation();
  const refresh = () => {
    void queries.invalidateQueries({ queryKey: ['projects'] });
    void queries.invalidateQueries({ queryKey: ['trash'] });
  };
  const attempt = (work: () => Promise<void>) => async () => {
    try {
      await work();
      refresh();
    } catch (failure) {
      sayFailure((failure as Error).message);
    }
  };
  const duplicate = attempt(async () => {
    commit();
    const { document } = useDocument.getState();
    if (!document) return;
    const copy = { ...document, name: copyName(document.name) };
    const made = answer(await api.POST('/api/projects', { body: copy }));
    go(`/projects/${made.id}`);
  });
  const remove = attempt(async () => {
    const { id, document } = useDocument.getState();
    const params = { path: { id } };
    // What was done last is saved first, so that it is there again when the project is.
    await closeSession();
    try {
      answer(await api.DELETE('/api/projects/{id}', { params }));
    } catch (failure) {
      await openSession(id);
      throw failure;
    }
    go('/');
    const restore = attempt(async () => {
      answer(await api.POST('/api/trash/{id}/restore', { params }));
      go(`/projects/${id}`);
    });
    offerUndo(words.frame.inTheTrash(document?.name ?? ''), restore);
  });
  return { duplicate, remove };
}
