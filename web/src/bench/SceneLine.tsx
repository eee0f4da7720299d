import { NativeSelect, SegmentedControl } from '@mantine/core';
import { useMediaQuery } from '@mantine/hooks';
import { memo } from 'react';
import { words } from '../messages';
import { HoldButton } from '../parts/HoldButton';
import { Name } from '../parts/Name';
import { Panel } from '../parts/Panel';
import { Quiet } from '../parts/Quiet';
import { editScene } from '../session/scenes';
import { useBareScene, useTheme } from '../session/seen';
import { useDocument } from '../session/store';
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
  const scene = useBareScene();
  // Where room is short, what is used less often folds into one panel; magnified, there is one choice more.
  const isMagnified = useView((state) => state.scale >= MAGNIFIED);
  const isNarrow = useMediaQuery('(max-width: 75em)', false, { getInitialValueInEffect: false });
  const isTight = useMediaQuery('(max-width: 87em)', false, { getInitialValueInEffect: false });
  const folds = isNarrow || (isMagnified && isTight);
  const looks = (
    <>
      <SharedColours />
      {!folds && <span className={classes.rule} />}
      {scene && <ReferencePanel scene={scene} />}
      <Tools />
    </>
  );
  return (
    <section aria-label={words.common.scene} className={`${region.region} ${classes.line}`}>
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
              {words.bench.tools}
            </Quiet>
          )}
        >
          {looks}
        </Panel>
      ) : (
        looks
      )}
      <span className={classes.end}>
        <HoldButton size="compact-xs" title={words.bench.holdForOriginal} onHold={onBefore}>
          {words.bench.original}
        </HoldButton>
        <Zoom />
      </span>
    </section>
  );
});

function Theme() {
  const themes = useDocument((state) => state.document?.themes);
  const theme = useTheme();
  if (!themes || themes.length < 2) return null;
  return (
    <SegmentedControl
      size="xs"
      aria-label={words.common.theme}
      className={classes.theme}
      classNames={{ control: classes.themeControl }}
      value={theme}
      onChange={(chosen) =>
        editScene((scene) => {
          scene.theme = chosen;
        })
      }
      data={themes.map(({ id, name }) => ({
        value: id,
        label: <Name of={name} className={classes.themeName} />,
      }))}
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
      <Quiet {...toggle('pick')}>{words.bench.pickColour}</Quiet>
      <Quiet {...toggle('measure')}>{words.bench.measure}</Quiet>
      <Quiet
        className={classes.tool}
        aria-pressed={browser}
        data-on={browser || undefined}
        disabled={!chosen}
        title={words.bench.asThisBrowserDraws}
        onClick={() => useView.setState({ browser: !browser })}
      >
        {words.bench.browsersOwn}
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
          aria-label={words.bench.devicePixelsForOnePx}
          value={String(density)}
          onChange={(event) => useView.setState({ density: Number(event.currentTarget.value) })}
          data={[
            { value: '1', label: words.bench.onePixel },
            { value: '2', label: words.bench.twoPixels },
          ]}
        />
      )}
      <Quiet aria-label={words.bench.zoomOut} px={8} onClick={() => zoomBy(-1)}>
        {words.bench.less}
      </Quiet>
      <NativeSelect
        size="xs"
        variant="unstyled"
        className={classes.zoom}
        aria-label={words.bench.zoom}
        value={String(zoom)}
        onChange={(event) => useView.setState({ zoom: Number(event.currentTarget.value) })}
        data={(zooms.includes(zoom) ? zooms : [...zooms, zoom].sort((a, b) => a - b)).map((value) => ({
          value: String(value),
          label: value === 0 ? words.bench.fit(Math.round(scale * 100)) : `${Math.round(value * 100)} %`,
        }))}
      />
      <Quiet aria-label={words.bench.zoomIn} px={8} onClick={() => zoomBy(1)}>
        {words.bench.more}
      </Quiet>
    </>
  );
});
