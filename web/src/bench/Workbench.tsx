import { useCallback, useState } from 'react';
import { useBoxes, useReport, useThumbnails } from '../core/asking';
import { EdgeProfile } from './EdgeProfile';
import { Header } from './Header';
import { KeySheet } from './KeySheet';
import { Pieces } from './Pieces';
import { ReadOut } from './ReadOut';
import { Stack } from './Stack';
import { Stage } from './stage/Stage';
import { useKeys } from './useKeys';
import classes from './Workbench.module.css';

export function Workbench() {
  const [before, setBefore] = useState(false);
  const [only, setOnly] = useState<string | null>(null);
  const [sheet, setSheet] = useState(false);
  const { report, fresh, failure } = useReport();
  const thumbnails = useThumbnails();
  const boxes = useBoxes();
  const showSheet = useCallback(() => setSheet(true), []);
  const hideSheet = useCallback(() => setSheet(false), []);
  useKeys({ onBefore: setBefore, onOnly: setOnly, onSheet: showSheet });
  return (
    <main className={classes.bench}>
      <Header onBefore={setBefore} onSheet={showSheet} />
      <Stack report={report} thumbnails={thumbnails} boxes={boxes} onOnly={setOnly} />
      <Stage before={before} only={only} report={report} boxes={boxes} />
      <Pieces thumbnails={thumbnails} />
      <EdgeProfile report={report} />
      <ReadOut report={report} fresh={fresh} failure={failure} />
      <KeySheet opened={sheet} onClose={hideSheet} />
    </main>
  );
}
