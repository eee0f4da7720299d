import { Button, Modal, Text, TextInput } from '@mantine/core';
import { useIntersection } from '@mantine/hooks';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api, type Schemas } from '../core/client';
import { limits } from '../core/constants';
import { words } from '../messages';
import { exactlyAt } from '../parts/when';
import { useDocument } from '../session/store';
import { Compared } from './Compared';
import classes from './Revisions.module.css';
import { useLook } from './useLook';
import { useRevision } from './useRevision';

type Revision = Schemas['ListedRevision'];

/** How many revisions are listed at a time. */
const MOST = 50;

interface Props {
  opened: boolean;
  onClose: () => void;
}

/** The project's revisions, the latest first: looked at, compared with what is open, named, and gone back to. */
export function Revisions({ opened, onClose }: Props) {
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      title={words.frame.revisions}
      size={920}
      closeButtonProps={{ 'aria-label': words.common.close }}
    >
      <Text size="sm" c="dimmed" mb="sm">
        {words.frame.whichAreKept}
      </Text>
      {opened && <List onGone={onClose} />}
    </Modal>
  );
}

function List({ onGone }: { onGone: () => void }) {
  const id = useDocument((state) => state.id);
  const [chosen, setChosen] = useState<number | null>(null);
  const list = useInfiniteQuery({
    queryKey: ['revisions', id],
    queryFn: async ({ pageParam: from }) =>
      answer(
        await api.GET('/api/projects/{id}/revisions', {
          params: { path: { id }, query: { from, most: MOST } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last, all) => (last.length < MOST ? undefined : all.length * MOST),
    gcTime: 0,
  });
  return (
    <div className={classes.columns}>
      <div className={classes.scroll}>
        {list.error && (
          <Text size="sm" c="red" role="alert">
            {list.error.message}
          </Text>
        )}
        <ul className={classes.list}>
          {list.data?.pages.flat().map((revision) => (
            <Row
              key={revision.revision}
              id={id}
              revision={revision}
              chosen={revision.revision === chosen}
              onChoose={() => setChosen(revision.revision)}
            />
          ))}
        </ul>
        {list.hasNextPage && (
          <Button size="compact-sm" variant="default" onClick={() => list.fetchNextPage()}>
            {words.frame.earlierRevisions}
          </Button>
        )}
      </div>
      {chosen === null ? (
        <Text c="dimmed">{words.frame.chooseARevision}</Text>
      ) : (
        <Compared key={chosen} id={id} revision={chosen} onGone={onGone} />
      )}
    </div>
  );
}

interface RowProps {
  id: string;
  revision: Revision;
  chosen: boolean;
  onChoose: () => void;
}

function Row({ id, revision: { revision, name, created_at }, chosen, onChoose }: RowProps) {
  const { ref, entry } = useIntersection();
  const seen = entry?.isIntersecting ?? false;
  const look = useRevision(id, revision, seen);
  const picture = useLook(look.data ?? null);
  return (
    <li ref={ref} className={classes.row} data-chosen={chosen || undefined}>
      <button
        type="button"
        className={classes.open}
        aria-pressed={chosen}
        aria-label={words.frame.compareWith(revision)}
        onClick={onChoose}
      >
        {picture ? <img src={picture} alt="" /> : <span />}
      </button>
      <div className={classes.about}>
        <button type="button" className={classes.when} onClick={onChoose}>
          {words.frame.revision(revision, exactlyAt(created_at))}
        </button>
        <Name id={id} revision={revision} given={name ?? ''} />
      </div>
    </li>
  );
}

/** The name of a revision: one that has a name is kept for ever. */
function Name({ id, revision, given }: { id: string; revision: number; given: string }) {
  const queries = useQueryClient();
  const [name, setName] = useState(given);
  const rename = useMutation({
    mutationFn: async () =>
      answer(
        await api.PUT('/api/projects/{id}/revisions/{revision}/name', {
          params: { path: { id, revision } },
          body: { name: name.trim() || null },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['revisions', id] }),
  });
  return (
    <TextInput
      size="xs"
      variant={name ? 'default' : 'unstyled'}
      aria-label={words.frame.nameOfRevision(revision)}
      placeholder={words.frame.nameItToKeepIt}
      maxLength={limits.nameCharacters}
      value={name}
      error={rename.error?.message}
      onChange={(event) => setName(event.currentTarget.value)}
      onBlur={() => name.trim() !== given && rename.mutate()}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  );
}
