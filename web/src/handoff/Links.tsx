import { Alert, Button, Group, NativeSelect, Text } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api } from '../core/client';
import { CopyButton } from '../parts/CopyButton';
import view from '../parts/view.module.css';
import { useSaving } from '../session/session';
import { sceneOf, useDocument } from '../session/store';
import classes from './HandOff.module.css';

/** Links to a scene, made and revoked. */
export function Links() {
  const queries = useQueryClient();
  const id = useDocument((state) => state.id);
  const document = useDocument((state) => state.document);
  const open = useDocument((state) => state.scene);
  const [chosen, setChosen] = useState<string | null>(null);
  const scene = chosen ?? open;
  const saved = useSaving((saving) => saving.phase === 'saved');
  const links = useQuery({
    queryKey: ['links', id],
    queryFn: async () => answer(await api.GET('/api/projects/{id}/shares', { params: { path: { id } } })),
  });
  const refresh = { onSuccess: () => queries.invalidateQueries({ queryKey: ['links', id] }) };
  const make = useMutation({
    mutationFn: async () =>
      answer(
        await api.POST('/api/projects/{id}/shares', {
          params: { path: { id } },
          body: { scene: scene ?? '' },
        }),
      ),
    ...refresh,
  });
  const revoke = useMutation({
    mutationFn: async (token: string) =>
      answer(await api.DELETE('/api/shares/{token}', { params: { path: { token } } })),
    ...refresh,
  });
  const failure = links.error ?? make.error ?? revoke.error;
  const working = links.data?.filter((link) => !link.revoked_at) ?? [];
  return (
    <section aria-label="Links" className={view.panel}>
      <h2 className={view.heading}>Links</h2>
      <Text size="sm" mb="sm">
        A link shows a scene as it is saved now: its looks, values and code, to copy but not to change. It
        works until you revoke it.
      </Text>
      <Group gap={8}>
        <NativeSelect
          size="xs"
          aria-label="Scene to link to"
          value={scene ?? ''}
          data={(document?.scenes ?? []).map((one) => ({ value: one.id, label: one.name }))}
          onChange={(event) => setChosen(event.currentTarget.value)}
        />
        <Button size="compact-sm" onClick={() => make.mutate()} loading={make.isPending} disabled={!saved}>
          {saved ? 'Make a link' : 'Saving first'}
        </Button>
      </Group>
      {failure && (
        <Alert color="red" mt="sm" title="That did not work">
          {failure.message}
        </Alert>
      )}
      <ul className={classes.links} aria-label="Links made">
        {working.map((link) => {
          const address = `${window.location.origin}/s/${link.token}`;
          return (
            <li key={link.token} className={classes.link}>
              <span className={classes.scene}>{sceneOf(document, link.scene)?.name ?? link.scene}</span>
              <a href={address} target="_blank" rel="noreferrer" className={classes.address}>
                {address}
              </a>
              <Group gap={6} wrap="nowrap">
                <CopyButton text={address} what="link" />
                <Button size="compact-sm" variant="default" onClick={() => revoke.mutate(link.token)}>
                  Revoke
                </Button>
              </Group>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
