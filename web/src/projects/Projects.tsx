import { Alert, Anchor, Button, Group, Menu, Modal, Text, Title } from '@mantine/core';
import { useDocumentTitle } from '@mantine/hooks';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useLocation } from 'wouter';
import { answer, api, everyPart, type Schemas } from '../core/client';
import { words } from '../messages';
import { Quiet } from '../parts/Quiet';
import { few, fits, Narrow } from '../parts/Search';
import { useAddress } from '../parts/useAddress';
import { useSeen } from '../parts/useSeen';
import { at } from '../parts/when';
import { copyName } from '../session/names';
import { closeSession, session } from '../session/session';
import { Begin } from './Begin';
import { type Begun, beginWithCopy } from './beginnings';
import classes from './Projects.module.css';
import { Trash } from './Trash';

/** The start: all projects, and a new one. */
export function Projects() {
  useDocumentTitle(words.projects.projectsZolvet);
  const queries = useQueryClient();
  const [, go] = useLocation();
  const [doomed, setDoomed] = useState<Schemas['ListedProject'] | null>(null);
  const projects = useQuery({
    queryKey: ['projects'],
    queryFn: () => everyPart((from) => api.GET('/api/projects', { params: { query: { from } } })),
  });
  const [wanted, setWanted] = useState('');
  const [order, setOrder] = useState<Order>('changed');
  const shown = sorted(projects.data?.filter((project) => fits(wanted, project.name)) ?? [], order);
  const create = useMutation({
    mutationFn: (begin: () => Promise<Begun>) => begin(),
    onSuccess: ({ id, scene, piece, view }) => {
      void queries.invalidateQueries({ queryKey: ['projects'] });
      const place = scene && piece ? `?scene=${scene}&piece=${piece}` : '';
      go(`/projects/${id}${view ? `/${view}` : place}`);
    },
  });
  const remove = useMutation({
    // What somebody else has changed since it was listed is not deleted unseen.
    mutationFn: async ({ id, revision }: Schemas['ListedProject']) =>
      answer(
        await api.DELETE('/api/projects/{id}', {
          params: { path: { id }, header: { 'If-Match': `"${revision}"` } },
        }),
      ),
    onError: () => void queries.invalidateQueries({ queryKey: ['projects'] }),
    onSuccess: (_, { id }) => {
      if (session()?.id === id) closeSession();
      setDoomed(null);
      void queries.invalidateQueries({ queryKey: ['projects'] });
      void queries.invalidateQueries({ queryKey: ['trash'] });
    },
  });
  return (
    <main className={classes.page}>
      <Modal
        opened={doomed !== null}
        onClose={() => setDoomed(null)}
        title={words.projects.deleteQuestion(doomed?.name ?? '')}
        withCloseButton={false}
      >
        <Text size="sm" mb="md">
          {words.projects.aboutTrash}
        </Text>
        {remove.error && <Alert color="red">{remove.error.message}</Alert>}
        <Group justify="end">
          <Button variant="default" onClick={() => setDoomed(null)}>
            {words.projects.keepIt}
          </Button>
          <Button color="red" onClick={() => doomed && remove.mutate(doomed)}>
            {words.common.deleteIt}
          </Button>
        </Group>
      </Modal>
      <div>
        <Text className={classes.name}>{words.common.zolvet}</Text>
        <Title order={1} size="h2">
          {words.projects.projects}
        </Title>
      </div>
      <Begin start={create.mutate} />
      {create.isPending && <Text role="status">{words.projects.opening}</Text>}
      {create.error && (
        <Alert color="red" role="alert" title={words.projects.notBegun}>
          {create.error.message}
        </Alert>
      )}
      {projects.isError && (
        <Alert color="red" title={words.projects.theProjectsCouldNotBe}>
          {words.projects.nothingIsLost(projects.error.message)}
          <Anchor component="button" onClick={() => projects.refetch()}>
            {words.common.tryAgain}
          </Anchor>
        </Alert>
      )}
      {projects.data && projects.data.length > 0 && (
        <Group justify="space-between" gap={8}>
          <h2 className={classes.heading}>{words.projects.count(projects.data.length)}</h2>
          {projects.data.length > few && (
            <Narrow
              label={words.projects.search}
              value={wanted}
              onChange={setWanted}
              orderLabel={words.projects.order}
              orders={words.projects.orders}
              order={order}
              onOrder={setOrder}
            />
          )}
        </Group>
      )}
      {projects.data && projects.data.length > 0 && shown.length === 0 && (
        <Text c="dimmed">{words.common.nothingFound(wanted)}</Text>
      )}
      <ul className={classes.list}>
        {shown.map((project) => (
          <li key={project.id} className={classes.item}>
            <Link href={`/projects/${project.id}`} className={classes.card}>
              <Look id={project.id} />
              <span className={classes.caption}>
                <strong dir="auto">{project.name}</strong>
                <span className={classes.when}>
                  {words.projects.changed}
                  {at(project.changed_at)}
                </span>
              </span>
            </Link>
            <Menu position="bottom-end">
              <Menu.Target>
                <Quiet opens className={classes.more} aria-label={words.projects.moreFor(project.name)}>
                  {words.bench.moreActions}
                </Quiet>
              </Menu.Target>
              <Menu.Dropdown>
                <Menu.Item
                  onClick={() => create.mutate(() => beginWithCopy(project.id, copyName(project.name)))}
                >
                  {words.common.duplicate}
                </Menu.Item>
                <Menu.Item component={Link} href={`/projects/${project.id}/hand-off`}>
                  {words.frame.exportIt}
                </Menu.Item>
                <Menu.Item onClick={() => setDoomed(project)}>{words.common.deleteIt}</Menu.Item>
              </Menu.Dropdown>
            </Menu>
          </li>
        ))}
      </ul>
      <Trash />
    </main>
  );
}

type Order = 'changed' | 'name';

/** They come with the one that was changed last first. */
function sorted(projects: Schemas['ListedProject'][], order: Order): Schemas['ListedProject'][] {
  if (order === 'changed') return projects;
  return projects.toSorted((one, other) => one.name.localeCompare(other.name));
}

/** The first scene of a project. */
function Look({ id }: { id: string }) {
  const card = useRef<HTMLSpanElement>(null);
  const seen = useSeen(card);
  const look = useQuery({
    queryKey: ['look', id],
    enabled: seen,
    queryFn: async () => {
      const project = answer(await api.GET('/api/projects/{id}', { params: { path: { id } } })).document;
      const scene = project.scenes[0];
      if (!scene) return null;
      const result = await api.POST('/api/preview', {
        body: { project, scene: scene.id, scale: 0.75 },
        headers: { Accept: 'image/png' },
        parseAs: 'blob',
      });
      return answer(result) as unknown as Blob;
    },
  });
  const address = useAddress(look.data);
  return (
    <span ref={card} className={classes.look}>
      {address && <img src={address} alt="" />}
    </span>
  );
}
