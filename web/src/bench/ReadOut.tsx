import { Button, Group, NativeSelect, SegmentedControl, Text } from '@mantine/core';
import { memo, useState } from 'react';
import { useFaithful } from '../core/asking';
import type { Report, Schemas } from '../core/client';
import { CopyButton } from '../parts/CopyButton';
import { useView } from '../session/view';
import classes from './ReadOut.module.css';
import region from './region.module.css';

const targets: Record<Schemas['Target'], string> = {
  box_shadow: 'box-shadow',
  text_shadow: 'text-shadow',
  drop_shadow: 'drop-shadow()',
  svg_filter: 'SVG filter',
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
    <section aria-label="Read-out" className={`${region.region} ${classes.readout}`}>
      <Group gap={6}>
        <SegmentedControl
          size="xs"
          aria-label="Read-out as"
          value={shown}
          onChange={setShown}
          data={['CSS', 'Page', 'Values']}
        />
        {code && code.targets.length > 1 && (
          <NativeSelect
            size="xs"
            aria-label="What the CSS uses"
            value={code.target}
            data={code.targets.map((target) => ({ value: target, label: targets[target] }))}
            onChange={(event) => useView.setState({ target: event.currentTarget.value as Schemas['Target'] })}
          />
        )}
        {report && (
          <CopyButton
            text={text}
            fresh={fresh}
            what={shown === 'CSS' ? 'CSS' : shown === 'Page' ? 'page' : 'values'}
          />
        )}
      </Group>
      {failure && (
        <Text size="sm" role="alert">
          {failure} {report && 'This is what it was before the last change.'}
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
          {text || 'No coats: nothing to write.'}
        </pre>
      ) : (
        <Text size="sm" c="dimmed">
          Choose a piece to read its code.
        </Text>
      )}
    </section>
  );
});

type Said = Schemas['Conventions'];

const softness: Record<Schemas['Softness'], string> = {
  blur_radius: 'Blur radius',
  sigma: 'Gaussian σ',
  reach_and_hardness: 'Reach and hardness',
};
const direction: Record<Schemas['Direction'], string> = {
  axes: 'x and y',
  light_clockwise: 'Light from, clockwise from the top',
  fall_clockwise: 'Falls to, clockwise from the top',
  light_counter_clockwise: 'Light at, counter-clockwise from the right',
};
const density: Record<Schemas['Density'], string> = {
  percent: 'Opacity in %',
  fraction: 'Opacity from 0 to 1',
  hex: 'Opacity in hex',
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
      {choose('Softness as', 'softness', softness)}
      {choose('Offset as', 'direction', direction)}
      {choose('Opacity as', 'density', density)}
      {said && (
        <Button size="compact-xs" variant="default" onClick={() => useView.setState({ conventions: null })}>
          All forms
        </Button>
      )}
    </Group>
  );
}

/** How far a browser's picture of the code will be from what was designed, as the core foretells it. */
function Verdict({ report, count }: { report: Report; count: number }) {
  const faithful = useFaithful(report.code.target);
  const found = faithful?.targets[0];
  const words = count === 0 ? 'Exact' : `${count} ${count === 1 ? 'thing differs' : 'things differ'}`;
  return (
    <Text size="xs" c="dimmed" className={classes.verdict}>
      {words}
      {found &&
        `; a browser’s picture is off by ${found.mean.toFixed(2)} of 255 in the mean, ${found.worst} at worst`}
    </Text>
  );
}
