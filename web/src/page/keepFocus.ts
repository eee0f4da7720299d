/** Longer than a menu takes to give the focus back. */
const AFTERWARDS = 80;

/** Ms until the list is drawn anew at the latest, however slow the machine and however much else there is to draw. */
const AT_MOST = 10_000;

/**
 * What is about to be removed may have the focus, or what it goes back to. It goes to what stands in its place then: the one
 * of these at that place of the list, or the last one, or else what the list is in.
 */
export function keepFocus(these: string, at: number, otherwise: string) {
  if (document.activeElement === document.body) return;
  const before = document.querySelectorAll(these).length;
  const until = performance.now() + AT_MOST;
  window.setTimeout(function look() {
    const left = document.querySelectorAll<HTMLElement>(these);
    // Lists are drawn after the stage: what is removed may still stand there.
    if (left.length === before && performance.now() < until) {
      window.setTimeout(look, AFTERWARDS);
      return;
    }
    // By then it may have gone to the whole region.
    const now = document.activeElement;
    if (now instanceof HTMLElement && now !== document.body && now.tabIndex >= 0) return;
    const next = left[Math.min(at, left.length - 1)] ?? document.querySelector<HTMLElement>(otherwise);
    next?.focus();
  }, AFTERWARDS);
}
