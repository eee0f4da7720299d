import { Alert, Button, Group, NativeSelect, Text } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api } from '../core/client';
import { words } from '../messages';
import { CopyButton } from '../parts/CopyButton';
import view from '../parts/view.module.css';
import { sceneOf } from '../session/lookup';
import { plainScenes } from '../session/pageScenes';
import { useSaving } from '../session/session';
import { useDocument } from '../session/store';
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
    <section aria-label={words.handOff.links} className={view.panel}>
      <h2 className={view.heading}>{words.handOff.links}</h2>
      <Text size="sm" mb="sm">
        {words.handOff.aboutLinks}
      </Text>
      <Group gap={8}>
        <NativeSelect
          size="xs"
          aria-label={words.handOff.sceneToLinkTo}
          value={scene ?? ''}
          data={(document ? plainScenes(document) : []).map((one) => ({ value: one.id, label: one.name }))}
          onChange={(event) => setChosen(event.currentTarget.value)}
        />
        <Button size="compact-sm" onClick={() => make.mutate()} loading={make.isPending} disabled={!saved}>
          {saved ? words.handOff.createLink : words.handOff.savingFirst}
        </Button>
      </Group>
      {failure && (
        <Alert color="red" mt="sm" title={words.handOff.didNotWork}>
          {failure.message}
        </Alert>
      )}
      <ul className={classes.links} aria-label={words.handOff.linksMade}>
        {working.map((link) => {
          const address = `${window.location.origin}/s/${link.token}`;
          return (
            <li key={link.token} className={classes.link}>
              <span className={classes.scene}>{sceneOf(document, link.scene)?.name ?? link.scene}</span>
              <a href={address} target="_blank" rel="noreferrer" className={classes.address}>
                {address}
              </a>
              <Group gap={6} wrap="nowrap">
                <CopyButton text={address} what={words.handOff.link} />
                <Button size="compact-sm" variant="default" onClick={() => revoke.mutate(link.token)}>
                  {words.handOff.revoke}
                </Button>
              </Group>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
