import { type SplitterPaneSize as Size, useLocalStorage } from '@mantine/hooks';

/** The sizes of the bench's parts, remembered in this browser. */
export function usePanes(name: string, first: Size[]): [Size[], (sizes: Size[]) => void] {
  const [sizes, setSizes] = useLocalStorage<Size[]>({
    key: `zolvet panes ${name}`,
    defaultValue: first,
    getInitialValueInEffect: false,
  });
  return [sizes.length === first.length ? sizes : first, setSizes];
}
