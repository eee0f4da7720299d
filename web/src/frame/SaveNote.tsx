import { Button, Group, Modal, Text } from '@mantine/core';
import { useState } from 'react';
import { useLocation } from 'wouter';
import type { Project } from '../core/client';
import type { Kept } from '../session/keeper';
import { useRefusal } from '../session/limits';
import type { Stored } from '../session/saveMachine';
import { dropLeft, saveLeft, session, useSaving } from '../session/session';
import classes from './SaveNote.module.css';

/** Whether the work is safe, in a word; and what to do when it was changed elsewhere. */
export function SaveNote() {
  const { phase, why, theirs, kept, left } = useSaving();
  const refused = useRefusal((refusal) => refusal.said);
  const [later, setLater] = useState<number | null>(null);
  const here = kept ? 'kept here' : 'not kept here either, do not close this page';
  const said = {
    saved: 'Saved',
    waiting: 'Not saved yet',
    sending: 'Saving',
    away: `${why}: ${here}, trying again`,
    refused: `Not saved: ${why}`,
    stale: `Changed elsewhere: not saved, ${here}`,
    gone: `Deleted elsewhere: not saved, ${here}`,
  }[phase];
  const alarm = !['saved', 'waiting', 'sending'].includes(phase);
  const [found] = left;
  return (
    <>
      {phase === 'stale' && theirs && (
        <>
          <Button size="compact-xs" variant="default" onClick={() => setLater(null)}>
            Decide
          </Button>
          <Conflict
            theirs={theirs}
            opened={later !== theirs.revision}
            onLater={() => setLater(theirs.revision)}
          />
        </>
      )}
      {phase === 'gone' && <AsNew save={async () => session()?.saveAsNew()} />}
      {found && phase !== 'stale' && <Found kept={found} />}
      {refused && (
        <span role="alert" className={`${classes.note} ${classes.alarm}`}>
          {refused}
        </span>
      )}
      <span
        role="status"
        title={said}
        className={alarm ? `${classes.note} ${classes.alarm}` : classes.note}
        data-state={phase}
      >
        {said}
      </span>
    </>
  );
}

/** Saves work on a project that was deleted as another, and goes there. */
export function AsNew({ save }: { save: () => Promise<string | undefined> }) {
  const [, navigate] = useLocation();
  const { busy, failure, run } = useTry();
  const go = async () => {
    const address = await save();
    if (address) navigate(address);
  };
  return (
    <>
      {failure && (
        <Text size="sm" c="red" role="alert">
          {failure} It is still kept.
        </Text>
      )}
      <Button size="compact-sm" variant="default" loading={busy} onClick={() => run(go)}>
        Save it as a new project
      </Button>
    </>
  );
}

interface ConflictProps {
  theirs: Stored<Project>;
  opened: boolean;
  onLater: () => void;
}

/** Somebody else saved in the meantime: whose version goes on. */
function Conflict({ theirs, opened, onLater }: ConflictProps) {
  const { busy, failure, run } = useTry();
  return (
    <Modal
      opened={opened}
      onClose={onLater}
      size="lg"
      withCloseButton={false}
      title="This project was changed elsewhere"
    >
      <Text size="sm" mb="md">
        Revision {theirs.revision} was saved elsewhere while you worked on yours. Nothing is lost: keep yours
        as the next revision (theirs stays in the list of revisions), or open theirs (yours becomes a project
        of its own). Until you decide, yours is kept in this browser.
      </Text>
      {failure && (
        <Text size="sm" c="red" role="alert" mb="md">
          {failure} Nothing was changed.
        </Text>
      )}
      <Group justify="end">
        <Button variant="subtle" color="gray" c="inherit" onClick={onLater}>
          Decide later
        </Button>
        <Button variant="default" loading={busy} onClick={() => run(async () => session()?.takeTheirs())}>
          Open theirs, keep mine as a copy
        </Button>
        <Button disabled={busy} onClick={() => session()?.hear({ kind: 'keep_mine' })}>
          Keep mine
        </Button>
      </Group>
    </Modal>
  );
}

/** More unsaved work on this project lies in this browser: of another tab that was closed, for example. */
function Found({ kept }: { kept: Kept }) {
  const [opened, setOpened] = useState(false);
  const { busy, failure, run } = useTry();
  const when = new Date(kept.at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
  return (
    <>
      <Button size="compact-xs" variant="default" onClick={() => setOpened(true)}>
        Unsaved work found
      </Button>
      <Modal
        opened={opened}
        onClose={() => setOpened(false)}
        title="Unsaved work found"
        withCloseButton={false}
      >
        <Text size="sm" mb="md">
          This browser keeps another version of this project that was not saved: of {when}, made from revision{' '}
          {kept.revision}.
        </Text>
        {failure && (
          <Text size="sm" c="red" role="alert" mb="md">
            {failure} It is still kept.
          </Text>
        )}
        <Group justify="end">
          <Button variant="subtle" color="gray" c="inherit" onClick={() => run(() => dropLeft(kept))}>
            Throw it away
          </Button>
          <Button loading={busy} onClick={() => run(async () => void (await saveLeft(kept)))}>
            Save it as a project of its own
          </Button>
        </Group>
      </Modal>
    </>
  );
}

/** Does something once at a time, and says why it did not work. */
function useTry() {
  const [busy, setBusy] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const run = async (action: () => Promise<void>) => {
    setBusy(true);
    setFailure(null);
    try {
      await action();
    } catch (error) {
      setFailure(error instanceof TypeError ? 'The service does not answer.' : (error as Error).message);
    }
    setBusy(false);
  };
  return { busy, failure, run };
}
