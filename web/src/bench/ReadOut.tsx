import { Button, Group, NativeSelect, SegmentedControl, Text } from '@mantine/core';
import { memo, useState } from 'react';
import { useFaithful } from '../core/asking';
import type { Report, Schemas } from '../core/client';
import { words } from '../messages';
import { CopyButton } from '../parts/CopyButton';
import { useView } from '../session/view';
import classes from './ReadOut.module.css';
import region from './region.module.css';

const targets: Record<Schemas['Target'], string> = {
  box_shadow: 'box-shadow',
  text_shadow: 'text-shadow',
  drop_shadow: 'drop-shadow()',
  svg_filter: words.bench.svgFilter,
};

interface Props {
  report: Report | null;
  /** Whether it is about the piece as it is now. */
  fresh: boolean;
  failure: string | null;
}

/** The chosen piece as code or plain values, live, with what differs and by how much. */
export const ReadOut = memo(function ReadOut({ report, fresh, failure }: Props) {
  const [shown, setShown] = useState('CSS');
  const code = report?.code;
  const text = (shown === 'CSS' ? code?.css : shown === 'Page' ? code?.page : code?.values) ?? '';
  const said = [...(code?.differences ?? []), ...(report?.notes ?? [])];
  return (
    <section aria-label={words.bench.readOut} className={`${region.region} ${classes.readout}`}>
      <Group gap={6}>
        <SegmentedControl
          size="xs"
          aria-label={words.bench.showAs}
          value={shown}
          onChange={setShown}
          data={['CSS', words.bench.htmlAndCss, words.bench.values]}
        />
        {code && code.targets.length > 1 && (
          <NativeSelect
            size="xs"
            aria-label={words.bench.cssProperty}
            value={code.target}
            data={code.targets.map((target) => ({ value: target, label: targets[target] }))}
            onChange={(event) => useView.setState({ target: event.currentTarget.value as Schemas['Target'] })}
          />
        )}
        {report && (
          <CopyButton
            text={text}
            fresh={fresh}
            what={
              shown === 'CSS'
                ? words.common.css
                : shown === 'Page'
                  ? words.bench.htmlLower
                  : words.bench.valuesLower
            }
          />
        )}
      </Group>
      {failure && (
        <Text size="sm" role="alert">
          {failure} {report && words.bench.beforeTheLastChange}
        </Text>
      )}
      {report && shown === 'Values' && <Conventions />}
      {report && <Verdict report={report} count={said.length} />}
      {said.length > 0 && shown === 'CSS' && (
        <ul className={classes.notes}>
          {said.map((note) => (
            <li key={note.message}>{note.message}</li>
          ))}
        </ul>
      )}
      {report ? (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable from the keyboard
        <pre className={classes.code} tabIndex={0}>
          {text || words.bench.noCoatsNothingToWrite}
        </pre>
      ) : (
        <Text size="sm" c="dimmed">
          {words.bench.chooseAPieceToRead}
        </Text>
      )}
    </section>
  );
});

type Said = Schemas['Conventions'];

const softness: Record<Schemas['Softness'], string> = {
  blur_radius: words.bench.blurRadius,
  sigma: words.bench.gaussian,
  reach_and_hardness: words.bench.reachAndHardness,
};
const direction: Record<Schemas['Direction'], string> = {
  axes: words.bench.xAndY,
  light_clockwise: words.bench.lightClockwise,
  fall_clockwise: words.bench.shadowClockwise,
  light_counter_clockwise: words.bench.lightCounterClockwise,
};
const density: Record<Schemas['Density'], string> = {
  percent: words.bench.opacityIn,
  fraction: words.bench.opacityFrom0To1,
  hex: words.bench.opacityInHex,
};

/** In which of the usual forms the values are said, for the tool they are to be typed into. */
function Conventions() {
  const said = useView((state) => state.conventions);
  const choose = <K extends keyof Said>(label: string, key: K, forms: Record<string, string>) => (
    <NativeSelect
      size="xs"
      className={classes.form}
      aria-label={label}
      value={said?.[key] ?? ''}
      data={[
        ...(said ? [] : [{ value: '', label }]),
        ...Object.entries(forms).map(([value, label]) => ({ value, label })),
      ]}
      onChange={(event) => {
        const now = said ?? { softness: 'blur_radius', direction: 'axes', density: 'percent' };
        useView.setState({ conventions: { ...now, [key]: event.currentTarget.value } as Said });
      }}
    />
  );
  return (
    <Group gap={6} mt={6}>
      {choose(words.bench.softnessAs, 'softness', softness)}
      {choose(words.bench.offsetAs, 'direction', direction)}
      {choose(words.bench.opacityAs, 'density', density)}
      {said && (
        <Button size="compact-xs" variant="default" onClick={() => useView.setState({ conventions: null })}>
          {words.bench.allForms}
        </Button>
      )}
    </Group>
  );
}

/** How far a browser's picture of the code will be from what was designed, as the core foretells it. */
function Verdict({ report, count }: { report: Report; count: number }) {
  const faithful = useFaithful(report.code.target);
  const found = faithful?.targets[0];
  return (
    <Text size="xs" c="dimmed" className={classes.verdict}>
      {count === 0 ? words.bench.exact : words.bench.differences(count)}
      {found && words.bench.aBrowsersPictureIsOff(found.mean.toFixed(2), found.worst)}
    </Text>
  );
}
