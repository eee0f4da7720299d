import { ColorPicker, Popover, TextInput, UnstyledButton } from '@mantine/core';
import { useState } from 'react';
import type { Schemas } from '../api/client';
import { rest, sceneOf, useDocument } from '../document/store';
import classes from './ColourField.module.css';
import { NumberField } from './NumberField';

type Source = Schemas['ColourSource'];

interface Props {
  label: string;
  value: Source;
  /** Whether the piece's own fill can be taken. */
  own: boolean;
  onChange: (value: Source, gesture: boolean) => void;
}

/** A colour: written out, a swatch, or the piece's own. */
export function ColourField({ label, value, own, onChange }: Props) {
  const document = useDocument((state) => state.document);
  const theme = useDocument((state) => sceneOf(state.document, state.scene)?.theme ?? '');
  const [draft, setDraft] = useState<string | null>(null);
  const swatches = document?.swatches ?? [];
  const swatch =
    typeof value === 'object' && 'swatch' in value
      ? swatches.find((other) => other.id === value.swatch)
      : undefined;
  const literal = typeof value === 'string' ? value : swatch?.values[theme];
  const said =
    typeof value === 'string'
      ? value
      : 'swatch' in value
        ? (swatch?.name ?? value.swatch)
        : origins[value.from];
  const wrong = draft !== null && !CSS.supports('color', draft);
  const type = (text: string) => {
    if (CSS.supports('color', text)) {
      setDraft(null);
      onChange(text, false);
    }
  };
  return (
    <Popover
      position="bottom-start"
      onClose={() => {
        setDraft(null);
        rest();
      }}
      trapFocus
    >
      <Popover.Target>
        <UnstyledButton className={classes.field} aria-label={`${label}: ${said}`}>
          <span
            className={classes.chip}
            style={{ background: literal }}
            data-own={literal ? undefined : true}
          />
          <span className={classes.said}>{said}</span>
        </UnstyledButton>
      </Popover.Target>
      <Popover.Dropdown className={classes.panel}>
        <TextInput
          size="xs"
          aria-label={`${label}, as CSS`}
          value={draft ?? (typeof value === 'string' ? value : (literal ?? ''))}
          error={wrong && 'A CSS colour, such as #2f7d6b or oklch(0.6 0.1 170)'}
          onChange={(event) => setDraft(event.currentTarget.value)}
          onBlur={(event) => draft !== null && type(event.currentTarget.value)}
          onKeyDown={(event) => event.key === 'Enter' && type(event.currentTarget.value)}
        />
        <ColorPicker
          format="hex"
          size="sm"
          fullWidth
          value={literal ?? '#808080'}
          onChange={(colour) => colour !== literal && onChange(colour, true)}
          onChangeEnd={rest}
          saturationLabel={`${label}, saturation and brightness`}
          hueLabel={`${label}, hue`}
        />
        {typeof value === 'object' && (
          <NumberField
            label="Lighter"
            name={`${label}, lighter by`}
            unit="%"
            value={(value.lightness ?? 0) * 100}
            min={-100}
            max={100}
            onChange={(percent) => onChange({ ...value, lightness: percent / 100 }, true)}
            onRest={rest}
          />
        )}
        {own &&
          sources.map(({ from, says }) => (
            <UnstyledButton key={from} className={classes.choice} onClick={() => onChange({ from }, false)}>
              {says}
            </UnstyledButton>
          ))}
        {swatches.map((other) => (
          <UnstyledButton
            key={other.id}
            className={classes.choice}
            onClick={() => onChange({ swatch: other.id }, false)}
          >
            <span className={classes.chip} style={{ background: other.values[theme] }} />
            {other.name}
          </UnstyledButton>
        ))}
      </Popover.Dropdown>
    </Popover>
  );
}

const sources: { from: Schemas['ColourOrigin']; says: string }[] = [
  { from: 'fill', says: 'The piece’s own colour' },
  { from: 'ground', says: 'The ground beneath' },
  { from: 'light', says: 'The light’s colour' },
  { from: 'picture', says: 'The piece’s own picture' },
];

const origins: Record<Schemas['ColourOrigin'], string> = {
  fill: 'its own colour',
  ground: 'the ground beneath',
  light: 'the light’s colour',
  picture: 'its own picture',
};
