import { Button, SegmentedControl } from '@mantine/core';
import type { Piece } from '../core/client';
import { words } from '../messages';
import { editPiece } from '../session/pieces';
import { useView } from '../session/view';
import { Arrange } from './Arrange';
import classes from './SurfaceLine.module.css';
import { PieceValues } from './values/PieceValues';

const becomes = [
  { value: 'keep', label: words.common.shown },
  { value: 'cut_out', label: words.bench.cutOut },
  { value: 'hide', label: words.bench.hidden },
];

/** Where the piece itself is in its stack: what becomes of its surface, and the piece's own values, opened in place. */
export function SurfaceLine({ piece }: { piece: Piece }) {
  const opened = useView((state) => state.surface);
  return (
    <div className={classes.surface}>
      <div className={classes.line}>
        <span className={classes.name}>{words.bench.surface}</span>
        <SegmentedControl
          size="xs"
          aria-label={words.bench.howTheSurfaceIsDrawn}
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
          {opened ? words.bench.closePiece : words.bench.editPiece}
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
