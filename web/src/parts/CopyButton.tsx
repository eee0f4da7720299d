import { Button } from '@mantine/core';
import { useTimeout } from '@mantine/hooks';
import { useEffect, useState } from 'react';
import { words } from '../messages';

interface Props {
  text: string;
  what: string;
  /** The one filled button of a screen. */
  main?: boolean;
  /** What is copied stands there as quiet text. */
  quiet?: boolean;
  /** Whether the text says what holds now; while it does not, a press waits until it does. */
  fresh?: boolean;
}

type State = 'ready' | 'waiting' | 'copied' | 'refused';

/** Copies a text, never one that is out of date. */
export function CopyButton({ text, what, main, quiet, fresh = true }: Props) {
  const [state, setState] = useState<State>('ready');
  const { start } = useTimeout(() => setState('ready'), 2000);
  useEffect(() => {
    if (state !== 'waiting' || !fresh) return;
    copy(text).then((copied) => {
      setState(copied ? 'copied' : 'refused');
      start();
    });
  }, [state, fresh, text, start]);
  const offer = quiet ? what : main ? words.common.copy : words.parts.copy(what);
  const said = {
    ready: offer,
    waiting: offer,
    copied: words.parts.copied,
    refused: words.parts.blocked,
  }[state];
  return (
    <Button
      size={quiet ? 'compact-xs' : 'compact-sm'}
      variant={quiet ? 'subtle' : main ? 'filled' : 'default'}
      aria-label={offer === said ? words.parts.copy(what) : undefined}
      loading={state === 'waiting' && !fresh}
      onClick={() => setState('waiting')}
      aria-live="polite"
    >
      {said}
    </Button>
  );
}

/** Where the page comes over plain HTTP from another machine, browsers have only the older way. */
async function copy(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text);
    return true;
  } catch {
    return copyByEvent(text);
  }
}

function copyByEvent(text: string): boolean {
  let copied = false;
  const put = (event: ClipboardEvent) => {
    event.clipboardData?.setData('text/plain', text);
    event.preventDefault();
    event.stopImmediatePropagation();
    copied = true;
  };
  window.addEventListener('copy', put, true);
  document.execCommand('copy');
  window.removeEventListener('copy', put, true);
  return copied;
}
