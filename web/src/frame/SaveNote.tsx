import { Button, Group, Modal, Text, VisuallyHidden } from '@mantine/core';
import { useEffect, useState } from 'react';
import { useLocation } from 'wouter';
import type { Project } from '../core/client';
import { words } from '../messages';
import { Sure } from '../parts/Sure';
import { at } from '../parts/when';
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
  const here = kept ? words.frame.keptHere : words.frame.notKeptHere;
  const said = {
    saved: words.frame.saved,
    waiting: words.frame.notSavedYet,
    sending: words.frame.saving,
    away: words.frame.tryingAgain(why, here),
    refused: words.frame.notSaved(why),
    stale: words.frame.changedElsewhereNotSaved(here),
    gone: words.frame.deletedElsewhereNotSaved(here),
  }[phase];
  const alarm = !['saved', 'waiting', 'sending'].includes(phase);
  const [found] = left;
  const heard = useHeard(phase, said, alarm);
  return (
    <>
      {phase === 'stale' && theirs && (
        <>
          <Button size="compact-xs" variant="default" onClick={() => setLater(null)}>
            {words.frame.decide}
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
        <span role="alert" title={refused} className={`${classes.note} ${classes.alarm}`}>
          <span className={classes.words}>{refused}</span>
        </span>
      )}
      <VisuallyHidden role="status">{heard}</VisuallyHidden>
      <span
        title={said}
        className={alarm ? `${classes.note} ${classes.alarm}` : classes.note}
        data-state={phase}
      >
        <span className={classes.words}>{said}</span>
      </span>
    </>
  );
}

/** What is said aloud: trouble at once, *Saved* once it stays so, and nothing of every change in between. */
function useHeard(phase: string, said: string, alarm: boolean): string {
  const [heard, setHeard] = useState('');
  useEffect(() => {
    if (alarm) return setHeard(said);
    if (phase !== 'saved') return;
    const settled = window.setTimeout(() => setHeard(said), 1500);
    return () => window.clearTimeout(settled);
  }, [phase, said, alarm]);
  return heard;
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
          {words.frame.itIsStillKept(failure)}
        </Text>
      )}
      <Button size="compact-sm" variant="default" loading={busy} onClick={() => run(go)}>
        {words.frame.saveAsNew}
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
      title={words.frame.changedElsewhereTitle}
    >
      <Text size="sm" mb="md">
        {words.frame.changedElsewhere(theirs.revision)}
      </Text>
      {failure && (
        <Text size="sm" c="red" role="alert" mb="md">
          {words.frame.nothingWasChanged(failure)}
        </Text>
      )}
      <Group justify="end">
        <Button variant="subtle" color="gray" c="inherit" onClick={onLater}>
          {words.frame.decideLater}
        </Button>
        <Button variant="default" loading={busy} onClick={() => run(async () => session()?.takeTheirs())}>
          {words.frame.openTheirs}
        </Button>
        <Button disabled={busy} onClick={() => session()?.hear({ kind: 'keep_mine' })}>
          {words.frame.keepMine}
        </Button>
      </Group>
    </Modal>
  );
}

/** More unsaved work on this project lies in this browser: of another tab that was closed, for example. */
function Found({ kept }: { kept: Kept }) {
  const [opened, setOpened] = useState(false);
  const { busy, failure, run } = useTry();
  const when = at(kept.at);
  return (
    <>
      <Button size="compact-xs" variant="default" onClick={() => setOpened(true)}>
        {words.frame.unsavedWorkFound}
      </Button>
      <Modal
        opened={opened}
        onClose={() => setOpened(false)}
        title={words.frame.unsavedWorkFound}
        withCloseButton={false}
      >
        <Text size="sm" mb="md">
          {words.frame.unsavedVersion(when, kept.revision)}
        </Text>
        {failure && (
          <Text size="sm" c="red" role="alert" mb="md">
            {words.frame.itIsStillKept(failure)}
          </Text>
        )}
        <Group justify="end">
          <Sure
            asks={words.frame.deleteUnsaved}
            does={words.frame.deleteIt}
            onSure={() => run(() => dropLeft(kept))}
          >
            {words.frame.deleteIt}
          </Sure>
          <Button loading={busy} onClick={() => run(async () => void (await saveLeft(kept)))}>
            {words.frame.saveSeparately}
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
      setFailure((error as Error).message);
    }
    setBusy(false);
  };
  return { busy, failure, run };
}
