/** The elements of a drawing. */
export const elements = {
  title: 'Elements',
  count: (count: number) => (count === 1 ? 'Drawing of one element' : `Drawing of ${count} elements`),
  left: (count: number) =>
    count === 1 ? '1 element is left in the drawing' : `${count} elements are left in the drawing`,
  show: 'Show elements',
  hide: 'Hide elements',
  about: 'Select an element to give it depth of its own. The picture stays the same.',
  search: 'Search elements',
  none: (wanted: string) => `No element is called “${wanted}”.`,
  missing: (families: string[]) =>
    `Not here: ${families.join(', ')}. Texts are set in the nearest font until you bring the font file.`,
  bringFont: 'Bring a font…',
  asText: 'Make it text',
  aboutText: 'Its words, font and size can be changed then. Letters move by up to an eighth of a px.',
  asCoats: 'Make its filter coats',
  aboutCoats: 'The filter that it has in the file becomes coats that you can change.',
  otherwise: (remarks: string[]) =>
    `As coats, its filter looks a little different: it ${remarks.join('; it ')}.`,
  oneColour: 'Make it an icon in one colour',
  aboutOneColour: 'Its fill can be changed then. The file no longer gets depth.',
} as const;
