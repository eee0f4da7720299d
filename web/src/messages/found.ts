import { counted, tenths } from './text';

interface Off {
  mean: number;
  p99: number;
  worst: number;
}

interface Facts {
  ground: string;
  fill: string;
  border?: { width: number; colour: string } | null;
}

/** Stacks found on pictures and for heights. */
export const found = {
  aPicture: 'A picture…',
  aHeight: 'A height…',
  // Pictures
  fromPicture: 'Start from a picture',
  dropPicture: 'Drop a screenshot of a box with shadows here, or paste one. It stays on this machine.',
  choosePicture: 'Choose a picture…',
  anotherPicture: 'Another picture…',
  sceneReference: 'This scene’s reference',
  noPicture: 'This is no picture: expected a PNG, JPEG or WebP file.',
  thePicture: 'The picture',
  looking: 'Looking for the box and its shadows…',
  lookAgain: 'Look for the box again',
  density: 'Pixels of the picture for one px',
  sides: { x: 'Left', y: 'Top', w: 'Width', h: 'Height' },
  radius: 'Corners',
  onPicture: 'On the picture',
  drawnWith: (shadows: number) => `With ${counted(shadows, 'shadow', 'shadows')}`,
  difference: 'Where they differ, 16 times as strong',
  off: ({ mean, p99 }: Off) =>
    `Off by ${tenths(mean)} of 255 on average, by ${tenths(p99)} at 99\u00a0% of the pixels.`,
  facts: ({ ground, fill, border }: Facts) =>
    `Ground ${ground}, fill ${fill}, ${border ? `border ${border.width} px ${border.colour}` : 'no border'}.`,
  use: 'Use these coats',
  withSurface: 'and its fill, size and corners',
  // Heights
  fromHeight: 'Start from a height',
  height: 'Height',
  light: 'Light',
  bearing: 'Comes from',
  coats: 'Shadows',
  raising: 'Finding the shadows…',
  raisedOff: ({ mean, worst }: Off) =>
    `Off from the light that really reaches the ground by ${tenths(mean)} of 255 on average, by ${tenths(worst)} at the worst pixel.`,
  says: (height: number, { mean }: Off) =>
    `Its present shadows say ${tenths(height)} px under this light (off by ${tenths(mean)} of 255 on average).`,
  saysNothing: 'It has no drop shadows now that say a height.',
  heights: 'Heights of a scale, in px',
  makeScale: 'Make finishes of them',
  notHeights: 'Expected heights from 0.5 to 200 px, at most 12, with commas between them.',
  finishName: (height: number) => `Height ${height}`,
  madeScale: (count: number) => `${counted(count, 'finish', 'finishes')} made`,
} as const;
