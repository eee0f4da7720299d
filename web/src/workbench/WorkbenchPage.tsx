import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { ApiFailure, answer, api } from '../api/client';
import { startSaving } from '../document/saving';
import { useDocument } from '../document/store';
import { Lost, Waiting } from '../parts/Message';
import { Workbench } from './Workbench';

export function WorkbenchPage({ id }: { id: string }) {
  const opened = useDocument((state) => state.id === id && state.document !== null);
  const project = useQuery({
    queryKey: ['project', id],
    queryFn: async () => answer(await api.GET('/api/projects/{id}', { params: { path: { id } } })),
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const { data, error } = project;
  useEffect(() => {
    if (data) startSaving(data.id, data.revision, data.document);
  }, [data]);
  if (error) {
    const gone = error instanceof ApiFailure && error.status === 404;
    return (
      <Lost title={gone ? 'This project is not here' : 'The project could not be read'}>
        {gone ? 'It may have been deleted.' : `${error.message} Nothing is lost.`}
      </Lost>
    );
  }
  return opened && data ? <Workbench /> : <Waiting what="Opening the project" />;
}
