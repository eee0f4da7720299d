import { Button } from '@mantine/core';
import { useClipboard } from '@mantine/hooks';

export function CopyButton({ text, what }: { text: string; what: string }) {
  const { copy, copied, error } = useClipboard({ timeout: 2000 });
  const said = error ? 'Not allowed here: select it and copy' : copied ? 'Copied' : `Copy ${what}`;
  return (
    <Button size="compact-sm" variant="default" onClick={() => copy(text)} aria-live="polite">
      {said}
    </Button>
  );
}
