import { Text } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import type { Schemas } from '../../core/client';
import { defaults, percents, ranges } from '../../core/constants';
import { words } from '../../messages';
import { NumberField } from '../../parts/NumberField';
import { castHeights } from '../../session/heights';
import { editLight } from '../../session/shared';
import { useDocument } from '../../session/store';

type Light = Schemas['Light'];
type Rig = Schemas['Rig'];

/** What a light's shadows of heights are made by; heights that follow it are cast anew when it was changed. */
export function LightRig({ light }: { light: Light }) {
  const rig = light.rig ?? defaults.rig;
  const casting = useMutation({ mutationFn: castHeights });
  return (
    <>
      <Text size="xs" fw={600}>
        {casting.isPending ? words.stage.castingHeights : words.stage.heightsUnderIt}
      </Text>
      <RigFields
        rig={rig}
        onChange={(to) =>
          editLight(light.id, (mine) => {
            mine.rig = to;
          })
        }
        onCommit={() => {
          const now = useDocument.getState().document?.lights?.find((other) => other.id === light.id);
          if (now?.rig) casting.mutate({ id: light.id, rig: now.rig });
        }}
      />
      {casting.error && <p role="alert">{casting.error.message}</p>}
    </>
  );
}

interface Props {
  rig: Rig;
  onChange: (rig: Rig) => void;
  onCommit?: () => void;
}

/** Elevation, size and ambient share of a light. */
export function RigFields({ rig, onChange, onCommit }: Props) {
  return (
    <>
      <NumberField
        label={words.stage.elevation}
        unit="°"
        value={rig.elevation}
        min={ranges.Elevation[0]}
        max={ranges.Elevation[1]}
        onChange={(elevation) => onChange({ ...rig, elevation })}
        onCommit={onCommit}
      />
      <NumberField
        label={words.stage.size}
        unit="°"
        value={rig.size}
        min={ranges.LightSize[0]}
        max={ranges.LightSize[1]}
        onChange={(size) => onChange({ ...rig, size })}
        onCommit={onCommit}
      />
      <NumberField
        label={words.stage.ambient}
        unit="%"
        value={rig.ambient * 100}
        min={0}
        max={percents(ranges.Fraction)[1]}
        onChange={(percent) => onChange({ ...rig, ambient: percent / 100 })}
        onCommit={onCommit}
      />
    </>
  );
}
