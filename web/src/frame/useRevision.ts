import { useQuery } from '@tanstack/react-query';
import { answer, api } from '../core/client';

/** A revision's document, once it is wanted. */
export function useRevision(id: string, revision: number, wanted: boolean) {
  return useQuery({
    queryKey: ['revision', id, revision],
    queryFn: async () =>
      answer(await api.GET('/api/projects/{id}/revisions/{revision}', { params: { path: { id, revision } } }))
        .document,
    enabled: wanted,
    staleTime: Number.POSITIVE_INFINITY,
  });
}
