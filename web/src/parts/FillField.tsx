import { Button, FileButton, NativeSelect } from '@mantine/core';
import { useRef, useState } from 'react';
import type { Schemas } from '../core/client';
import { percents, ranges } from '../core/constants';
import { addAsset, upload } from '../session/assets';
import { commit, useDocument } from '../session/store';
import { ColourField } from './ColourField';
import classes from './FillField.module.css';
import { NumberField } from './NumberField';

type Fill = Schemas['Fill'];
type Stop = Schemas['Stop'];

interface Props {
  label: string;
  value: Fill;
  /** Whether colours can be taken from the piece. */
  own?: boolean;
  onChange: (fill: Fill, gesture: boolean) => void;
}

const kinds = [
  { value: 'none', label: 'nothing' },
  { value: 'solid', label: 'one colour' },
  { value: 'linear', label: 'along a line' },
  { value: 'radial', label: 'out from a point' },
  { value: 'image', label: 'a picture' },
];

/** What a surface, tint, stroke or patch of light is filled with. */
export function FillField({ label, value, own = true, onChange }: Props) {
  const pictures = useDocument((state) => state.document?.assets) ?? [];
  // The same file can be chosen again.
  const reset = useRef<() => void>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const take = async (chosen: File | null) => {
    if (!chosen) return;
    reset.current?.();
    setFailure(null);
    try {
      const { asset } = await upload(chosen);
      if (!asset) return setFailure('A fill is a picture: PNG, JPEG or WebP.');
      addAsset(asset);
      onChange({ kind: 'image', asset: asset.id, fit: 'cover' }, false);
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  const choose = (kind: string, chooseFile: () => void) => {
    // The first picture has to come from somewhere.
    if (kind === 'image' && pictures.length === 0) chooseFile();
    else onChange(changed(value, kind, pictures), false);
  };
  return (
    <FileButton
      onChange={take}
      accept=".png,.jpg,.jpeg,.webp"
      resetRef={reset}
      inputProps={{ 'aria-label': `${label}, picture file` }}
    >
      {(file) => (
        <div className={classes.fill}>
          <div className={classes.line}>
            <span className={classes.label}>{label}</span>
            <NativeSelect
              size="xs"
              aria-label={`${label}, how it is filled`}
              value={value.kind}
              data={kinds}
              onChange={(event) => choose(event.currentTarget.value, file.onClick)}
            />
            {value.kind === 'solid' && (
              <ColourField
                label={`${label} colour`}
                value={value.colour}
                own={own}
                onChange={(colour, gesture) => onChange({ kind: 'solid', colour }, gesture)}
              />
            )}
            {value.kind === 'image' && (
              <NativeSelect
                size="xs"
                aria-label={`${label}, how the picture is fitted`}
                value={value.fit ?? 'cover'}
                data={['cover', 'contain', 'tile', 'stretch']}
                onChange={(event) =>
                  onChange({ ...value, fit: event.currentTarget.value as Schemas['Fit'] }, false)
                }
              />
            )}
          </div>
          {failure && (
            <span role="alert" className={classes.failure}>
              {failure}
            </span>
          )}
          {value.kind === 'image' && (
            <div className={classes.line}>
              <NativeSelect
                size="xs"
                aria-label={`${label}, which picture`}
                value={value.asset}
                data={pictures.map((picture) => ({ value: picture.id, label: picture.name }))}
                onChange={(event) => onChange({ ...value, asset: event.currentTarget.value }, false)}
              />
              <Button size="compact-xs" variant="default" onClick={file.onClick}>
                From a file
              </Button>
            </div>
          )}
          {value.kind === 'linear' && <Direction label={label} value={value} onChange={onChange} />}
          {value.kind === 'radial' && (
            <>
              <Measure
                label="Radius"
                name={`${label} radius`}
                unit="px"
                value={value.radius}
                range={ranges.Length}
                slider={[0, 600]}
                set={(radius) => onChange({ ...value, radius }, true)}
              />
              <Measure
                label="Across"
                name={`${label} centre across`}
                unit="%"
                value={value.centre.x * 100}
                range={percents(ranges.Relative)}
                slider={[0, 100]}
                set={(x) => onChange({ ...value, centre: { ...value.centre, x: x / 100 } }, true)}
              />
              <Measure
                label="Down"
                name={`${label} centre down`}
                unit="%"
                value={value.centre.y * 100}
                range={percents(ranges.Relative)}
                slider={[0, 100]}
                set={(y) => onChange({ ...value, centre: { ...value.centre, y: y / 100 } }, true)}
              />
            </>
          )}
          {(value.kind === 'linear' || value.kind === 'radial') && (
            <Stops
              label={label}
              stops={value.stops}
              own={own}
              onChange={(stops, gesture) => onChange({ ...value, stops }, gesture)}
            />
          )}
        </div>
      )}
    </FileButton>
  );
}

function Measure({
  range,
  set,
  ...field
}: {
  label: string;
  name: string;
  unit: string;
  value: number;
  range: [number, number];
  slider: [number, number];
  set: (value: number) => void;
}) {
  return <NumberField {...field} min={range[0]} max={range[1]} onChange={set} onCommit={commit} />;
}

function Direction({
  label,
  value,
  onChange,
}: {
  label: string;
  value: Extract<Fill, { kind: 'linear' }>;
  onChange: (fill: Fill, gesture: boolean) => void;
}) {
  const lights = useDocument((state) => state.document?.lights) ?? [];
  const follows = 'follows' in value ? value.follows : '';
  const { stops } = value;
  return (
    <>
      {!follows && (
        <Measure
          label="Angle"
          name={`${label} angle`}
          unit="°"
          value={'angle' in value ? value.angle : 180}
          range={ranges.Degrees}
          slider={[0, 360]}
          set={(angle) => onChange({ kind: 'linear', angle, stops }, true)}
        />
      )}
      <div className={classes.line}>
        <span className={classes.label}>Runs</span>
        <NativeSelect
          size="xs"
          aria-label={`${label}, which way it runs`}
          value={follows}
          data={[
            { value: '', label: 'at its angle' },
            ...lights.map((light) => ({ value: light.id, label: `away from ${light.name}` })),
          ]}
          onChange={(event) => {
            const light = event.currentTarget.value;
            onChange(
              light ? { kind: 'linear', follows: light, stops } : { kind: 'linear', angle: 180, stops },
              false,
            );
          }}
        />
      </div>
    </>
  );
}

function Stops({
  label,
  stops,
  own,
  onChange,
}: {
  label: string;
  stops: Stop[];
  own: boolean;
  onChange: (stops: Stop[], gesture: boolean) => void;
}) {
  const put = (i: number, to: Partial<Stop>, gesture: boolean) => {
    const next = stops.map((stop, at) => (at === i ? { ...stop, ...to } : stop));
    onChange(next, gesture);
  };
  /** A stop stays between its neighbours, as the document asks for. */
  const between = (i: number): [number, number] => [
    (stops[i - 1]?.at ?? 0) * 100,
    (stops[i + 1]?.at ?? 1) * 100,
  ];
  return (
    <>
      {stops.map((stop, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: stops have no identity but their order
        <div key={i} className={classes.stop}>
          <ColourField
            label={`${label} stop ${i + 1}`}
            value={stop.colour}
            own={own}
            onChange={(colour, gesture) => put(i, { colour }, gesture)}
          />
          <NumberField
            label="at"
            name={`${label} stop ${i + 1} at`}
            unit="%"
            value={stop.at * 100}
            min={between(i)[0]}
            max={between(i)[1]}
            onChange={(percent) => put(i, { at: percent / 100 }, true)}
            onCommit={commit}
          />
          {stops.length > 1 && (
            <Button
              size="compact-xs"
              variant="default"
              onClick={() =>
                onChange(
                  stops.filter((_, at) => at !== i),
                  false,
                )
              }
            >
              Remove
            </Button>
          )}
        </div>
      ))}
      <Button
        size="compact-xs"
        variant="default"
        className={classes.more}
        onClick={() => onChange([...stops, { at: 1, colour: stops.at(-1)?.colour ?? '#ffffff' }], false)}
      >
        One more stop
      </Button>
    </>
  );
}

/** The fill as another kind, its colours kept. */
function changed(fill: Fill, kind: string, pictures: Schemas['Asset'][]): Fill {
  const stops: Stop[] =
    fill.kind === 'linear' || fill.kind === 'radial'
      ? fill.stops
      : [
          { at: 0, colour: fill.kind === 'solid' ? fill.colour : '#ffffff' },
          { at: 1, colour: '#808080' },
        ];
  switch (kind) {
    case 'solid':
      return { kind, colour: stops[0]?.colour ?? '#808080' };
    case 'linear':
      return { kind, angle: 180, stops };
    case 'radial':
      return { kind, centre: { x: 0.5, y: 0.5 }, radius: 120, stops };
    case 'image':
      return { kind, asset: pictures[0]?.id ?? '', fit: 'cover' };
    default:
      return { kind: 'none' };
  }
}
