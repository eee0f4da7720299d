import { useQuery } from '@tanstack/react-query';
import { answer, api, type Project } from '../core/client';
import { useAddress } from '../parts/useAddress';
import { onlyScene, sceneOf } from '../session/lookup';
import { useDocument } from '../session/store';

/** A picture of a version of the open project: of the scene that is open, or else of its first one. */
export function useLook(document: Project | null, scale = 0.5): string | null {
  const open = useDocument((state) => state.scene);
  const scene = (sceneOf(document, open) ?? document?.scenes[0])?.id;
  const look = useQuery({
    queryKey: ['look of', document, scene, scale],
    queryFn: async () => {
      if (!document || !scene) return null;
      const result = await api.POST('/api/preview', {
        body: { project: onlyScene(document, scene), scene, scale },
        headers: { Accept: 'image/png' },
        parseAs: 'blob',
      });
      return answer(result) as unknown as Blob;
    },
    enabled: document !== null,
    queryKeyHashFn: ([, of, ...rest]) => JSON.stringify([hashOf(of as Project | null), ...rest]),
    gcTime: 60_000,
  });
  return useAddress(look.data);
}

const numbers = new WeakMap<Project, number>();
let given = 0;

/** A number for each version: the same object is the same version. */
function hashOf(document: Project | null): number {
  if (!document) return 0;
  const known = numbers.get(document);
  if (known) return known;
  given += 1;
  numbers.set(document, given);
  return given;
}
