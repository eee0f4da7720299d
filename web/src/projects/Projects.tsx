import { Alert, Anchor, Button, Group, Modal, Text, Title } from '@mantine/core';
import { useDocumentTitle } from '@mantine/hooks';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useLocation } from 'wouter';
import { answer, api, everyPart, type Project, type Schemas } from '../core/client';
import { schema } from '../core/constants';
import { words } from '../messages';
import { useAddress } from '../parts/useAddress';
import { at } from '../parts/when';
import { closeSession, session } from '../session/session';
import classes from './Projects.module.css';
import { Trash } from './Trash';

const blank: Project = {
  schema,
  name: words.projects.newProject,
  themes: [{ id: 'light', name: words.common.light, scheme: 'light' }],
  swatches: [],
  lights: [{ id: 'main', name: words.projects.mainLight, bearing: 0, colour: '#ffffff', strength: 1 }],
  finishes: [],
  scale: [],
  assets: [],
  scenes: [
    {
      id: 'first',
      name: words.projects.firstScene,
      width: 640,
      height: 420,
      theme: 'light',
      ground: { kind: 'solid', colour: '#e6e6e6' },
      pieces: [
        {
          id: 'card',
          name: words.projects.card,
          shape: { kind: 'box', w: 280, h: 180, radii: 16 },
          x: 180,
          y: 120,
          fill: { kind: 'solid', colour: '#ffffff' },
          wear: { coats: [] },
        },
      ],
    },
  ],
};

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
  const create = useMutation({
    mutationFn: async () => answer(await api.POST('/api/projects', { body: blank })),
    onSuccess: (project) => {
      void queries.invalidateQueries({ queryKey: ['projects'] });
      go(`/projects/${project.id}`);
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
      <Group justify="space-between" align="end">
        <div>
          <Text className={classes.name}>{words.common.zolvet}</Text>
          <Title order={1}>{words.projects.projects}</Title>
        </div>
        <Button onClick={() => create.mutate()} loading={create.isPending}>
          {words.projects.newProject}
        </Button>
      </Group>
      {projects.isError && (
        <Alert color="red" title={words.projects.theProjectsCouldNotBe}>
          {words.projects.nothingIsLost(projects.error.message)}
          <Anchor component="button" onClick={() => projects.refetch()}>
            {words.common.tryAgain}
          </Anchor>
        </Alert>
      )}
      {projects.data?.length === 0 && <Text>{words.projects.noProjectsYetMakeOne}</Text>}
      <ul className={classes.list}>
        {projects.data?.map((project) => (
          <li key={project.id} className={classes.item}>
            <Link href={`/projects/${project.id}`} className={classes.card}>
              <Look id={project.id} />
              <span className={classes.caption}>
                <strong>{project.name}</strong>
                <span className={classes.when}>
                  {words.projects.changed}
                  {at(project.changed_at)}
                </span>
              </span>
            </Link>
            <Button
              className={classes.remove}
              size="compact-xs"
              variant="default"
              aria-label={words.projects.deleteOf(project.name)}
              onClick={() => setDoomed(project)}
            >
              {words.common.deleteIt}
            </Button>
          </li>
        ))}
      </ul>
      <Trash />
    </main>
  );
}

/** The first scene of a project. */
function Look({ id }: { id: string }) {
  const look = useQuery({
    queryKey: ['look', id],
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
  return <span className={classes.look}>{address && <img src={address} alt="" />}</span>;
}
