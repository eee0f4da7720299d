import { create } from 'zustand';
import { words } from '../messages';
import type { PlacedFile } from './dropped';
import { newId } from './newId';

/** A file of an icon set. */
export interface IconFile {
  id: string;
  /** Its path in the folder that was chosen, without the ending. */
  name: string;
  /** Its bytes in base 64. */
  data: string;
}

interface IconSet {
  files: IconFile[];
  /** The ids of those that are not saved. */
  leftOut: ReadonlySet<string>;
  /** What could not be taken, in words. */
  said: string | null;
}

const nothing: IconSet = { files: [], leftOut: new Set(), said: null };

/** The files that a finish is tried on: kept while the page is open, in whichever project. */
export const useIconSet = create<IconSet>()(() => nothing);

const MOST = 500;

export function isSvg(path: string): boolean {
  return /\.svgz?$/i.test(path);
}

/** Takes the SVG files among some into the set. */
export async function addIcons(brought: PlacedFile[]) {
  const found = brought.filter(({ path }) => isSvg(path));
  const room = MOST - useIconSet.getState().files.length;
  const left = found.length - Math.max(0, room);
  const read = await Promise.allSettled(found.slice(0, Math.max(0, room)).map(({ file }) => dataOf(file)));
  const said = read.flatMap(({ status }, at) =>
    status === 'rejected' ? [words.icons.unread(found[at]?.path ?? '')] : [],
  );
  if (left > 0) said.unshift(words.icons.tooMany(left));
  if (found.length === 0) said.unshift(words.icons.noSvg);
  const folder = folderOf(found.map(({ path }) => path));
  const named = read.flatMap((one, at) =>
    one.status === 'fulfilled'
      ? [{ id: newId(), name: nameIn(folder, found[at]?.path ?? ''), data: one.value }]
      : [],
  );
  useIconSet.setState(({ files }) => ({
    files: withNames([...files, ...named]),
    said: said.join(' ') || null,
  }));
}

export function removeIcons() {
  useIconSet.setState(nothing);
}

/** Leaves a file out of what is saved, or takes it in again. */
export function leaveOut(id: string, out: boolean) {
  useIconSet.setState(({ leftOut }) => {
    const after = new Set(leftOut);
    if (out) after.add(id);
    else after.delete(id);
    return { leftOut: after };
  });
}

/** So many SVG files at once are a set, and not pieces of a scene. */
export const SET = 8;

async function dataOf(file: File): Promise<string> {
  const address = await new Promise<string>((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.onerror = () => reject(reader.error);
    reader.readAsDataURL(file);
  });
  return address.slice(address.indexOf(',') + 1);
}

/** The folder that all files lie in, with its slash; nothing where there is none. */
function folderOf([first = '', ...others]: string[]): string {
  let folder = first.slice(0, first.lastIndexOf('/') + 1);
  while (others.some((path) => !path.startsWith(folder))) {
    folder = folder.slice(0, folder.lastIndexOf('/', folder.length - 2) + 1);
  }
  return folder;
}

function nameIn(folder: string, path: string): string {
  return path.slice(folder.length).replace(/\.svgz?$/i, '');
}

/** No two files have the same name: those that come later are numbered. */
function withNames(files: IconFile[]): IconFile[] {
  const taken = new Set<string>();
  return files.map((file) => {
    let { name } = file;
    for (let number = 2; taken.has(name.toLowerCase()); number += 1) name = `${file.name}-${number}`;
    taken.add(name.toLowerCase());
    return name === file.name ? file : { ...file, name };
  });
}
