import { Modal } from '@mantine/core';
import { memo } from 'react';
import classes from './KeySheet.module.css';

const groups: { title: string; keys: [string, string][] }[] = [
  {
    title: 'Pieces',
    keys: [
      ['[ and ]', 'choose the one before, the one after'],
      ['Shift + click', 'choose one more'],
      ['Arrows', 'move by 1 px; with Shift 10, with Alt a tenth'],
      ['Ctrl + D', 'duplicate'],
      ['Delete', 'remove the chosen coats, the open coat, or else the pieces'],
      ['Escape', 'close the coat; then let go of the piece'],
    ],
  },
  {
    title: 'Coats',
    keys: [
      ['Ctrl + C', 'copy the ticked coats, the open one, or the stack'],
      ['Ctrl + V', 'paste on every chosen piece'],
      ['hold O', 'only the open coat'],
      ['hold B', 'before: no coats'],
      ['Space, arrows, Space', 'on a coat’s grip: take it, move it, drop it'],
    ],
  },
  {
    title: 'Numbers',
    keys: [
      ['Up and Down', 'by 1; with Shift 10, with Alt a tenth'],
      ['drag on the label', 'changes the value; pull away from the line for finer steps'],
      ['12*1.5', 'sums are worked out'],
      ['Escape', 'leaves the value as it was'],
    ],
  },
  {
    title: 'Stage and history',
    keys: [
      ['+ and −', 'zoom in, zoom out'],
      ['0', 'fit the scene'],
      ['Ctrl + Z', 'undo; with Shift redo'],
      ['?', 'this sheet'],
    ],
  },
];

/** What keys do. */
interface Props {
  opened: boolean;
  onClose: () => void;
}

export const KeySheet = memo(function KeySheet({ opened, onClose }: Props) {
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      title="Shortcuts"
      size="lg"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <div className={classes.groups}>
        {groups.map(({ title, keys }) => (
          <section key={title}>
            <h3 className={classes.title}>{title}</h3>
            <dl className={classes.list}>
              {keys.map(([key, does]) => (
                <div key={key} className={classes.line}>
                  <dt>{key}</dt>
                  <dd>{does}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </Modal>
  );
});
