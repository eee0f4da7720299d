/** The elements of a drawing. */
export const elements = {
  title: 'Elements',
  count: (count: number) => (count === 1 ? 'Drawing of one element' : `Drawing of ${count} elements`),
  show: 'Show elements',
  hide: 'Hide elements',
  about: 'Select an element to give it depth of its own. The picture stays the same.',
  search: 'Search elements',
  none: (wanted: string) => `No element is called “${wanted}”.`,
  missing: (families: string[]) =>
    `Not here: ${families.join(', ')}. Texts are set in the nearest font. Drop the font file on the stage to bring it.`,
} as const;
