import { Button } from '@mantine/core';
import { useState } from 'react';

export function CopyButton({ text, what }: { text: string; what: string }) {
  const [said, setSaid] = useState<string | null>(null);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      setSaid('Copied');
    } catch {
      setSaid('Not allowed here: select it and copy');
    }
    window.setTimeout(() => setSaid(null), 2000);
  };
  return (
    <Button size="compact-sm" variant="default" onClick={copy} aria-live="polite">
      {said ?? `Copy ${what}`}
    </Button>
  );
}
