import { counted } from './text';

/** The stage and what is taken hold of on it. */
export const stage = {
  textLeftOut: (name: string) => `${name}: the text in the file is not part of it. Bring it as outlines.`,
  at: (x: number, y: number) => `at ${x} px, ${y} px`,
  summary: (scene: string, count: number, named: string[], more: number, chosen: string[]) =>
    [
      `${scene}: ${counted(count, 'piece', 'pieces')}${count > 0 ? `, highest first: ${named.join(', ')}` : ''}${more > 0 ? ` and ${more} more` : ''}.`,
      chosen.length > 0 ? `Selected: ${chosen.join(', ')}.` : 'Nothing is selected.',
    ].join(' '),
  // Reference
  off: 'Off',
  beside: 'Beside',
  over: 'Over',
  wipe: 'Wipe',
  difference: 'Difference',
  reference: 'Reference',
  referenceFile: 'Reference picture file',
  anotherPicture: 'Choose another picture',
  chooseAPicture: 'Choose a picture',
  removeReference: 'Remove the reference',
  howItIsShown: 'How the reference is shown',
  scale: 'Scale',
  aboutReference:
    'A picture to compare with: beside the scene, over it, under a wipe, or as a difference. It is never exported.',
  referenceWithLabel: (label: string) => `Reference, ${label}`,
  // LightDial
  turnLight: (name: string) => `${name}: drag to turn it, with Alt by single degrees`,
  addLight: 'Add light',
  coatsFollow: (count: number) => (count === 1 ? '1 coat follows' : `${count} coats follow`),
  nameOfTheLight: 'Name of the light',
  bearing: 'Angle',
  strength: 'Strength',
  colourOf: (name: string) => `Colour of ${name}`,
  removeThisLight: 'Remove this light',
  somethingFollowsIt: 'Coats follow it',
  noneFollows: 'No coat follows this light yet',
  whatFollows: 'What follows this light',
  itsFill: (name: string) => `${name}: its fill`,
  // CoatHandles
  blur: (name: string) => `${name}: blur`,
  spread: (name: string) => `${name}: spread`,
  offsetOf: (name: string) => `Offset of ${name}`,
  distanceLower: 'distance',
  shear: 'skew',
  squash: 'height',
  spreadLower: 'spread',
  spreadOfOnTheStage: (name: string) => `Spread of ${name}, on the stage`,
  blurLower: 'blur',
  blurOfOnTheStage: (name: string) => `Blur of ${name}, on the stage`,
  ofOnTheStage: (label: string, name: string) => `${label} of ${name}, on the stage`,
  placeOf: (name: string) => `Place of ${name}`,
  sizeOf: (name: string) => `Size of ${name}`,
  softnessOf: (name: string) => `Softness of ${name}`,
  farEndOf: (name: string) => `Far end of ${name}`,
  // FillHandles
  stopOfTheFillAt: (i: number, at: number) => `Stop ${i} of the fill, at ${at} %`,
  angleOfTheFill: 'Angle of the fill',
  middleOfTheFill: 'Middle of the fill',
  radiusOfTheFill: 'Radius of the fill',
  // Guides
  px: (gap: number) => `${gap} px`,
  // InBrowser
  wipeBetweenTheDesignAnd: 'Wipe between the design and this browser',
  inThisBrowser: ' in this browser',
  // MeasureTool
  pxAcrossDown: (value: number, by: number, by2: number) => `${value} px · across ${by} · down ${by2}`,
  measureHint:
    'Drag or click from one place to another; hold Shift while you drag to go straight across or down.',
  aimKeys: 'Arrows move it, with Shift by 10 px, with Alt by a tenth; Space takes this place',
  aimStart: 'Start of the distance',
  aimEnd: 'End of the distance',
  aimColour: 'Place of the colour',
  aimPoint: (number: number) => `Place of point ${number}`,
  smoothPoint: 'Smooth last point',
  done: 'Done',
  // PickTool
  sceneColour: 'Scene',
  referenceColour: 'Reference',
  averageOf: 'Average of',
  averageSide: 'Width of the averaged square, in pixels',
  pxWithValue: (value: string) => `${value} px`,
  clickToPickAColour: 'Click to pick a colour; or move the cross by arrows and press Space.',
  colourDifference: (value: string, alike: boolean) => `ΔE OK ${value}${alike ? ' (nearly identical)' : ''}`,
  use: 'Use',
  chooseAPieceFirst: 'Select a piece first',
  giveTo: (says: string) => `Use for ${says}`,
  copy: (colour: string) => `Copy ${colour}`,
  stop: (at: number) => `stop ${at}`,
  theFillOf: (name: string) => `the fill of ${name}`,
  // PieceHandles
  topLeftCorner: 'top left corner',
  topEdge: 'top edge',
  topRightCorner: 'top right corner',
  rightEdge: 'right edge',
  bottomRightCorner: 'bottom right corner',
  bottomEdge: 'bottom edge',
  bottomLeftCorner: 'bottom left corner',
  leftEdge: 'left edge',
  sizeOfAt: (name: string, where: string) => `Size of ${name}, ${where}`,
  cornersOfRadius: (name: string, radius: number) => `Corners of ${name}: radius ${radius}`,
  turn: (name: string) => `Turn ${name}`,
  // PointsTool
  path: 'Path',
  pointsHint:
    'Click for a corner, press and drag for a smooth point. Close the path at its first point or with Enter. Backspace removes the last point.',
  closeThePath: 'Close the path',
  // ProfileLine
  moveTheLineOfThe: 'Move the line of the edge profile',
  turnTheLineOfThe: 'Turn the line of the edge profile',
  // TextInPlace
  textOfOnTheStage: (name: string) => `Text of ${name}, on the stage`,
  // Stage
  stageRegion: 'Stage',
  wipeBetweenTheSceneAnd: 'Wipe between the scene and the reference',
  lastPicture: (failure: string) =>
    `${failure} The picture is the last one that could be drawn. Your work is kept.`,
};
