import { TextInput, type TextInputProps } from '@mantine/core';
import { useState } from 'react';
import { prefix } from '../core/constants';
import { words } from '../messages';

interface Props extends Omit<TextInputProps, 'value' | 'onChange'> {
  value: string;
  onTake: (name: string) => void;
}

/** A field for the beginning of a CSS name, or none; it is taken when the field is left. */
export function CssName({ value, onTake, ...props }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const wrong = draft !== null && !prefix.test(draft);
  const take = () => {
    if (draft !== null && !wrong && draft !== value) onTake(draft);
    setDraft(null);
  };
  return (
    <TextInput
      size="xs"
      spellCheck={false}
      placeholder={words.common.none}
      {...props}
      value={draft ?? value}
      error={wrong && words.handOff.nameLetters}
      onChange={(event) => setDraft(event.currentTarget.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take();
        if (event.key === 'Escape') setDraft(null);
      }}
    />
  );
}
