import { ColorPicker, SegmentedControl, TextInput, UnstyledButton } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useRef, useState } from 'react';
import type { Schemas } from '../core/client';
import { isColour, notations, written } from '../core/constants';
import { askCore } from '../core/core';
import { words } from '../messages';
import { sceneOf } from '../session/lookup';
import { addSwatch } from '../session/shared';
import { commit, together, useDocument } from '../session/store';
import classes from './ColourField.module.css';
import { NumberField } from './NumberField';
import { Panel } from './Panel';
import { Quiet } from './Quiet';
import { steady } from './steady';

type Source = Schemas['ColourSource'];

interface Props {
  label: string;
  value: Source;
  /** Whether the piece's own fill can be taken. */
  own: boolean;
  /** Whether it is written out, and nothing else. */
  literal?: boolean;
  /** The colour that it comes to, where that is known. */
  seen?: string;
  /** Only the chip, where there is no room for words. */
  compact?: boolean;
  onChange: (value: Source, gesture: boolean) => void;
}

/** A colour: written out, a swatch, or taken from the piece, its ground or its light. It is typed, or chosen in a panel. */
export const ColourField = steady(function ColourField({ label, value, seen, compact, ...rest }: Props) {
  const all = useDocument((state) => state.document?.swatches);
  const theme = useDocument((state) => sceneOf(state.document, state.scene)?.theme ?? '');
  const swatch =
    typeof value === 'object' && 'swatch' in value
      ? all?.find((other) => other.id === value.swatch)
      : undefined;
  const colour = typeof value === 'string' ? value : (swatch?.values as Record<string, string>)?.[theme];
  const said =
    typeof value === 'string'
      ? value
      : 'swatch' in value
        ? (swatch?.name ?? value.swatch)
        : origins[value.from];
  const [opened, setOpened] = useState(false);
  const panel = (
    <Panel
      position="bottom-start"
      opened={opened}
      onChange={setOpened}
      target={(toggle) => (
        <UnstyledButton
          className={classes.chip}
          data-colour
          style={{ background: colour ?? seen }}
          data-own={colour || seen ? undefined : true}
          aria-label={`${label}: ${said}`}
          aria-expanded={opened}
          title={compact ? said : undefined}
          onClick={toggle}
        />
      )}
    >
      <Choices label={label} value={value} colour={colour ?? seen ?? '#808080'} theme={theme} {...rest}>
        {compact && (
          <Typed label={label} value={value} said={said} {...rest} onTaken={() => setOpened(false)} />
        )}
      </Choices>
    </Panel>
  );
  if (compact) return panel;
  return (
    <span className={classes.field} data-long={said.length > 14 || undefined}>
      {panel}
      <Typed label={label} value={value} said={said} {...rest} onTaken={() => setOpened(false)} />
    </span>
  );
});

interface ChoicesProps extends Omit<Props, 'compact' | 'seen'> {
  colour: string;
  theme: string;
  children: ReactNode;
}

/** What opens beside a colour: a plane and numbers, where it can be taken from, and the swatches. */
function Choices({ label, value, own, literal, colour, theme, children, onChange }: ChoicesProps) {
  const all = useDocument((state) => state.document?.swatches);
  const choices = useRef<HTMLDivElement>(null);
  const swatches = literal ? [] : (all ?? []);
  const offers = own || swatches.length > 0;
  return (
    <div className={classes.panel} data-wide={offers || undefined} ref={choices} tabIndex={-1}>
      <div className={classes.column}>
        {children}
        <Written label={label} colour={colour} onChange={onChange} />
        {typeof value === 'object' && (
          <NumberField
            label={words.parts.lightness}
            name={words.parts.lightnessOf(label)}
            unit="%"
            value={(value.lightness ?? 0) * 100}
            min={-100}
            max={100}
            onChange={(percent) => onChange({ ...value, lightness: percent / 100 }, true)}
            onCommit={commit}
          />
        )}
      </div>
      {(offers || (typeof value === 'string' && !literal)) && (
        <div className={classes.column}>
          {own &&
            sources.map((from) => (
              <UnstyledButton
                key={from}
                className={classes.choice}
                aria-pressed={typeof value === 'object' && 'from' in value && value.from === from}
                onClick={() => onChange({ from }, false)}
              >
                {origins[from]}
              </UnstyledButton>
            ))}
          {swatches.map((other) => (
            <UnstyledButton
              key={other.id}
              className={classes.choice}
              aria-pressed={typeof value === 'object' && 'swatch' in value && value.swatch === other.id}
              onClick={() => onChange({ swatch: other.id }, false)}
            >
              <span
                className={classes.sample}
                data-colour
                style={{ background: (other.values as Record<string, string>)[theme] }}
              />
              {other.name}
            </UnstyledButton>
          ))}
          {typeof value === 'string' && !literal && (
            <Quiet
              fz={12}
              px={4}
              onClick={() => {
                together(() => onChange({ swatch: addSwatch(value, value) }, false));
                // The button goes; the focus stays in the panel.
                choices.current?.focus();
              }}
            >
              {words.parts.saveAsASwatch}
            </Quiet>
          )}
        </div>
      )}
    </div>
  );
}

interface TypedProps extends Pick<Props, 'label' | 'value' | 'onChange'> {
  said: string;
  /** A colour was typed and taken by Enter. */
  onTaken: () => void;
}

/** A colour as text; what is not written out is said by its name, until a colour is typed over it. */
function Typed({ label, value, said, onChange, onTaken }: TypedProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const take = (text: string): boolean => {
    if (!isColour(text)) return false;
    setDraft(null);
    if (text.trim() !== value) onChange(text.trim(), false);
    return true;
  };
  return (
    <TextInput
      size="xs"
      className={classes.typed}
      classNames={{ input: classes.said }}
      aria-label={words.parts.asCss(label)}
      value={draft ?? said}
      error={draft !== null && draft !== said && !isColour(draft) && words.parts.wrongColour}
      data-draft={draft !== null || undefined}
      onFocus={(event) => event.currentTarget.select()}
      onChange={(event) => setDraft(event.currentTarget.value)}
      onBlur={(event) => {
        if (draft === said) setDraft(null);
        else if (draft !== null) take(event.currentTarget.value);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && draft !== null && take(draft)) onTaken();
        if (event.key !== 'Escape' || draft === null) return;
        event.preventDefault();
        setDraft(null);
      }}
    />
  );
}

/** A colour on a plane and in numbers; the core puts it in every form. */
function Written({
  label,
  colour,
  onChange,
}: {
  label: string;
  colour: string;
  onChange: (value: string, gesture: boolean) => void;
}) {
  const [form, setForm] = useState(notations[notations.length - 1]?.form);
  const notation = notations.find((other) => other.form === form);
  const forms = useQuery({
    queryKey: ['colour', colour],
    queryFn: async () => (await askCore('/api/colours', { colours: [colour] }))[0] ?? null,
    placeholderData: (last) => last,
  }).data;
  const alpha = forms?.alpha ?? 1;
  const set = (parts: number[]) => forms && notation && onChange(written(notation, parts, alpha), true);
  /** The same colour in the syntax it has, with another alpha. */
  const fade = (to: number) =>
    forms && onChange(forms.translucent.replace('{alpha}', `${Number(to.toFixed(4))}`), true);
  const pick = (hex: string) => {
    if (!forms || hex === forms.hex.slice(0, 7)) return;
    const bytes = [1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16));
    const [rgb] = notations;
    onChange(alpha < 1 && rgb ? written(rgb, bytes, alpha) : hex, true);
  };
  const parts =
    (notation &&
      forms?.[notation.form].map((part, i) => Number(part.toFixed(notation.parts[i]?.decimals ?? 2)))) ??
    [];
  return (
    <>
      <ColorPicker
        format="hex"
        size="sm"
        fullWidth
        value={forms?.hex.slice(0, 7) ?? '#808080'}
        onChange={pick}
        onChangeEnd={commit}
        saturationLabel={words.parts.saturationAndBrightness(label)}
        hueLabel={words.parts.hue(label)}
      />
      <SegmentedControl
        size="xs"
        aria-label={words.parts.numbersAs(label)}
        value={form}
        onChange={(chosen) => setForm(notations.find((other) => other.form === chosen)?.form)}
        data={notations.map((other) => ({ value: other.form, label: other.form.toUpperCase() }))}
      />
      {notation?.parts.map(({ name, unit, max }, i) => (
        <NumberField
          key={`${form} ${name}`}
          label={name}
          name={`${label}, ${form} ${name}`}
          unit={unit}
          value={parts[i] ?? null}
          min={0}
          max={max}
          slider={[0, max]}
          onChange={(part) => set(parts.map((other, at) => (at === i ? part : other)))}
          onCommit={commit}
        />
      ))}
      <NumberField
        label={words.parts.alpha}
        name={words.parts.alphaWithLabel(label)}
        unit="%"
        value={forms ? alpha * 100 : null}
        min={0}
        max={100}
        slider={[0, 100]}
        onChange={(percent) => fade(percent / 100)}
        onCommit={commit}
      />
    </>
  );
}

const sources = ['fill', 'ground', 'light', 'picture'] as const satisfies Schemas['ColourOrigin'][];

const origins: Record<Schemas['ColourOrigin'], string> = {
  fill: words.parts.thePiecesOwnColour,
  ground: words.parts.theGround,
  light: words.parts.theLightsColour,
  picture: words.parts.thePiecesOwnPicture,
};
