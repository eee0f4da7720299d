import { Button, SegmentedControl } from '@mantine/core';
import type { Piece } from '../core/client';
import { editPiece } from '../session/pieces';
import { useView } from '../session/view';
import { Arrange } from './Arrange';
import classes from './SurfaceLine.module.css';
import { PieceValues } from './values/PieceValues';

const becomes = [
  { value: 'keep', label: 'Shown' },
  { value: 'cut_out', label: 'Cut out' },
  { value: 'hide', label: 'Hidden' },
];

/** Where the piece itself is in its stack: what becomes of its surface, and the piece's own values, opened in place. */
export function SurfaceLine({ piece }: { piece: Piece }) {
  const opened = useView((state) => state.surface);
  return (
    <div className={classes.surface}>
      <div className={classes.line}>
        <span className={classes.name}>Surface</span>
        <SegmentedControl
          size="xs"
          aria-label="What becomes of the surface"
          value={piece.surface ?? 'keep'}
          data={becomes}
          onChange={(surface) =>
            editPiece(piece.id, (mine) => {
              mine.surface = surface as Piece['surface'];
            })
          }
        />
        <Button
          size="compact-xs"
          variant="default"
          ml="auto"
          aria-expanded={opened}
          onClick={() => useView.setState({ surface: !opened })}
        >
          {opened ? 'Close piece' : 'Edit piece'}
        </Button>
      </div>
      {opened && (
        <div className={classes.body}>
          <PieceValues piece={piece} />
          <Arrange />
        </div>
      )}
    </div>
  );
}
