import { useHotkeys } from '@mantine/hooks';
import { redo, undo } from '../session/store';

/** Undo and redo by keys, in every view of a project. */
export function useTurnKeys() {
  useHotkeys(
    [
      ['mod+Z', (event) => turn(event, undo), { preventDefault: false }],
      ['mod+shift+Z', (event) => turn(event, redo), { preventDefault: false }],
      ['mod+Y', (event) => turn(event, redo), { preventDefault: false }],
    ],
    [],
  );
}

/** What was typed and not taken yet is undone by the field itself; all else with the document. */
function turn(event: KeyboardEvent, action: () => void) {
  const field = event.target;
  // What is behind a dialog is not what is looked at.
  if (document.querySelector('[role=dialog][aria-modal]')) return;
  if (field instanceof HTMLTextAreaElement || (field instanceof HTMLElement && field.dataset.draft)) return;
  event.preventDefault();
  action();
}
