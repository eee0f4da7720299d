import { Button, FileButton, Group, SegmentedControl, Text } from '@mantine/core';
import { memo, useRef, useState } from 'react';
import type { Scene, Schemas } from '../../core/client';
import { percents, ranges } from '../../core/constants';
import { words } from '../../messages';
import { Panel } from '../../parts/Panel';
import { Quiet } from '../../parts/Quiet';
import { addAsset, upload } from '../../session/assets';
import { editScene } from '../../session/scenes';
import { together } from '../../session/store';
import { type ReferenceMode, useView } from '../../session/view';
import { Values } from '../values/fields';
import classes from './Reference.module.css';

type Shown = Schemas['Reference'];

const modes: { value: ReferenceMode; label: string }[] = [
  { value: 'off', label: words.stage.off },
  { value: 'beside', label: words.stage.beside },
  { value: 'over', label: words.stage.over },
  { value: 'wipe', label: words.stage.wipe },
  { value: 'difference', label: words.stage.difference },
];

/** The reference picture as it lies on a sheet of the scene's size. */
export function ReferencePicture({ shown, scale }: { shown: Shown; scale: number }) {
  const mode = useView((state) => state.reference);
  const wipe = useView((state) => state.wipe);
  const [natural, setNatural] = useState(0);
  return (
    <div
      className={classes.layer}
      style={{
        clipPath: mode === 'wipe' ? `inset(0 0 0 ${wipe * 100}%)` : undefined,
        mixBlendMode: mode === 'difference' ? 'difference' : undefined,
        opacity: mode === 'over' ? (shown.opacity ?? 0.5) : 1,
      }}
    >
      <img
        src={`/api/assets/${shown.asset}`}
        alt=""
        data-reference
        draggable={false}
        className={classes.picture}
        onLoad={(event) => setNatural(event.currentTarget.naturalWidth)}
        style={{
          left: shown.x * scale,
          top: shown.y * scale,
          width: natural ? natural * shown.scale * scale : undefined,
        }}
      />
    </div>
  );
}

/** Where the reference comes from, how it is seen and where it lies. */
export const ReferencePanel = memo(function ReferencePanel({ scene }: { scene: Omit<Scene, 'pieces'> }) {
  const mode = useView((state) => state.reference);
  // The same file can be chosen again.
  const reset = useRef<() => void>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const shown = scene.reference;
  const take = async (chosen: File | null) => {
    if (!chosen) return;
    reset.current?.();
    setFailure(null);
    try {
      const { asset, width } = await upload(chosen);
      if (!asset) return setFailure(words.parts.wrongPicture);
      const reference = { asset: asset.id, x: 0, y: 0, scale: scene.width / width, opacity: 0.5 };
      together(() => {
        addAsset(asset);
        editScene((mine) => {
          mine.reference = reference;
        });
      });
      useView.setState({ reference: 'beside' });
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  const change = (to: Partial<Shown>) =>
    editScene((mine) => {
      if (mine.reference) mine.reference = { ...mine.reference, ...to };
    }, true);
  return (
    <Panel
      position="bottom-start"
      width={360}
      className={classes.panel}
      target={(toggle) => (
        <Quiet opens data-on={mode !== 'off' || undefined} onClick={toggle}>
          {words.stage.reference}
        </Quiet>
      )}
    >
      <Group gap={6}>
        <FileButton
          onChange={take}
          accept=".png,.jpg,.jpeg,.webp"
          resetRef={reset}
          inputProps={{ 'aria-label': words.stage.referenceFile }}
        >
          {(file) => (
            <Button size="compact-xs" variant="default" {...file}>
              {shown ? words.stage.anotherPicture : words.stage.chooseAPicture}
            </Button>
          )}
        </FileButton>
        {shown && (
          <Button
            size="compact-xs"
            variant="default"
            onClick={() =>
              editScene((mine) => {
                mine.reference = null;
              })
            }
          >
            {words.stage.removeReference}
          </Button>
        )}
      </Group>
      {failure && (
        <Text size="xs" role="alert" c="red">
          {failure}
        </Text>
      )}
      {shown ? (
        <>
          <SegmentedControl
            size="xs"
            aria-label={words.stage.howItIsShown}
            value={mode}
            onChange={(value) => useView.setState({ reference: value as ReferenceMode })}
            data={modes}
          />
          <Values
            of={[
              number(words.common.left, 'px', shown.x, ranges.Px, [-400, 400], (x) => change({ x })),
              number(words.common.top, 'px', shown.y, ranges.Px, [-400, 400], (y) => change({ y })),
              number(
                words.stage.scale,
                '%',
                shown.scale * 100,
                [0.1, percents(ranges.Factor)[1]],
                [10, 200],
                (percent) => change({ scale: percent / 100 }),
              ),
              number(words.common.opacity, '%', (shown.opacity ?? 0.5) * 100, [0, 100], [0, 100], (percent) =>
                change({ opacity: percent / 100 }),
              ),
            ]}
          />
        </>
      ) : (
        <Text size="xs" c="dimmed">
          {words.stage.aboutReference}
        </Text>
      )}
    </Panel>
  );
});

function number(
  label: string,
  unit: string,
  value: number,
  range: [number, number],
  slider: [number, number],
  set: (value: number) => void,
) {
  return {
    label,
    name: words.stage.referenceWithLabel(label.toLowerCase()),
    unit,
    value,
    range,
    slider,
    set,
  };
}
