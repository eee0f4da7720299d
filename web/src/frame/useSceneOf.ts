import { useEffect, useRef } from 'react';
import { useLocation } from 'wouter';
import { sceneOf } from '../session/lookup';
import { openSceneOf } from '../session/pageScenes';
import { useDocument } from '../session/store';

/**
 * Opens a scene of the view's kind, if there is one. Where one of the other kind is opened from the view, by a coat in the list
 * of a light or by undoing, the view that shows it is opened.
 */
export function useSceneOf(kind: 'page' | 'plain') {
  const [, navigate] = useLocation();
  const shown = useDocument((state) => sceneOf(state.document, state.scene)?.page !== undefined);
  const begun = useRef(false);
  useEffect(() => openSceneOf(kind), [kind]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the kind of the open scene is what changes.
  useEffect(() => {
    const { document, scene, id } = useDocument.getState();
    const open = sceneOf(document, scene);
    const isOther = open && Boolean(open.page) !== (kind === 'page');
    if (begun.current && isOther) navigate(`/projects/${id}${open.page ? '/page' : ''}`);
    begun.current = true;
  }, [shown, kind, navigate]);
}
