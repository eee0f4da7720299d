import { counted } from './text';

/** What is brought in by a file. */
export const incoming = {
  title: 'Import',
  reading: 'Reading the files',
  search: 'Search by name',
  chooseAll: (count: number) => `Choose all ${count}`,
  chooseNone: 'Choose none',
  looks: (finishes: number, swatches: number) =>
    `${counted(finishes, 'finish', 'finishes')} and ${counted(swatches, 'swatch', 'swatches')} that are not here yet. Choose what comes in.`,
  looksListed: 'Finishes',
  showMore: (count: number) => `Show more (${count} left)`,
  add: (count: number) => (count > 0 ? `Add ${counted(count, 'finish', 'finishes')}` : 'Add'),
  added: (count: number) => `${counted(count, 'finish', 'finishes')} added.`,
  rules: (count: number) => `used by ${counted(count, 'rule', 'rules')}`,
  inThemes: 'dark theme',
  missing: (count: number) => `${counted(count, 'variable', 'variables')} without a value`,
  aboutMissing:
    'The files use these and do not set them. Give them a value to see the finishes that need them.',
  readAgain: 'Read again',
  remark: (message: string, count: number) => (count > 1 ? `${message} (${count} times)` : message),
};
