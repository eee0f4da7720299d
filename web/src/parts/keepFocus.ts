/** Longer than a menu takes to give the focus back. */
const AFTERWARDS = 80;

/**
 * What is about to be removed may have the focus, or what it goes back to. It goes to what stands in its place then: the one
 * of these at that place of the list, or the last one, or else what the list is in.
 */
export function keepFocus(these: string, at: number, otherwise: string) {
  if (document.activeElement === document.body) return;
  window.setTimeout(() => {
    // By then it may have gone to the whole region.
    const now = document.activeElement;
    if (now instanceof HTMLElement && now !== document.body && now.tabIndex >= 0) return;
    const left = document.querySelectorAll<HTMLElement>(these);
    const next = left[Math.min(at, left.length - 1)] ?? document.querySelector<HTMLElement>(otherwise);
    next?.focus();
  }, AFTERWARDS);
}
