import { Splitter } from '@mantine/core';
import { useMediaQuery } from '@mantine/hooks';
import { useCallback, useState } from 'react';
import { Bar } from '../frame/Bar';
import { useFrame } from '../frame/frame';
import { useSceneOf } from '../frame/useSceneOf';
import { words } from '../messages';
import { useKeepReported } from '../session/reported';
import { EdgeProfile } from './EdgeProfile';
import { Pieces } from './Pieces';
import { ReadOut } from './ReadOut';
import { SceneLine } from './SceneLine';
import { Stack } from './Stack';
import { LightDial } from './stage/LightDial';
import { Stage } from './stage/Stage';
import { useIncoming } from './useIncoming';
import { useKeys } from './useKeys';
import { usePanes } from './usePanes';
import { usePlace } from './usePlace';
import { Visibility } from './Visibility';
import classes from './Workbench.module.css';

const showShortcuts = () => useFrame.setState({ dialog: 'shortcuts' });

export function Workbench() {
  const [before, setBefore] = useState(false);
  const [only, setOnly] = useState<string | null>(null);
  const across = usePanes('across', ['332px', 100], [332, 420, 520]);
  const down = usePanes('down', [100, '204px'], [120, 204, 320, 480]);
  const hold = useCallback((held: boolean) => setBefore(held), []);
  usePlace();
  useSceneOf('plain');
  useIncoming();
  useKeys({ onBefore: setBefore, onOnly: setOnly, onSheet: showShortcuts });
  const narrow = useMediaQuery('(max-width: 60em)', false, { getInitialValueInEffect: false });
  const stack = <Stack onOnly={setOnly} />;
  const line = <SceneLine onBefore={hold} />;
  const middle = (
    <>
      <Stage before={before} only={only} />
      <aside className={classes.rail} aria-label={words.bench.lightsAndPieces}>
        <LightDial />
        <Pieces />
      </aside>
    </>
  );
  const foot = (
    <>
      <EdgeProfile />
      <Visibility />
      <ReadOut />
    </>
  );
  if (narrow) {
    return (
      <main className={classes.column}>
        <Reports />
        <Bar open="workbench" />
        {line}
        <div className={classes.middle}>{middle}</div>
        {stack}
        <div className={classes.foot}>{foot}</div>
      </main>
    );
  }
  return (
    <main className={classes.bench}>
      <Reports />
      <Bar open="workbench" />
      <Splitter {...splitter} {...across}>
        <Splitter.Pane defaultSize="332px" min="300px" max="520px" className={classes.pane}>
          {stack}
        </Splitter.Pane>
        <Splitter.Pane defaultSize={100} className={classes.pane}>
          {line}
          <Splitter {...splitter} orientation="vertical" {...down}>
            <Splitter.Pane defaultSize={100} className={classes.middle}>
              {middle}
            </Splitter.Pane>
            <Splitter.Pane {...foldable} className={classes.foot}>
              {foot}
            </Splitter.Pane>
          </Splitter>
        </Splitter.Pane>
      </Splitter>
    </main>
  );
}

/** Asks what the bench shows, apart from it, so that an answer draws only what shows it. */
function Reports() {
  useKeepReported();
  return null;
}

const splitter = {
  lineSize: 1,
  withHandle: false,
  handleColor: 'var(--line)',
  className: classes.split,
  step: '16px',
  shiftStep: '64px',
} as const;

const foldable = {
  defaultSize: '204px',
  min: '120px',
  max: '480px',
  collapsible: true,
  collapseThreshold: '80px',
} as const;
