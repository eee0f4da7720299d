import { Group, SegmentedControl, Text } from '@mantine/core';
import { memo, useState } from 'react';
import type { Report } from '../api/client';
import { CopyButton } from '../parts/CopyButton';
import classes from './ReadOut.module.css';
import region from './region.module.css';

/** The chosen piece as code or plain values, live, with what differs. */
export const ReadOut = memo(function ReadOut({ report }: { report: Report | null }) {
  const [shown, setShown] = useState('CSS');
  const text = (shown === 'CSS' ? report?.code.css : report?.code.values) ?? '';
  const said = [...(report?.code.differences ?? []), ...(report?.notes ?? [])];
  return (
    <section aria-label="Read-out" className={`${region.region} ${classes.readout}`}>
      <Group gap={10} wrap="nowrap">
        <SegmentedControl
          size="xs"
          aria-label="Read-out as"
          value={shown}
          onChange={setShown}
          data={['CSS', 'Values']}
        />
        <Text size="xs" c="dimmed" className={classes.verdict}>
          {report &&
            (said.length === 0
              ? 'Exact'
              : `${said.length} ${said.length === 1 ? 'thing differs' : 'things differ'}`)}
        </Text>
        {report && <CopyButton text={text} what={shown === 'CSS' ? 'CSS' : 'values'} />}
      </Group>
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
