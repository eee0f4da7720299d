import { useEffect, useRef, useState } from 'react';
import { answer, api, type Project, type Report, type Schemas } from '../api/client';
import { onlyScene, useDocument } from '../document/store';

/**
 * Asks the service again whenever the question changes, one question at a time and always the newest; the last
 * answer stays until the next is there.
 */
function useAnswer<Q, A>(question: Q | null, ask: (question: Q) => Promise<A>, pause: number): A | null {
  const [latest, setLatest] = useState<A | null>(null);
  const waiting = useRef<Q | null>(null);
  const busy = useRef(false);
  const asking = useRef(ask);
  asking.current = ask;
  useEffect(() => {
    waiting.current = question;
    if (question === null) setLatest(null);
    const pump = async () => {
      if (busy.current) return;
      busy.current = true;
      while (waiting.current !== null) {
        const next = waiting.current;
        waiting.current = null;
        try {
          setLatest(await asking.current(next));
        } catch {
          // The stage says when the service is away; instruments keep what they show.
        }
      }
      busy.current = false;
    };
    const timer = window.setTimeout(pump, pause);
    return () => window.clearTimeout(timer);
  }, [question, pause]);
  return latest;
}

interface Chosen {
  project: Project;
  scene: string;
  piece: string | null;
}

/** The document with what is chosen in it, the same object as long as nothing of it changes. */
function useChosen(): Chosen | null {
  const project = useDocument((state) => state.document);
  const scene = useDocument((state) => state.scene);
  const piece = useDocument((state) => state.piece);
  const kept = useRef<Chosen | null>(null);
  const last = kept.current;
  if (!project || !scene) kept.current = null;
  else if (!last || last.project !== project || last.scene !== scene || last.piece !== piece) {
    kept.current = { project, scene, piece };
  }
  return kept.current;
}

/** Everything the core says about the chosen piece. */
export function useReport(): Report | null {
  const chosen = useChosen();
  const ask = async ({ project, scene, piece }: Chosen) =>
    answer(
      await api.POST('/api/resolve', {
        body: { project: onlyScene(project, scene), scene, piece: piece ?? '' },
      }),
    );
  return useAnswer(chosen?.piece ? chosen : null, ask, 60);
}

/** Small pictures of the scene's pieces and the chosen piece's coats. */
export function useThumbnails(): Schemas['Thumbnails'] | null {
  const ask = async ({ project, scene, piece }: Chosen) =>
    answer(
      await api.POST('/api/thumbnails', {
        body: { project: onlyScene(project, scene), scene, piece, additions: piece !== null },
      }),
    );
  return useAnswer(useChosen(), ask, 250);
}
