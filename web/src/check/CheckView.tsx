import { useEffect, useMemo, useState } from 'react';
import type { Schemas } from '../core/client';
import { Bar } from '../frame/Bar';
import view from '../parts/view.module.css';
import { withFix } from '../session/checks';
import { sceneOf } from '../session/lookup';
import { useDocument } from '../session/store';
import { keepCount } from '../session/useFindingCount';
import classes from './Check.module.css';
import { Findings } from './Findings';
import { Look, type Pixels } from './Look';
import { screenOf } from './screens';
import { useAudit } from './useAudit';
import { useFewerShadows } from './useFewerShadows';

type Finding = Schemas['Finding'];

/** The project looked over: the scene as other screens and eyes see it, and what was found. */
export function CheckView() {
  const project = useDocument((state) => state.document);
  const opened = useDocument((state) => state.scene);
  const [kind, setKind] = useState('plain');
  const [severity, setSeverity] = useState(1);
  const screen = useMemo(() => screenOf(kind, severity), [kind, severity]);
  const [pixels, setPixels] = useState<Pixels>('fitted');
  const density = pixels === '2' ? 2 : 1;
  const limits = useMemo(() => ({ screen, density }), [screen, density]);
  const looked = useAudit(project, limits);
  const { audit, isWhole, found } = looked;
  useEffect(() => {
    if (isWhole && audit && found && kind === 'plain' && density === 1) keepCount(audit, found);
  }, [isWhole, audit, found, kind, density]);
  const [chosen, setChosen] = useState<string | null>(null);
  const [trying, setTrying] = useState(false);
  const [scene, setScene] = useState(opened);
  const finding = looked.audit?.findings.find((one) => one.key === chosen);
  const offered = useFewerShadows(finding, found);
  const fix = trying ? offered.fix : undefined;
  const shown = useMemo(
    () => (project && fix && found ? withFix(project, fix, found) : project),
    [project, fix, found],
  );
  if (!project) return null;
  const choose = (one: Finding | null) => {
    setChosen(one?.key ?? null);
    setTrying(false);
    if (one?.place.scene) setScene(one.place.scene);
  };
  return (
    <main className={view.page}>
      <Bar open="check" />
      <div className={classes.columns}>
        <Look
          project={shown}
          scene={sceneOf(project, scene) ?? project.scenes[0]}
          onScene={setScene}
          screen={screen}
          onScreen={setKind}
          severity={severity}
          onSeverity={setSeverity}
          pixels={pixels}
          onPixels={setPixels}
          density={density}
          finding={finding ?? null}
          tried={Boolean(fix)}
        />
        <div className={classes.side}>
          <Findings
            {...looked}
            chosen={chosen}
            offered={offered}
            onChoose={choose}
            trying={trying}
            onTry={setTrying}
          />
        </div>
      </div>
    </main>
  );
}
