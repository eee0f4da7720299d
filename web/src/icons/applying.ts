import { zipSync } from 'fflate';
import type { Project, Schemas } from '../core/client';
import { ApiFailure } from '../core/client';
import { askService } from '../core/core';
import type { RequestOf } from '../core/queries';
import type { IconFile } from '../session/iconSet';
import { batchesOf } from './batches';
import type { Room } from './wearing';

/** How all files are given the finish. */
type Applying = Omit<RequestOf<'/api/icons/apply'>, 'files' | 'output' | 'room'> & { project: Project };

/** Files, the room that each gets, and how all are given the finish. */
interface Wanted {
  files: IconFile[];
  roomOf: (file: IconFile) => Room;
  how: Applying;
}

/** What became of the files. */
export interface Applied {
  archive: Uint8Array<ArrayBuffer>;
  saved: number;
  refused: { name: string; error: string }[];
  /** What was approximated, and in how many files. */
  notes: [string, number][];
}

/** Batches that are on their way at a time. */
const LANES = 2;

interface Making {
  output: Schemas['IconOutput'];
  signal: AbortSignal;
  onProgress: (done: number) => void;
}

/** Gives files the finish and packs them, under their names. One that cannot be drawn does not end it. */
export async function applyToAll(
  { files, roomOf, how }: Wanted,
  { output, signal, onProgress }: Making,
): Promise<Applied> {
  const entries: Record<string, Uint8Array> = {};
  const [refused, notes] = [[] as Applied['refused'], new Map<string, number>()];
  let done = 0;
  const waiting = byRoom(files, roomOf).flatMap(({ room, files }) =>
    batchesOf(files).map((batch) => ({ room, batch })),
  );
  const work = async () => {
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const { room, batch } = next;
      const answers = await applied(batch, { ...how, room, output }, signal);
      for (const [at, file] of batch.entries()) {
        const answer = answers[at];
        if (answer?.kind === 'svg') {
          entries[`${file.name}.svg`] = new TextEncoder().encode(answer.svg);
          for (const message of new Set(answer.notes.map((note) => note.message))) {
            notes.set(message, (notes.get(message) ?? 0) + 1);
          }
        } else if (answer?.kind === 'png') entries[`${file.name}.png`] = bytesOf(answer.png);
        else refused.push({ name: file.name, error: answer?.error ?? '' });
      }
      done += batch.length;
      onProgress(done);
    }
  };
  await Promise.all(Array.from({ length: LANES }, work));
  // In the order of the files, whichever was made first.
  const ending = output.kind === 'svg' ? 'svg' : 'png';
  const ordered = files.flatMap(({ name }) => {
    const bytes = entries[`${name}.${ending}`];
    return bytes ? [[`${name}.${ending}`, bytes] as const] : [];
  });
  // Pictures are packed already.
  const archive = zipSync(Object.fromEntries(ordered), { level: output.kind === 'svg' ? 6 : 0 });
  return { archive, saved: ordered.length, refused, notes: [...notes] };
}

/** One that is too much for the service must not keep the others of its batch from being made. */
async function applied(
  batch: IconFile[],
  how: Omit<RequestOf<'/api/icons/apply'>, 'files'>,
  signal: AbortSignal,
): Promise<Schemas['AppliedFile'][]> {
  try {
    const files = batch.map((file) => file.data);
    return await askService('/api/icons/apply', { ...how, files }, signal);
  } catch (error) {
    if (!(error instanceof ApiFailure) || error.status >= 500) throw error;
    if (batch.length === 1) return [{ kind: 'refused', error: error.message }];
    const each: Schemas['AppliedFile'][] = [];
    for (const file of batch) each.push(...(await applied([file], how, signal)));
    return each;
  }
}

/** Files that get the same room are made together. */
function byRoom(files: IconFile[], roomOf: Wanted['roomOf']): { room: Room; files: IconFile[] }[] {
  const groups = new Map<string, { room: Room; files: IconFile[] }>();
  for (const file of files) {
    const room = roomOf(file);
    const group = groups.get(room.join()) ?? { room, files: [] };
    group.files.push(file);
    groups.set(room.join(), group);
  }
  return [...groups.values()];
}

function bytesOf(address: string): Uint8Array {
  const text = atob(address.slice(address.indexOf(',') + 1));
  return Uint8Array.from(text, (letter) => letter.charCodeAt(0));
}
