/** What a list offers: each value by what it is called, in their order. */
export function options<V extends string>(called: Record<V, string>): { value: V; label: string }[] {
  return Object.entries<string>(called).map(([value, label]) => ({ value: value as V, label }));
}
