import { commit } from '../session/store';

const textTypes = new Set(['text', 'search', 'url', 'tel', 'email', 'password', 'number']);

/** Whether something is typed into: a text field, not a switch or slider. */
export function isTyped(element: EventTarget | null): element is HTMLInputElement | HTMLTextAreaElement {
  if (element instanceof HTMLTextAreaElement) return true;
  return element instanceof HTMLInputElement && textTypes.has(element.type);
}

/**
 * What holds for the whole page: a press anywhere ends what was going on before, and takes what was typed where it was
 * meant to go, before anything reacts to the press; after a key, something has the focus.
 */
export function watchInteraction() {
  window.addEventListener(
    'pointerdown',
    (event) => {
      const field = document.activeElement;
      if (isTyped(field) && event.target !== field) field.blur();
      commit();
    },
    true,
  );
  window.addEventListener('blur', (event) => event.target === window && commit());
  let chain: Element[] = [];
  window.addEventListener('focusin', (event) => {
    chain = event.target instanceof Element ? ancestorsOf(event.target) : chain;
  });
  window.addEventListener(
    'keydown',
    () => requestAnimationFrame(() => requestAnimationFrame(keepFocus)),
    true,
  );
  function keepFocus() {
    if (document.activeElement !== document.body && document.activeElement !== null) return;
    // The part of the page where the focus was: what had it has gone, or was left on purpose.
    const left = chain.find((element) => element.isConnected && element !== document.body);
    const place = left?.closest('section, article, [role=dialog], main') ?? document.querySelector('main');
    if (!(place instanceof HTMLElement)) return;
    if (place.tabIndex < 0 && !place.hasAttribute('tabindex')) place.setAttribute('tabindex', '-1');
    place.focus({ preventScroll: true });
  }
}

/** An element and all it lies in, the nearest first. */
function ancestorsOf(element: Element): Element[] {
  const found: Element[] = [];
  for (let at: Element | null = element; at && at !== document.documentElement; at = at.parentElement) {
    found.push(at);
  }
  return found;
}
