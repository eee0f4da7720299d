import { useMediaQuery, useWindowEvent } from '@mantine/hooks';
import { useCallback, useEffect, useState } from 'react';
import { EdgeProfile } from '../bench/EdgeProfile';
import { Stack } from '../bench/Stack';
import { LightDial } from '../bench/stage/LightDial';
import { useKeys } from '../bench/useKeys';
import { Visibility } from '../bench/Visibility';
import bench from '../bench/Workbench.module.css';
import { Bar } from '../frame/Bar';
import { useFrame } from '../frame/frame';
import { useSceneOf } from '../frame/useSceneOf';
import { words } from '../messages';
import { isTyped } from '../parts/interaction';
import view from '../parts/view.module.css';
import { droppedFiles } from '../session/dropped';
import { isMarkup, pastedPage } from '../session/pageScenes';
import { useKeepReported } from '../session/reported';
import { useScene } from '../session/seen';
import { calmIn, useDocument } from '../session/store';
import { Draft } from './Draft';
import { Fitted } from './Fitted';
import { FittingLine } from './FittingLine';
import { NoPage } from './NoPage';
import { PageFrame } from './PageFrame';
import { PageLine } from './PageLine';
import classes from './Pages.module.css';
import { SheetOut } from './SheetOut';
import { takePage } from './takePage';
import { letGo, usePage } from './usePage';

const showShortcuts = () => useFrame.setState({ dialog: 'shortcuts' });

/** A page of one's own as the ground: elements of it are given depth where they live. */
export function PageView() {
  const some = useDocument((state) => (calmIn(state)?.scenes ?? []).some((scene) => scene.page));
  useWindowEvent('dragover', (event) => event.preventDefault());
  useWindowEvent('drop', (event) => {
    event.preventDefault();
    if (event.dataTransfer) void droppedFiles(event.dataTransfer).then(takePage);
  });
  useWindowEvent('paste', (event) => {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (isTyped(event.target) || !isMarkup(text)) return;
    event.preventDefault();
    void takePage(pastedPage(text, ''));
  });
  if (some) return <Page />;
  return (
    <main className={view.page}>
      <Bar open="page" />
      <NoPage />
    </main>
  );
}

function Page() {
  const [before, setBefore] = useState(false);
  const scene = useScene();
  const draft = usePage((state) => state.draft);
  const piece = useDocument((state) => state.piece);
  useSceneOf('page');
  useEffect(() => letGo, []);
  // A piece that is chosen takes the place of what was thought of.
  useEffect(() => {
    if (piece) letGo();
  }, [piece]);
  const ignore = useCallback(() => undefined, []);
  useKeys({ onBefore: setBefore, onOnly: ignore, onSheet: showShortcuts });
  const narrow = useMediaQuery('(max-width: 60em)', false, { getInitialValueInEffect: false });
  if (!scene?.page) return null;
  return (
    <main className={narrow ? bench.column : bench.bench}>
      <Reports />
      <Bar open="page" />
      <div className={narrow ? undefined : classes.columns}>
        <div className={classes.side}>
          {draft && !piece ? <Draft {...draft} /> : <Chosen onOnly={ignore} />}
        </div>
        <div className={classes.main}>
          <PageLine scene={scene} onBefore={setBefore} />
          <div className={`${bench.middle} ${classes.middle}`}>
            <PageFrame key={scene.page.asset} asset={scene.page.asset} name={scene.name} before={before} />
            <aside className={bench.rail} aria-label={words.bench.lightsAndPieces}>
              <LightDial />
              <Fitted />
            </aside>
          </div>
          <div className={`${bench.foot} ${classes.foot}`}>
            <EdgeProfile />
            <Visibility />
            <SheetOut key={scene.id} scene={scene} />
          </div>
        </div>
      </div>
    </main>
  );
}

/** The fitting that is chosen, and its stack. */
function Chosen({ onOnly }: { onOnly: () => void }) {
  const chosen = useDocument((state) => state.piece) !== null;
  if (!chosen) {
    return (
      <section aria-label={words.pages.select} className={classes.draft}>
        <h2 className={classes.empty}>{words.pages.select}</h2>
        <p className={classes.note}>{words.pages.aboutSelect}</p>
      </section>
    );
  }
  return (
    <>
      <FittingLine />
      <Stack onOnly={onOnly} />
    </>
  );
}

function Reports() {
  useKeepReported();
  return null;
}
