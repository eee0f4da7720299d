import { Textarea } from '@mantine/core';
import { words } from '../messages';

interface Props {
  value: string;
  error?: string;
  onChange: (css: string) => void;
}

/** CSS to be pasted or typed. */
export function CssField({ value, error, onChange }: Props) {
  return (
    <Textarea
      data-autofocus
      aria-label={words.bench.cssToRead}
      placeholder={words.bench.cssExample}
      autosize
      minRows={4}
      maxRows={12}
      styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)' } }}
      value={value}
      error={error}
      onChange={(event) => onChange(event.currentTarget.value)}
    />
  );
}
