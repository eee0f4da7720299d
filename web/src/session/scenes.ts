import type { Scene, Schemas } from '../core/client';
import { words } from '../messages';
import { chooseScene } from './choice';
import { sceneOf } from './lookup';
import { copyName } from './names';
import { newId } from './newId';
import { edit, useDocument } from './store';

/** Changes the open scene. */
export function editScene(change: (scene: Scene) => void, gesture = false) {
  const { scene } = useDocument.getState();
  edit((draft) => {
    const current = sceneOf(draft, scene);
    if (current) change(current);
  }, gesture);
}

/** Adds an empty scene with the ground and size of the open one, and opens it. */
export function addScene() {
  const { document, scene } = useDocument.getState();
  if (!document) return;
  const like = sceneOf(document, scene);
  const id = newId();
  const ground: Schemas['Fill'] = like ? structuredClone(like.ground) : { kind: 'solid', colour: '#e8e4da' };
  edit((draft) => {
    draft.scenes.push({
      id,
      name: words.session.scene(draft.scenes.length + 1),
      width: like?.width ?? 960,
      height: like?.height ?? 600,
      theme: like?.theme ?? draft.themes[0]?.id ?? '',
      ground,
      pieces: [],
    });
  });
  chooseScene(id);
}

export function duplicateScene() {
  const { document, scene } = useDocument.getState();
  const like = sceneOf(document, scene);
  if (!like) return;
  const id = newId();
  edit((draft) => {
    const at = draft.scenes.findIndex((other) => other.id === like.id);
    draft.scenes.splice(at + 1, 0, { ...structuredClone(like), id, name: copyName(like.name) });
  });
  chooseScene(id);
}

export function removeScene() {
  const { document, scene } = useDocument.getState();
  const next = document?.scenes.find((other) => other.id !== scene);
  if (!next) return;
  edit((draft) => {
    draft.scenes = draft.scenes.filter((other) => other.id !== scene);
  });
  chooseScene(next.id);
}
