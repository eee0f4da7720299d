import { Button, FileButton, NativeSelect } from '@mantine/core';
import { useRef, useState } from 'react';
import type { Schemas } from '../core/client';
import { percents, ranges } from '../core/constants';
import { words } from '../messages';
import { addAsset, upload } from '../session/assets';
import { commit, together, useDocument } from '../session/store';
import { ColourField } from './ColourField';
import classes from './FillField.module.css';
import { NumberField } from './NumberField';
import { options } from './options';

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
  { value: 'none', label: words.parts.none },
  { value: 'solid', label: words.parts.solid },
  { value: 'linear', label: words.parts.linear },
  { value: 'radial', label: words.parts.radial },
  { value: 'image', label: words.parts.picture },
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
      if (!asset) return setFailure(words.parts.wrongPicture);
      together(() => {
        addAsset(asset);
        onChange({ kind: 'image', asset: asset.id, fit: 'cover' }, false);
      });
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
      inputProps={{ 'aria-label': words.parts.pictureFile(label) }}
    >
      {(file) => (
        <div className={classes.fill}>
          <div className={classes.line}>
            <span className={classes.label}>{label}</span>
            <NativeSelect
              size="xs"
              aria-label={words.parts.kindOfFill(label)}
              value={value.kind}
              data={kinds}
              onChange={(event) => choose(event.currentTarget.value, file.onClick)}
            />
            {value.kind === 'solid' && (
              <ColourField
                label={words.parts.colour(label)}
                value={value.colour}
                own={own}
                onChange={(colour, gesture) => onChange({ kind: 'solid', colour }, gesture)}
              />
            )}
            {value.kind === 'image' && (
              <NativeSelect
                size="xs"
                aria-label={words.parts.fitOfThePicture(label)}
                value={value.fit ?? 'cover'}
                data={options(words.parts.fits)}
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
                aria-label={words.parts.pictureOf(label)}
                value={value.asset}
                data={pictures.map((picture) => ({ value: picture.id, label: picture.name }))}
                onChange={(event) => onChange({ ...value, asset: event.currentTarget.value }, false)}
              />
              <Button size="compact-xs" variant="default" onClick={file.onClick}>
                {words.parts.chooseAFile}
              </Button>
            </div>
          )}
          {value.kind === 'linear' && <Direction label={label} value={value} onChange={onChange} />}
          {value.kind === 'radial' && (
            <>
              <Measure
                label={words.parts.radius}
                name={words.parts.radiusWithLabel(label)}
                unit="px"
                value={value.radius}
                range={ranges.Length}
                slider={[0, 600]}
                set={(radius) => onChange({ ...value, radius }, true)}
              />
              <Measure
                label={words.parts.centreX}
                name={words.parts.centreXOf(label)}
                unit="%"
                value={value.centre.x * 100}
                range={percents(ranges.Relative)}
                slider={[0, 100]}
                set={(x) => onChange({ ...value, centre: { ...value.centre, x: x / 100 } }, true)}
              />
              <Measure
                label={words.parts.centreY}
                name={words.parts.centreYOf(label)}
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
          label={words.parts.angle}
          name={words.parts.angleWithLabel(label)}
          unit="°"
          value={'angle' in value ? value.angle : 180}
          range={ranges.Degrees}
          slider={[0, 360]}
          set={(angle) => onChange({ kind: 'linear', angle, stops }, true)}
        />
      )}
      <div className={classes.line}>
        <span className={classes.label}>{words.parts.direction}</span>
        <NativeSelect
          size="xs"
          aria-label={words.parts.directionOf(label)}
          value={follows}
          data={[
            { value: '', label: words.parts.byAngle },
            ...lights.map((light) => ({ value: light.id, label: words.parts.awayFrom(light.name) })),
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
            label={words.parts.stop(label, i + 1)}
            value={stop.colour}
            own={own}
            onChange={(colour, gesture) => put(i, { colour }, gesture)}
          />
          <NumberField
            label={words.parts.at}
            name={words.parts.stopAt(label, i + 1)}
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
              {words.common.remove}
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
        {words.parts.addStop}
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
