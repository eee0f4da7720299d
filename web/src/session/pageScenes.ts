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
import type { PlacedFile } from './dropped';
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
  const kept = await keepPage(brought);
  const id = newId();
  together(() => {
    addAsset(kept.asset);
    edit((draft) => {
      draft.scenes.push(sceneOfPage(id, kept, draft.themes[0]?.id ?? ''));
    });
  });
  chooseScene(id);
  return kept;
}

/** The service keeps a page: a file, or a folder of files. */
export async function keepPage(brought: PlacedFile[]): Promise<Schemas['KeptPage']> {
  return send(await packed(brought));
}

/** A scene with a page as its ground. */
export function sceneOfPage(id: string, { asset }: Schemas['KeptPage'], theme: string): Scene {
  return {
    id,
    name: asset.name,
    ...SIZE,
    theme,
    ground: { kind: 'solid', colour: '#ffffff' },
    pieces: [],
    page: { asset: asset.id },
  };
}

/** The endings of files that are pages, or hold one. */
export const PAGE_FILES = '.html,.htm,.xhtml,.mhtml,.mht,.zip';

export function isPage(path: string): boolean {
  return PAGE_FILES.split(',').some((ending) => path.toLowerCase().endsWith(ending));
}

/** Whether a text is markup that stands for a page; an SVG is an icon. */
export function isMarkup(text: string): boolean {
  return /^\s*<(?!svg[\s>]|\?xml)[a-z!][\s\S]*>\s*$/i.test(text);
}

/** Markup and CSS as the file of a page. */
export function pastedPage(markup: string, css: string): PlacedFile[] {
  const style = css.trim() ? `<style>${css.replaceAll('</style', '<\\/style')}</style>\n` : '';
  const name = words.pages.pasted;
  const title = /<title[\s>]/i.test(markup) ? '' : `<title>${name}</title>\n`;
  const isWhole = /<!doctype|<html[\s>]/i.test(markup);
  // Where there is a doctype, nothing stands before it.
  const html = isWhole
    ? `${markup}\n${title}${style}`
    : `<!doctype html>\n<meta charset="utf-8">\n${title}${style}${markup}`;
  return [{ path: `${name}.html`, file: new File([html], `${name}.html`, { type: 'text/html' }) }];
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
