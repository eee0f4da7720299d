import { Button, Group, Text } from '@mantine/core';
import { useMemo } from 'react';
import type { Project } from '../core/client';
import { words } from '../messages';
import { differencesOf } from '../session/differences';
import { takeBackFinish } from '../session/finishes';
import { session } from '../session/session';
import { showAnother, useDocument } from '../session/store';
import classes from './Revisions.module.css';
import { useLook } from './useLook';
import { useRevision } from './useRevision';

interface Props {
  id: string;
  revision: number;
  onGone: () => void;
}

/** A revision beside what is open now: pictures of both, what differs, and ways to take it back. */
export function Compared({ id, revision, onGone }: Props) {
  const then = useRevision(id, revision, true);
  const now = useDocument((state) => state.document);
  if (then.error) return <Text c="red">{then.error.message}</Text>;
  if (!then.data || !now) return <Text c="dimmed">{words.frame.reading}</Text>;
  return <Both then={then.data} now={now} id={id} revision={revision} onGone={onGone} />;
}

function Both({ then, now, id, revision, onGone }: Props & { then: Project; now: Project }) {
  const differences = useMemo(() => differencesOf(then, now), [then, now]);
  // One step to undo: nothing that was done since is lost.
  const restore = () => {
    if (session()?.id === id) showAnother(then);
    onGone();
  };
  return (
    <section aria-label={words.frame.compareWith(revision)} className={classes.compared}>
      <div className={classes.looks}>
        <Shown document={then} says={words.frame.revisionNumber(revision)} />
        <Shown document={now} says={words.frame.now} />
      </div>
      <h3 className={classes.heading}>{words.frame.whatDiffers(differences.length)}</h3>
      <ul className={classes.differences}>
        {differences.map(({ says, finish }) => (
          <li key={says}>
            <span>{says}</span>
            {finish && (
              <Button
                size="compact-xs"
                variant="default"
                aria-label={words.frame.restoreFinish(says)}
                onClick={() => takeBackFinish(finish, then)}
              >
                {words.frame.restoreThisFinish}
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Group justify="end">
        <Button
          disabled={differences.length === 0}
          aria-label={words.frame.restoreRevision(revision)}
          onClick={restore}
        >
          {words.frame.restoreAll}
        </Button>
      </Group>
    </section>
  );
}

function Shown({ document, says }: { document: Project; says: string }) {
  const picture = useLook(document);
  return (
    <figure>
      {picture ? <img src={picture} alt={says} /> : <span className={classes.blank} />}
      <figcaption>{says}</figcaption>
    </figure>
  );
}
