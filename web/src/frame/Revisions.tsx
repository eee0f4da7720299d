import { Button, Group, Modal, Text, TextInput } from '@mantine/core';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api, type Schemas } from '../core/client';
import { limits } from '../core/constants';
import { words } from '../messages';
import { exactlyAt } from '../parts/when';
import { session } from '../session/session';
import { showAnother, useDocument } from '../session/store';
import classes from './Revisions.module.css';

type Revision = Schemas['ListedRevision'];

/** How many revisions are listed at a time. */
const MOST = 50;

interface Props {
  opened: boolean;
  onClose: () => void;
}

/** The project's revisions, the latest first: to be named, which keeps them, and to be gone back to. */
export function Revisions({ opened, onClose }: Props) {
  const id = useDocument((state) => state.id);
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
    enabled: opened,
    gcTime: 0,
  });
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      title={words.frame.revisions}
      size="lg"
      closeButtonProps={{ 'aria-label': words.common.close }}
    >
      <Text size="sm" mb="sm">
        {words.frame.whichAreKept}
      </Text>
      {list.error && (
        <Text size="sm" c="red" role="alert">
          {list.error.message}
        </Text>
      )}
      <ul className={classes.list}>
        {list.data?.pages.flat().map((revision) => (
          <Row key={revision.revision} id={id} revision={revision} onGone={onClose} />
        ))}
      </ul>
      {list.hasNextPage && (
        <Button size="compact-sm" variant="default" onClick={() => list.fetchNextPage()}>
          {words.frame.earlierRevisions}
        </Button>
      )}
    </Modal>
  );
}

function Row({ id, revision, onGone }: { id: string; revision: Revision; onGone: () => void }) {
  const queries = useQueryClient();
  const [name, setName] = useState(revision.name ?? '');
  const path = { id, revision: revision.revision };
  const rename = useMutation({
    mutationFn: async () =>
      answer(
        await api.PUT('/api/projects/{id}/revisions/{revision}/name', {
          params: { path },
          body: { name: name.trim() || null },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['revisions', id] }),
  });
  // One step to undo: nothing that was done since is lost.
  const restore = useMutation({
    mutationFn: async () =>
      answer(await api.GET('/api/projects/{id}/revisions/{revision}', { params: { path } })).document,
    onSuccess: (document) => {
      if (session()?.id === id) showAnother(document);
      onGone();
    },
  });
  const failure = rename.error ?? restore.error;
  return (
    <li className={classes.row}>
      <span className={classes.when}>
        {words.frame.revision(revision.revision, exactlyAt(revision.created_at))}
      </span>
      <Group gap={6} wrap="nowrap">
        <TextInput
          size="xs"
          aria-label={words.frame.nameOfRevision(revision.revision)}
          placeholder={words.frame.nameItToKeepIt}
          maxLength={limits.nameCharacters}
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
          onBlur={() => name.trim() !== (revision.name ?? '') && rename.mutate()}
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        />
        <Button
          size="compact-sm"
          variant="default"
          loading={restore.isPending}
          aria-label={words.frame.restoreRevision(revision.revision)}
          onClick={() => restore.mutate()}
        >
          {words.common.restore}
        </Button>
      </Group>
      {failure && (
        <Text size="xs" c="red" role="alert">
          {failure.message}
        </Text>
      )}
    </li>
  );
}
