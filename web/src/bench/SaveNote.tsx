import { Button, Group, Modal, Text } from '@mantine/core';
import { keepMine, takeTheirs, useSaving } from '../session/saving';
import classes from './Header.module.css';

/** Whether the work is safe, in a word; and what to do when it was changed elsewhere. */
export function SaveNote() {
  const state = useSaving((saving) => saving.state);
  if (state.kind === 'stale') {
    return (
      <Modal
        opened
        onClose={() => keepMine(state.stored)}
        withCloseButton={false}
        title="This project was changed elsewhere"
      >
        <Text size="sm" mb="md">
          Somebody saved revision {state.stored.revision} while you worked on yours. Nothing is lost: keep
          yours as the next revision (theirs stays among the revisions), or open theirs (yours becomes a
          project of its own).
        </Text>
        <Group justify="end">
          <Button variant="default" onClick={() => takeTheirs(state.stored)}>
            Open theirs, keep mine as a copy
          </Button>
          <Button onClick={() => keepMine(state.stored)}>Keep mine</Button>
        </Group>
      </Modal>
    );
  }
  const said = {
    saved: 'Saved',
    waiting: 'Not saved yet',
    saving: 'Saving',
    unreachable: state.kind === 'unreachable' ? `${state.why}: kept here, trying again` : '',
    refused: state.kind === 'refused' ? `Not saved: ${state.why}` : '',
  }[state.kind];
  const alarm = state.kind === 'unreachable' || state.kind === 'refused';
  return (
    <span
      role="status"
      title={said}
      className={alarm ? `${classes.note} ${classes.alarm}` : classes.note}
      data-state={state.kind}
    >
      {said}
    </span>
  );
}
