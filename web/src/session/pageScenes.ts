import { zipSync } from 'fflate';
import {
  editor,
  fetchInTime,
  PATIENCE,
  type Problem,
  type Project,
  type Scene,
  type Schemas,
} from '../core/client';
import { words } from '../messages';
import { addAsset } from './assets';
import { chooseScene } from './choice';
import type { PlacedFile } from './iconSet';
import { sceneOf } from './lookup';
import { newId } from './newId';
import { edit, together, useDocument } from './store';

/** The scenes of a project without those that are pages. */
export function plainScenes(document: Project): Scene[] {
  return document.scenes.filter((scene) => !scene.page);
}

/** The scenes of a project that have a page as their ground. */
export function pageScenes(document: Project): Scene[] {
  return document.scenes.filter((scene) => scene.page);
}

/** Opens a scene of the kind that a view shows, unless one is open. */
export function openSceneOf(kind: 'page' | 'plain') {
  const { document, scene } = useDocument.getState();
  if (!document) return;
  const fitting = kind === 'page' ? pageScenes(document) : plainScenes(document);
  const [first] = fitting;
  if (first && !fitting.some(({ id }) => id === scene)) chooseScene(first.id);
}

/** Px of the page that scenes of pages are made for. */
const SIZE = { width: 1280, height: 800 };

/** Brings a page in: a file, or a folder of files; says what it refers to and does not have. */
export async function addPage(brought: PlacedFile[]): Promise<Schemas['KeptPage']> {
  const kept = await send(await packed(brought));
  const id = newId();
  together(() => {
    addAsset(kept.asset);
    edit((draft) => {
      draft.scenes.push({
        id,
        name: kept.asset.name,
        ...SIZE,
        theme: draft.themes[0]?.id ?? '',
        ground: { kind: 'solid', colour: '#ffffff' },
        pieces: [],
        page: { asset: kept.asset.id },
      });
    });
  });
  chooseScene(id);
  return kept;
}

/** Takes a page out of the project. */
export function removePage(id: string) {
  edit((draft) => {
    const asset = sceneOf(draft, id)?.page?.asset;
    draft.scenes = draft.scenes.filter((scene) => scene.id !== id);
    if (!draft.scenes.some((scene) => scene.page?.asset === asset)) {
      draft.assets = draft.assets?.filter((other) => other.id !== asset);
    }
  });
  const { document } = useDocument.getState();
  const next = document && (pageScenes(document)[0] ?? plainScenes(document)[0]);
  if (next) chooseScene(next.id);
}

async function packed(brought: PlacedFile[]): Promise<Blob> {
  const [only] = brought;
  if (only && brought.length === 1) return only.file;
  const files: Record<string, [Uint8Array, { level: 0 }]> = {};
  for (const { path, file } of brought) {
    files[path.replace(/^\/+/, '')] = [new Uint8Array(await file.arrayBuffer()), { level: 0 }];
  }
  return new Blob([zipSync(files) as Uint8Array<ArrayBuffer>]);
}

async function send(body: Blob): Promise<Schemas['KeptPage']> {
  const headers = { ...editor, 'Content-Type': 'application/octet-stream' };
  const response = await fetchInTime('/api/pages', { method: 'POST', headers, body }, PATIENCE);
  const answer = (await response.json()) as Schemas['KeptPage'] | Problem;
  if (!response.ok) throw new Error((answer as Problem).detail || words.core.theServiceDoesNotAnswer);
  return answer as Schemas['KeptPage'];
}
