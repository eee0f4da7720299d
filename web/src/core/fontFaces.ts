import { useEffect, useState } from 'react';
import type { Schemas } from './client';
import { fontFaces } from './constants';

/** Fonts that are loaded, by what they are. */
const loaded = new Map<string, Promise<unknown>>();

/**
 * Whether the browser has the fonts that ship and those that the project brings, which code of the project needs. What
 * cannot be loaded is left to the browser's own fonts.
 */
export function useFontFaces(assets: Schemas['Asset'][] | undefined): boolean {
  const [ready, setReady] = useState(false);
  useEffect(() => {
    let here = true;
    const ship = fontFaces.map(({ family, weight, file }) => once(family, weight, `/fonts/${file}`));
    const own = (assets ?? []).flatMap(({ id, font }) =>
      font ? once(font.family, font.weights.join(' '), `/api/assets/${id}`) : [],
    );
    setReady(false);
    void Promise.allSettled([...ship, ...own]).then(() => here && setReady(true));
    return () => {
      here = false;
    };
  }, [assets]);
  return ready;
}

function once(family: string, weight: string, address: string): Promise<unknown> {
  const key = `${family}\n${weight}\n${address}`;
  const known = loaded.get(key) ?? load(family, weight, address);
  loaded.set(key, known);
  // What could not be loaded is tried again.
  known.catch(() => loaded.delete(key));
  return known;
}

async function load(family: string, weight: string, address: string) {
  document.fonts.add(await new FontFace(family, `url("${address}")`, { weight }).load());
}
