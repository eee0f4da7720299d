import { NativeSelect, SegmentedControl } from '@mantine/core';
import { useMediaQuery } from '@mantine/hooks';
import { memo } from 'react';
import { HoldButton } from '../parts/HoldButton';
import { Panel } from '../parts/Panel';
import { Quiet } from '../parts/Quiet';
import { editScene } from '../session/scenes';
import { useDocument, useScene } from '../session/store';
import { useView, zoomBy, zooms } from '../session/view';
import { Ground } from './Ground';
import region from './region.module.css';
import classes from './SceneLine.module.css';
import { SceneMenu } from './SceneMenu';
import { SharedColours } from './SharedColours';
import { ReferencePanel } from './stage/Reference';
import { MAGNIFIED } from './stage/useRoom';

/** What belongs to the scene and how it is looked at, in a line above the stage. */
export const SceneLine = memo(function SceneLine({ onBefore }: { onBefore: (held: boolean) => void }) {
  const scene = useScene();
  // Where room is short, what is used less often folds into one panel.
  const folds = useMediaQuery('(max-width: 75em)', false, { getInitialValueInEffect: false });
  const looks = (
    <>
      <SharedColours />
      {!folds && <span className={classes.rule} />}
      {scene && <ReferencePanel scene={scene} />}
      <Tools />
    </>
  );
  return (
    <section aria-label="Scene" className={`${region.region} ${classes.line}`}>
      <SceneMenu />
      <Theme />
      {scene && <Ground scene={scene} />}
      {folds ? (
        <Panel
          position="bottom-start"
          width={180}
          className={classes.folded}
          target={(toggle) => (
            <Quiet opens onClick={toggle}>
              Tools
            </Quiet>
          )}
        >
          {looks}
        </Panel>
      ) : (
        looks
      )}
      <span className={classes.end}>
        <HoldButton size="compact-xs" onHold={onBefore}>
          Hold for original
        </HoldButton>
        <Zoom />
      </span>
    </section>
  );
});

function Theme() {
  const themes = useDocument((state) => state.document?.themes);
  const theme = useScene()?.theme;
  if (!themes || themes.length < 2) return null;
  return (
    <SegmentedControl
      size="xs"
      aria-label="Theme"
      className={classes.theme}
      value={theme ?? ''}
      onChange={(chosen) =>
        editScene((scene) => {
          scene.theme = chosen;
        })
      }
      data={themes.map((other) => ({ value: other.id, label: other.name }))}
    />
  );
}

/** What the pointer does on the stage besides choosing and moving. */
const Tools = memo(function Tools() {
  const tool = useView((state) => state.tool);
  const browser = useView((state) => state.browser);
  const chosen = useDocument((state) => state.piece) !== null;
  const toggle = (other: 'pick' | 'measure') => ({
    'aria-pressed': tool === other,
    'data-on': tool === other || undefined,
    className: classes.tool,
    onClick: () => useView.setState({ tool: tool === other ? 'hand' : other }),
  });
  return (
    <>
      <Quiet {...toggle('pick')}>Pick colour</Quiet>
      <Quiet {...toggle('measure')}>Measure</Quiet>
      <Quiet
        className={classes.tool}
        aria-pressed={browser}
        data-on={browser || undefined}
        disabled={!chosen}
        title="The scene as this browser draws its code"
        onClick={() => useView.setState({ browser: !browser })}
      >
        Browser’s own
      </Quiet>
    </>
  );
});

const Zoom = memo(function Zoom() {
  const zoom = useView((state) => state.zoom);
  const scale = useView((state) => state.scale);
  const density = useView((state) => state.density);
  return (
    <>
      {scale >= MAGNIFIED && (
        <NativeSelect
          size="xs"
          variant="unstyled"
          aria-label="Device pixels for one px"
          value={String(density)}
          onChange={(event) => useView.setState({ density: Number(event.currentTarget.value) })}
          data={[
            { value: '1', label: '1× pixels' },
            { value: '2', label: '2× pixels' },
          ]}
        />
      )}
      <Quiet aria-label="Zoom out" px={6} onClick={() => zoomBy(-1)}>
        −
      </Quiet>
      <NativeSelect
        size="xs"
        variant="unstyled"
        className={classes.zoom}
        aria-label="Zoom"
        value={String(zoom)}
        onChange={(event) => useView.setState({ zoom: Number(event.currentTarget.value) })}
        data={zooms.map((value) => ({
          value: String(value),
          label: value === 0 ? `Fit ${Math.round(scale * 100)} %` : `${value * 100} %`,
        }))}
      />
      <Quiet aria-label="Zoom in" px={6} onClick={() => zoomBy(1)}>
        +
      </Quiet>
    </>
  );
});
