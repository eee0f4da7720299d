import { useHotkeys } from '@mantine/hooks';
import { useState } from 'react';
import { redo, undo } from '../document/store';
import { useReport, useThumbnails } from './asking';
import { EdgeProfile } from './EdgeProfile';
import { Header } from './Header';
import { Pieces } from './Pieces';
import { ReadOut } from './ReadOut';
import { Stack } from './Stack';
import { Stage } from './Stage';
import classes from './Workbench.module.css';

export function Workbench() {
  const [before, setBefore] = useState(false);
  const [only, setOnly] = useState<string | null>(null);
  const report = useReport();
  const thumbnails = useThumbnails();
  useHotkeys(
    [
      ['mod+Z', undo],
      ['mod+shift+Z', redo],
    ],
    ['TEXTAREA'],
  );
  return (
    <main className={classes.bench}>
      <Header onBefore={setBefore} />
      <Stack report={report} thumbnails={thumbnails} onOnly={setOnly} />
      <Stage before={before} only={only} boxes={thumbnails?.pieces ?? []} />
      <Pieces thumbnails={thumbnails} />
      <EdgeProfile report={report} />
      <ReadOut report={report} />
    </main>
  );
}
