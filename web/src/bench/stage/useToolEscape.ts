import { useEffect } from 'react';
import { useView } from '../../session/view';

/** Escape puts a tool away, before anything else hears of the key; gives what puts it away. */
export function useToolEscape(): () => void {
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key !== 'Escape') return;
      event.stopPropagation();
      leave();
    };
    window.addEventListener('keydown', onKeyDown, true);
    return () => window.removeEventListener('keydown', onKeyDown, true);
  }, []);
  return leave;
}

const leave = () => useView.setState({ tool: 'hand' });
