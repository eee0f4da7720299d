import { useQueries } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Project, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { type IconFile, useIconSet } from '../session/iconSet';
import { batchesOf } from './batches';

/** What is done with all files. */
export interface Choice {
  finish: string | null;
  theme: string | null;
  /** Px on the longer side at which the finish is laid on; null for the size in the file. */
  size: number | null;
  edge: Schemas['Edge'];
}

export const usual: Choice = { finish: null, theme: null, size: null, edge: 'grow' };

/** What was chosen, as far as the project still has it. */
export function choiceIn({ finishes = [], themes }: Project, { finish, theme, ...more }: Choice): Choice {
  const known = (list: { id: string }[], id: string | null) =>
    (list.find((one) => one.id === id) ?? list[0])?.id ?? null;
  return { finish: known(finishes, finish), theme: known(themes, theme), ...more };
}

/** A project as far as files wear it: one finish, and what that refers to. */
export interface Worn {
  project: Project;
  finish: string;
  theme: string;
  size: number | null;
  /** The same text as long as the same is worn. */
  key: string;
}

export function useWorn(document: Project | null, choice: Choice | null): Worn | null {
  const { finish = null, theme = null, size = null } = choice ?? {};
  return useMemo(() => {
    const worn = document?.finishes?.find((one) => one.id === finish);
    if (!document || !worn || !theme) return null;
    const { name, note, ...looks } = worn;
    const finishes = [{ ...looks, name: worn.id }];
    const project = { ...document, name: '', finishes, scale: [], scenes: [], assets: [], accepted: [] };
    return { project, finish: worn.id, theme, size, key: JSON.stringify([project, theme, size]) };
  }, [document, finish, theme, size]);
}

export type Room = [number, number, number, number];

/** What is known of the room that the finish takes. */
export interface Rooms {
  /** Of each file, by its id. */
  of: ReadonlyMap<string, Schemas['FileRoom']>;
  /** The room that each file gets, by its id; none until all are known. */
  given: ReadonlyMap<string, Room>;
  /** The rooms that files get, one for all that share it. */
  sizes: Room[];
}

/** Asks how much room the finish takes around each file. */
export function useRooms(files: IconFile[], worn: Worn | null, choice: Choice | null): Rooms {
  const batches = useMemo(() => (worn ? batchesOf(files) : []), [files, worn]);
  const answers = useQueries({
    queries: batches.map((batch) => ({
      queryKey: ['room', worn?.key, ...batch.map(({ id }) => id)],
      queryFn: ({ signal }: { signal: AbortSignal }) => roomsOf(batch, worn as Worn, signal),
      staleTime: Number.POSITIVE_INFINITY,
      retry: 1,
    })),
    combine: (told) => told.map(({ data }) => data),
  });
  const edge = choice?.edge;
  const leftOut = useIconSet((set) => set.leftOut);
  return useMemo(() => {
    const of = new Map<string, Schemas['FileRoom']>();
    for (const [at, batch] of batches.entries()) {
      for (const [place, file] of batch.entries()) {
        const room = answers[at]?.[place];
        if (room) of.set(file.id, room);
      }
    }
    if (of.size < files.length || !worn) return { of, given: new Map(), sizes: [] };
    return { of, ...given(of, (id) => edge !== 'cut' && !leftOut.has(id)) };
  }, [answers, batches, files, worn, edge, leftOut]);
}

/** What files get: as much as the one of those they share it with that needs most, as far as it counts. */
function given(of: Rooms['of'], counts: (id: string) => boolean): Pick<Rooms, 'given' | 'sizes'> {
  const shared = new Map<string, Room>();
  const given = new Map<string, Room>();
  for (const [id, room] of of) {
    if (room.kind !== 'read') continue;
    const sharing = room.sharing.join(' ');
    const most: Room = shared.get(sharing) ?? [0, 0, 0, 0];
    if (counts(id)) for (const [at, side] of room.room.entries()) most[at] = Math.max(most[at] ?? 0, side);
    shared.set(sharing, most);
    given.set(id, most);
  }
  return { given, sizes: [...shared.values()] };
}

async function roomsOf(
  batch: IconFile[],
  { project, finish, theme, size }: Worn,
  signal: AbortSignal,
): Promise<Schemas['FileRoom'][]> {
  const ask = (files: IconFile[]) =>
    askCore(
      '/api/icons/rooms',
      { project, finish, theme, size, files: files.map(({ data }) => data) },
      signal,
    );
  try {
    return await ask(batch);
  } catch (error) {
    if (signal.aborted) throw error;
    // One that is too much must not keep the others from being known.
    const each = batch.map(async (file): Promise<Schemas['FileRoom']> => {
      try {
        return (await ask([file]))[0] ?? { kind: 'refused', error: '' };
      } catch (failure) {
        return { kind: 'refused', error: (failure as Error).message };
      }
    });
    return Promise.all(each);
  }
}
