import { limits } from '../core/constants';

/** A name like this that is not taken. */
export function freeName(name: string, taken: { name: string }[] = []): string {
  const names = new Set(taken.map((other) => other.name));
  for (let number = 1; ; number++) {
    const tried = number === 1 ? withEnding(name, '') : withEnding(name, ` ${number}`);
    if (!names.has(tried)) return tried;
  }
}

/** The name of a copy. */
export function copyName(name: string): string {
  return withEnding(name, ' copy');
}

/** A name with an ending, no longer than names may be. Characters stay whole: half of one could not be saved. */
function withEnding(name: string, ending: string): string {
  const characters = [...name];
  return characters.slice(0, limits.nameCharacters - ending.length).join('') + ending;
}
