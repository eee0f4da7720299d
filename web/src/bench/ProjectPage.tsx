import { useQuery } from '@tanstack/react-query';
import { dequal } from 'dequal';
import { type ComponentType, useEffect } from 'react';
import { ApiFailure, answer, api, type Schemas } from '../core/client';
import { Lost, Waiting } from '../parts/Message';
import { keptOf } from '../session/keeping';
import { resume, startSaving } from '../session/saving';
import { useDocument } from '../session/store';

/** A view of a project, once that is here. */
export function ProjectPage({ id, view: View }: { id: string; view: ComponentType }) {
  const opened = useDocument((state) => state.id === id && state.document !== null);
  const project = useQuery({
    queryKey: ['project', id],
    queryFn: async () => answer(await api.GET('/api/projects/{id}', { params: { path: { id } } })),
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const { data, error } = project;
  useEffect(() => {
    if (data) void begin(id, data);
    else if (error && !(error instanceof ApiFailure)) void begin(id, null);
  }, [id, data, error]);
  if (error && !opened) {
    const gone = error instanceof ApiFailure && error.status === 404;
    return (
      <Lost title={gone ? 'This project is not here' : 'The project could not be read'}>
        {gone ? 'It may have been deleted.' : `${error.message} Nothing is lost.`}
      </Lost>
    );
  }
  return opened ? <View /> : <Waiting what="Opening the project" />;
}

/** Opens what is stored, and goes on with what this browser kept and never saved. */
async function begin(id: string, now: Schemas['Stored'] | null) {
  const kept = await keptOf(id);
  const same = kept && now && dequal(kept.document, now.document);
  if (kept && !same) resume(id, kept, now);
  else if (now) startSaving(id, now.revision, now.document);
}
