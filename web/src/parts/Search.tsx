import { Group, NativeSelect, TextInput } from '@mantine/core';
import { IconSearch } from '@tabler/icons-react';
import { options } from './options';

interface Props {
  label: string;
  value: string;
  onChange: (wanted: string) => void;
}

/** Where a long list is narrowed to what is looked for. */
export function Search({ label, value, onChange }: Props) {
  return (
    <TextInput
      type="search"
      size="xs"
      w={180}
      aria-label={label}
      placeholder={label}
      leftSection={<IconSearch aria-hidden size={13} />}
      value={value}
      onChange={(event) => onChange(event.currentTarget.value)}
      onKeyDown={(event) => event.key === 'Escape' && onChange('')}
    />
  );
}

/** So many are seen at once; longer lists are searched and sorted. */
export const few = 6;

interface NarrowProps<Order extends string> extends Props {
  orderLabel: string;
  orders: Record<Order, string>;
  order: Order;
  onOrder: (order: Order) => void;
}

/** A long list narrowed to what is looked for, in an order of its reader's. */
export function Narrow<Order extends string>({
  orderLabel,
  orders,
  order,
  onOrder,
  ...search
}: NarrowProps<Order>) {
  return (
    <Group gap={8} wrap="nowrap">
      <Search {...search} />
      <NativeSelect
        size="xs"
        aria-label={orderLabel}
        value={order}
        data={options(orders)}
        onChange={(event) => onOrder(event.currentTarget.value as Order)}
      />
    </Group>
  );
}

/** Whether every word that is looked for is in one of these texts. */
export function fits(wanted: string, ...texts: string[]): boolean {
  const all = texts.join(' ').toLowerCase();
  return wanted
    .toLowerCase()
    .split(/\s+/)
    .every((word) => all.includes(word));
}
