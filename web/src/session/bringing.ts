import { create } from 'zustand';
import { answer, api, type Project, type Schemas } from '../core/client';

export type Format = Schemas['IncomingFormat'];

/** Files that were opened or dropped to be imported; read as one. */
export interface Brought {
  format: Format;
  files: Schemas['IncomingFile'][];
}

interface Bringing {
  brought: Brought | null;
  /** Files of other kinds that came with them, which are shown next. */
  waiting: Brought[];
  /** What went wrong while the files were opened. */
  failed: string;
}

/** What is being imported, wherever it was dropped. */
export const useBringing = create<Bringing>()(() => ({ brought: null, waiting: [], failed: '' }));

const endings: [RegExp, Format][] = [
  [/\.css$/i, 'css'],
  [/\.svgz?$/i, 'svg'],
  [/\.zolvet\.json$/i, 'json'],
  [/\.(jsonc?|tokens)$/i, 'tokens'],
];

function formatOf(file: File): Format | null {
  return endings.find(([ending]) => ending.test(file.name))?.[1] ?? null;
}

/** Whether some of these files can be imported. */
export function canBring(files: File[]): boolean {
  return files.some((file) => formatOf(file) !== null);
}

/** Opens files to be imported: those of one kind are read as one, and shown after those of another. */
export async function bring(files: File[]) {
  const byKind = new Map<Format, File[]>();
  for (const file of files) {
    const format = formatOf(file);
    if (format) byKind.set(format, [...(byKind.get(format) ?? []), file]);
  }
  try {
    const all = [...byKind].map(async ([format, same]) => ({
      format,
      files: await Promise.all(same.map(read)),
    }));
    const [first, ...waiting] = await Promise.all(all);
    if (first) useBringing.setState({ brought: first, waiting, failed: '' });
  } catch (error) {
    const failed = error instanceof Error ? error.message : String(error);
    useBringing.setState({ brought: null, waiting: [], failed });
  }
}

/** Files of a folder keep their place in it: others refer to them by it. */
async function read(file: File) {
  return { name: file.webkitRelativePath || file.name, text: await textOf(file) };
}

/** What is shown is done with: files of another kind come next. */
export function putAway() {
  const [next = null, ...waiting] = useBringing.getState().waiting;
  useBringing.setState({ brought: next, waiting, failed: '' });
}

/** The text of a file, unpacked where it is packed. */
async function textOf(file: File): Promise<string> {
  if (!/\.svgz$/i.test(file.name)) return file.text();
  return new Response(file.stream().pipeThrough(new DecompressionStream('gzip'))).text();
}

/** What files would bring into a project. */
export async function readBrought(document: Project, brought: Brought, set: Record<string, string>) {
  const body = {
    project: { ...document, scenes: [] },
    ...brought,
    settings: { root_font_size: null, set, by_look: true },
  };
  return answer(await api.POST('/api/import', { body }));
}

/** Only these finishes of what files bring, with what they refer to. */
export function onlyChosen(
  found: Schemas['Incoming'],
  chosen: Set<string>,
  format: Format,
): Schemas['Incoming'] {
  const finishes = found.finishes.filter((finish) => chosen.has(finish.id));
  const text = JSON.stringify(finishes);
  const refers = (id: string) => text.includes(JSON.stringify(id));
  const swatches =
    format === 'tokens' ? found.swatches : found.swatches.filter((swatch) => refers(swatch.id));
  const themed = JSON.stringify(swatches) + text;
  return {
    ...found,
    finishes,
    swatches,
    lights: found.lights.filter((light) => refers(light.id)),
    themes: found.themes.filter((theme) => themed.includes(JSON.stringify(theme.id))),
  };
}
