import { Button, Group, NativeSelect, Text } from '@mantine/core';
import { useState } from 'react';
import { ranges } from '../core/constants';
import { words } from '../messages';
import { NumberField } from '../parts/NumberField';
import { copyCoats } from '../session/clipboard';
import { type ChangeMode, changeTicked, removeCoats, type SharedValue, shared } from '../session/coats';
import { useDocument } from '../session/store';
import classes from './Stack.module.css';

/** What can be done with several coats at once. */
export function Ticked() {
  const ticked = useDocument((state) => state.ticked);
  const [value, setValue] = useState<SharedValue>('opacity');
  const [how, setHow] = useState<ChangeMode>('multiply');
  const [by, setBy] = useState(0.5);
  if (ticked.length === 0) return null;
  const { label, unit, range } = shared[value];
  const [min, max] = how === 'set' ? range : ranges.OffsetPx;
  return (
    <fieldset className={classes.ticked}>
      <legend>{words.bench.coatsSelected(ticked.length)}</legend>
      <Group gap={6} wrap="nowrap">
        <NativeSelect
          size="xs"
          aria-label={words.bench.operation}
          value={how}
          data={[
            { value: 'set', label: words.bench.set },
            { value: 'add', label: words.bench.addTo },
            { value: 'multiply', label: words.bench.multiply },
          ]}
          onChange={(event) => setHow(event.currentTarget.value as ChangeMode)}
        />
        <NativeSelect
          size="xs"
          aria-label={words.bench.value}
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
          label={how === 'multiply' ? words.bench.by : how === 'add' ? words.bench.add : words.bench.to}
          name={words.bench.byWithLabel(label, how)}
          unit={how === 'multiply' ? '×' : unit}
          value={by}
          min={min}
          max={max}
          onChange={setBy}
        />
      </Group>
      <Group gap={6} mt={6}>
        <Button size="compact-xs" onClick={() => changeTicked(value, how, by)}>
          {words.bench.applyToAll}
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => copyCoats()}>
          {words.common.copy}
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => removeCoats(ticked)}>
          {words.common.remove}
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => useDocument.setState({ ticked: [] })}>
          {words.bench.clearSelection}
        </Button>
      </Group>
      <Text size="xs" c="dimmed" mt={4}>
        {words.bench.withoutTheValue}
      </Text>
    </fieldset>
  );
}
