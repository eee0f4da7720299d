/** What this browser remembers; nothing where it is not let to. */
export function remembered(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}

/** Remembers a text, where there is room and it is let to. */
export function remember(key: string, value: string) {
  try {
    localStorage.setItem(key, value);
  } catch {
    // Then it is asked for, or chosen, again.
  }
}
