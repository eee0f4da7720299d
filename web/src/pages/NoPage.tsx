import { Button, FileButton } from '@mantine/core';
import { useRef, useState } from 'react';
import { words } from '../messages';
import { ChooseFolder, Nothing } from '../parts/Nothing';
import { chosenFiles } from '../session/dropped';
import { PAGE_FILES } from '../session/pageScenes';
import classes from './Pages.module.css';
import { PasteMarkup } from './PasteMarkup';
import { takePage } from './takePage';

const said = words.pages;

/** Where a page comes in. */
export function NoPage() {
  const [pasting, setPasting] = useState(false);
  return (
    <section aria-label={words.common.page} className={classes.none}>
      <Nothing said={[said.none, said.drop]}>
        <ChoosePage label={said.choose} />
        <ChooseFolder onChoose={(files) => void takePage(chosenFiles(files))} />
        <Button size="compact-sm" variant="default" onClick={() => setPasting(true)}>
          {said.pasteMore}
        </Button>
      </Nothing>
      {pasting && <PasteMarkup onClose={() => setPasting(false)} />}
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
    <FileButton accept={PAGE_FILES} onChange={take} resetRef={reset}>
      {(props) => (
        <Button size="compact-sm" variant="default" {...props}>
          {label}
        </Button>
      )}
    </FileButton>
  );
}
