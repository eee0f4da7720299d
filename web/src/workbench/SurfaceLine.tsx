import { SegmentedControl } from '@mantine/core';
import type { Piece } from '../api/client';
import { edit, pieceOf, sceneOf, useDocument } from '../document/store';
import { ColourField } from '../parts/ColourField';
import classes from './SurfaceLine.module.css';

const becomes = [
  { value: 'keep', label: 'Keep' },
  { value: 'cut_out', label: 'Cut out' },
  { value: 'hide', label: 'Hide' },
];

/** Where the piece itself is in its stack: its fill, and what becomes of it. */
export function SurfaceLine({ piece }: { piece: Piece }) {
  const change = (to: (piece: Piece) => void, gesture = false) =>
    edit((draft) => {
      const chosen = pieceOf(sceneOf(draft, useDocument.getState().scene), piece.id);
      if (chosen) to(chosen);
    }, gesture);
  const fill = piece.fill;
  return (
    <div className={classes.line}>
      <span className={classes.name}>surface</span>
      {fill?.kind === 'solid' ? (
        <ColourField
          label="Fill"
          value={fill.colour}
          own={false}
          onChange={(colour, gesture) =>
            change((chosen) => {
              chosen.fill = { kind: 'solid', colour };
            }, gesture)
          }
        />
      ) : (
        <span className={classes.kind}>
          {fill?.kind === 'linear' || fill?.kind === 'radial' ? 'gradient' : 'no fill'}
        </span>
      )}
      <SegmentedControl
        size="xs"
        aria-label="What becomes of the surface"
        value={piece.surface ?? 'keep'}
        data={becomes}
        onChange={(surface) =>
          change((chosen) => {
            chosen.surface = surface as Piece['surface'];
          })
        }
      />
    </div>
  );
}
