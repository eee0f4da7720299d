import { Button, Group } from '@mantine/core';
import { type ReactNode, useRef } from 'react';
import { words } from '../messages';
import classes from './Nothing.module.css';

interface Props {
  /** What it is for, and how files come in. */
  said: string[];
  /** What files are chosen by. */
  children: ReactNode;
}

/** Where files come in, while there are none. */
export function Nothing({ said, children }: Props) {
  return (
    <div className={classes.nothing}>
      {said.map((line) => (
        <p key={line}>{line}</p>
      ))}
      <Group gap={8} justify="center">
        {children}
      </Group>
    </div>
  );
}

/** Chooses all files of a folder. */
export function ChooseFolder({ onChoose }: { onChoose: (files: File[]) => void }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        hidden
        aria-label={words.common.chooseFolder}
        {...{ webkitdirectory: '' }}
        onChange={(event) => {
          onChoose([...(event.currentTarget.files ?? [])]);
          // The same folder can be chosen again.
          event.currentTarget.value = '';
        }}
      />
      <Button size="compact-sm" variant="default" onClick={() => input.current?.click()}>
        {words.common.chooseFolder}
      </Button>
    </>
  );
}
