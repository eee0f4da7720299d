import { Alert, Button, Group, Text, Title } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, everyPart } from '../core/client';
import { words } from '../messages';
import { Sure } from '../parts/Sure';
import { at } from '../parts/when';
import classes from './Projects.module.css';

/** Deleted projects, to be taken back for as long as they are kept. */
export function Trash() {
  const queries = useQueryClient();
  const trash = useQuery({
    queryKey: ['trash'],
    queryFn: () => everyPart((from) => api.GET('/api/trash', { params: { query: { from } } })),
  });
  const refresh = {
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['trash'] });
      void queries.invalidateQueries({ queryKey: ['projects'] });
    },
  };
  const restore = useMutation({
    mutationFn: async (id: string) =>
      answer(await api.POST('/api/trash/{id}/restore', { params: { path: { id } } })),
    ...refresh,
  });
  const purge = useMutation({
    mutationFn: async (id: string) =>
      answer(await api.DELETE('/api/trash/{id}', { params: { path: { id } } })),
    ...refresh,
  });
  const failure = restore.error ?? purge.error;
  if (!trash.data?.length) return null;
  return (
    <section aria-label={words.projects.trash}>
      <Title order={2} size="h4">
        {words.projects.trash}
      </Title>
      <Text size="sm" c="dimmed">
        {words.projects.deletedProjectsStayHereFor}
      </Text>
      {failure && <Alert color="red">{failure.message}</Alert>}
      <ul className={classes.trash}>
        {trash.data.map(({ id, name, deleted_at }) => (
          <li key={id} className={classes.deleted}>
            <span>
              <strong dir="auto">{name}</strong>{' '}
              <span className={classes.when}>
                {words.projects.deleted}
                {at(deleted_at ?? 0)}
              </span>
            </span>
            <Group gap={6} wrap="nowrap">
              <Button
                size="compact-sm"
                variant="default"
                aria-label={words.projects.restore(name)}
                onClick={() => restore.mutate(id)}
              >
                {words.common.restore}
              </Button>
              <Sure
                asks={words.projects.lostForGood(name)}
                does={words.projects.deletePermanently}
                name={words.projects.deletePermanentlyOf(name)}
                onSure={() => purge.mutate(id)}
              >
                {words.projects.deletePermanently}
              </Sure>
            </Group>
          </li>
        ))}
      </ul>
    </section>
  );
}
