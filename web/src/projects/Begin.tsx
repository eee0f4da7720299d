import { Button, FileButton, Group, Modal } from '@mantine/core';
import { useWindowEvent } from '@mantine/hooks';
import { useRef, useState } from 'react';
import { words } from '../messages';
import { CssField } from '../parts/CssField';
import { isTyped } from '../parts/interaction';
import { droppedFiles } from '../session/dropped';
import { PAGE_FILES } from '../session/pageScenes';
import classes from './Begin.module.css';
import {
  type Begun,
  beginWith,
  beginWithCss,
  beginWithDemo,
  beginWithFile,
  beginWithFiles,
  beginWithText,
} from './beginnings';
import { Sketch } from './Sketch';

const { projects: said } = words;

interface Props {
  /** Opens what was begun, or says why nothing was. */
  start: (begin: () => Promise<Begun>) => void;
}

/** Everything a project can be begun with. */
export function Begin({ start }: Props) {
  const [pasting, setPasting] = useState(false);
  useBrought(start);
  return (
    <section aria-label={said.begin}>
      <h2 className={classes.title}>{said.begin}</h2>
      <div className={classes.choices}>
        {(['card', 'button', 'headline'] as const).map((specimen) => (
          <Choice key={specimen} of={specimen} onClick={() => start(() => beginWith(specimen))} />
        ))}
        <FileChoice of="icon" accept=".svg" start={start} />
        <FileChoice of="picture" accept=".png,.jpg,.jpeg,.webp" start={start} />
        <FileChoice of="page" accept={PAGE_FILES} start={start} />
        <Choice of="css" onClick={() => setPasting(true)} />
        <FileChoice of="file" accept=".json,.css" start={start} />
        <Choice of="demo" onClick={() => start(beginWithDemo)} />
      </div>
      <p className={classes.hint}>{said.dropHint}</p>
      <Modal
        opened={pasting}
        onClose={() => setPasting(false)}
        title={said.css}
        withCloseButton={false}
        size="lg"
      >
        <Paste
          onClose={() => setPasting(false)}
          onTake={(css) => {
            setPasting(false);
            start(() => beginWithCss(css));
          }}
        />
      </Modal>
    </section>
  );
}

/** What is dropped or pasted on the page begins a project. */
function useBrought(start: Props['start']) {
  useWindowEvent('dragover', (event) => event.preventDefault());
  useWindowEvent('drop', (event) => {
    event.preventDefault();
    if (!event.dataTransfer?.files.length) return;
    // A folder is a file among those that are dropped, too.
    const dropped = droppedFiles(event.dataTransfer);
    start(async () => beginWithFiles(await dropped));
  });
  useWindowEvent('paste', (event) => {
    if (isTyped(event.target)) return;
    const [file] = event.clipboardData?.files ?? [];
    const begun = file
      ? beginWithFile(file)
      : beginWithText(event.clipboardData?.getData('text/plain') ?? '');
    if (!begun) return;
    event.preventDefault();
    start(() => begun);
  });
}

type Kind = 'card' | 'button' | 'headline' | 'icon' | 'picture' | 'page' | 'css' | 'file' | 'demo';

function Choice({ of, onClick }: { of: Kind; onClick: () => void }) {
  return (
    <button type="button" className={classes.choice} onClick={onClick}>
      <Sketch of={of} />
      <span>{said[of]}</span>
    </button>
  );
}

interface FileProps extends Props {
  of: Kind;
  accept: string;
}

function FileChoice({ of, accept, start }: FileProps) {
  // The same file can be chosen again.
  const reset = useRef<() => void>(null);
  const take = (file: File | null) => {
    if (!file) return;
    reset.current?.();
    start(() => beginWithFiles([{ path: file.name, file }]));
  };
  return (
    <FileButton
      onChange={take}
      accept={accept}
      resetRef={reset}
      inputProps={{ 'aria-label': said.fileFor(said[of]) }}
    >
      {({ onClick }) => <Choice of={of} onClick={onClick} />}
    </FileButton>
  );
}

function Paste({ onTake, onClose }: { onTake: (css: string) => void; onClose: () => void }) {
  const [css, setCss] = useState('');
  return (
    <>
      <CssField value={css} onChange={setCss} />
      <Group justify="end" mt="md">
        <Button variant="default" onClick={onClose}>
          {words.common.cancel}
        </Button>
        <Button disabled={css.trim() === ''} onClick={() => onTake(css)}>
          {said.beginWithIt}
        </Button>
      </Group>
    </>
  );
}
