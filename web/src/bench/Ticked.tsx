import { Button, Group, NativeSelect, Text } from '@mantine/core';
import { useState } from 'react';
import { ranges } from '../core/constants';
import { NumberField } from '../parts/NumberField';
import { copyCoats } from '../session/clipboard';
import { changeTicked, type How, removeCoats, type SharedValue, shared } from '../session/coats';
import { useDocument } from '../session/store';
import classes from './Stack.module.css';

/** What can be done with several coats at once. */
export function Ticked() {
  const ticked = useDocument((state) => state.ticked);
  const [value, setValue] = useState<SharedValue>('opacity');
  const [how, setHow] = useState<How>('multiply');
  const [by, setBy] = useState(0.5);
  if (ticked.length === 0) return null;
  const { label, unit, range } = shared[value];
  const [min, max] = how === 'set' ? range : ranges.OffsetPx;
  return (
    <fieldset className={classes.ticked}>
      <legend>{ticked.length === 1 ? '1 coat is chosen' : `${ticked.length} coats are chosen`}</legend>
      <Group gap={6} wrap="nowrap">
        <NativeSelect
          size="xs"
          aria-label="What to do with the value"
          value={how}
          data={[
            { value: 'set', label: 'set' },
            { value: 'add', label: 'add to' },
            { value: 'multiply', label: 'multiply' },
          ]}
          onChange={(event) => setHow(event.currentTarget.value as How)}
        />
        <NativeSelect
          size="xs"
          aria-label="Which value"
          value={value}
          data={Object.entries(shared).map(([key, { label }]) => ({
            value: key,
            label: label.toLowerCase(),
          }))}
          onChange={(event) => setValue(event.currentTarget.value as SharedValue)}
        />
      </Group>
      <Group gap={6} mt={6} wrap="nowrap">
        <NumberField
          label={how === 'multiply' ? 'by' : how === 'add' ? 'add' : 'to'}
          name={`${label}: ${how} by`}
          unit={how === 'multiply' ? '×' : unit}
          value={by}
          min={min}
          max={max}
          onChange={setBy}
        />
      </Group>
      <Group gap={6} mt={6}>
        <Button size="compact-xs" onClick={() => changeTicked(value, how, by)}>
          Apply to all
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => copyCoats()}>
          Copy
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => removeCoats(ticked)}>
          Remove
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => useDocument.setState({ ticked: [] })}>
          Let go
        </Button>
      </Group>
      <Text size="xs" c="dimmed" mt={4}>
        Coats that lack the value stay as they are.
      </Text>
    </fieldset>
  );
}
