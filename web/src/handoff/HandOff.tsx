import { Alert, Button, Group, Modal, Text } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { useSaving } from '../document/saving';
import { sceneOf, useDocument } from '../document/store';
import { CopyButton } from '../parts/CopyButton';
import classes from './HandOff.module.css';

/** Links to the scene, made and revoked. */
export function HandOff({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  const queries = useQueryClient();
  const id = useDocument((state) => state.id);
  const document = useDocument((state) => state.document);
  const scene = useDocument((state) => state.scene);
  const saved = useSaving((saving) => saving.state.kind === 'saved');
  const links = useQuery({
    queryKey: ['links', id],
    queryFn: async () => answer(await api.GET('/api/projects/{id}/shares', { params: { path: { id } } })),
    enabled: opened,
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
    <Modal
      opened={opened}
      onClose={onClose}
      title="Hand-off"
      size="lg"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <Text size="sm" mb="sm">
        A link shows “{sceneOf(document, scene)?.name}” as it is saved now: its looks, values and code, to
        copy but not to change. It works until you revoke it.
      </Text>
      <Button size="sm" onClick={() => make.mutate()} loading={make.isPending} disabled={!saved}>
        {saved ? 'Make a link' : 'Saving first'}
      </Button>
      {failure && (
        <Alert color="red" mt="sm" title="That did not work">
          {failure.message}
        </Alert>
      )}
      <ul className={classes.links} aria-label="Links">
        {working.map((link) => {
          const address = `${window.location.origin}/s/${link.token}`;
          return (
            <li key={link.token}>
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
    </Modal>
  );
}
