import { Button, FileButton, Group } from '@mantine/core';
import { useRef } from 'react';
import { words } from '../messages';
import { chosenFiles } from '../session/iconSet';
import classes from './Pages.module.css';
import { takePage } from './takePage';

const said = words.pages;

/** Where a page comes in. */
export function NoPage() {
  return (
    <section aria-label={words.common.page} className={classes.none}>
      <div className={classes.nothing}>
        <p>{said.none}</p>
        <p>{said.drop}</p>
        <Group gap={8} justify="center">
          <ChoosePage label={said.choose} />
          <ChooseFolder />
        </Group>
      </div>
    </section>
  );
}

export function ChoosePage({ label }: { label: string }) {
  // The same file can be chosen again.
  const reset = useRef<() => void>(null);
  const take = (file: File | null) => {
    reset.current?.();
    if (file) void takePage([{ path: file.name, file }]);
  };
  return (
    <FileButton accept=".html,.htm,.xhtml,.mhtml,.mht,.zip" onChange={take} resetRef={reset}>
      {(props) => (
        <Button size="compact-sm" variant="default" {...props}>
          {label}
        </Button>
      )}
    </FileButton>
  );
}

function ChooseFolder() {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        hidden
        multiple
        aria-label={said.chooseFolder}
        {...{ webkitdirectory: '' }}
        onChange={(event) => {
          void takePage(chosenFiles([...(event.currentTarget.files ?? [])]));
          event.currentTarget.value = '';
        }}
      />
      <Button size="compact-sm" variant="default" onClick={() => input.current?.click()}>
        {said.chooseFolder}
      </Button>
    </>
  );
}
