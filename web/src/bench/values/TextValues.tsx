import { FileButton, NativeSelect, Textarea } from '@mantine/core';
import { useMemo, useRef } from 'react';
import type { Schemas } from '../../core/client';
import { limits, ranges } from '../../core/constants';
import { words } from '../../messages';
import { sayFailure } from '../../page/toast';
import { options } from '../../parts/options';
import { Panel } from '../../parts/Panel';
import { Quiet } from '../../parts/Quiet';
import { bringFont, type Family, familiesOf, nearest, writeLicence } from '../../session/fonts';
import { commit, useDocument } from '../../session/store';
import { Row, Values } from './fields';

type Shape = Schemas['Shape'];

/** A text: its letters, and how they are set. */
export function TextValues({
  shape,
  reshape,
}: {
  shape: Extract<Shape, { kind: 'text' }>;
  reshape: (to: Partial<Shape>, gesture?: boolean) => void;
}) {
  const document = useDocument((state) => state.document);
  const families = useMemo(() => familiesOf(document), [document]);
  const family = families.find((one) => one.name === shape.font);
  const weights = family?.weights ?? [shape.weight];
  return (
    <>
      <Textarea
        size="xs"
        autosize
        aria-label={words.common.text}
        maxLength={limits.textCharacters}
        value={shape.string}
        onChange={(event) => reshape({ string: event.currentTarget.value })}
        onBlur={commit}
      />
      <Row label={words.values.font}>
        <NativeSelect
          size="xs"
          aria-label={words.values.font}
          value={shape.font}
          data={families.map(({ name }) => name)}
          onChange={(event) => {
            const font = event.currentTarget.value;
            const there = families.find((one) => one.name === font)?.weights ?? [400];
            reshape({ font, weight: nearest(there, shape.weight) }, false);
          }}
        />
        <NativeSelect
          size="xs"
          aria-label={words.values.weight}
          value={String(shape.weight)}
          data={weights.map(String)}
          onChange={(event) => reshape({ weight: Number(event.currentTarget.value) }, false)}
        />
      </Row>
      <Brought family={family} />
      <Values
        of={[
          {
            label: words.common.size,
            unit: 'px',
            value: shape.size,
            range: ranges.FontSize,
            slider: [8, 200],
            set: (size) => reshape({ size }),
          },
          {
            label: words.values.spacing,
            unit: 'px',
            value: shape.spacing ?? 0,
            range: ranges.Spacing,
            slider: [-5, 20],
            set: (spacing) => reshape({ spacing }),
          },
        ]}
      />
      <Row label={words.values.alignment}>
        <NativeSelect
          size="xs"
          aria-label={words.values.alignmentOfLines}
          value={shape.align ?? 'left'}
          data={options(words.values.aligns)}
          onChange={(event) => reshape({ align: event.currentTarget.value as Schemas['Align'] }, false)}
        />
      </Row>
    </>
  );
}

/** Brings a font from a file; of one that was brought, under which terms it may be used. */
function Brought({ family }: { family: Family | undefined }) {
  const reset = useRef<() => void>(null);
  const take = (chosen: File | null) => {
    reset.current?.();
    if (chosen) bringFont(chosen).catch((error: Error) => sayFailure(error.message));
  };
  return (
    <Row label="">
      <FileButton
        onChange={take}
        accept=".ttf,.otf,.woff2"
        resetRef={reset}
        inputProps={{ 'aria-label': words.values.fontFile }}
      >
        {(file) => (
          <Quiet fz={12} px={0} onClick={file.onClick}>
            {words.values.bringAFont}
          </Quiet>
        )}
      </FileButton>
      {family && family.brought.length > 0 && (
        <Panel
          position="right-start"
          width={300}
          target={(toggle) => (
            <Quiet opens fz={12} px={0} onClick={toggle}>
              {words.values.licence}
            </Quiet>
          )}
        >
          <Textarea
            size="xs"
            autosize
            maxRows={8}
            label={words.values.licenceOf(family.name)}
            description={words.values.aboutLicence}
            maxLength={limits.noteCharacters}
            value={family.brought[0]?.font?.licence ?? ''}
            onChange={(event) => writeLicence(family.name, event.currentTarget.value)}
            onBlur={commit}
          />
        </Panel>
      )}
    </Row>
  );
}
