import { Button, Menu } from '@mantine/core';
import { shallowEqual } from '@mantine/hooks';
import { memo } from 'react';
import type { Piece } from '../core/client';
import { words } from '../messages';
import { ColourField } from '../parts/ColourField';
import { Quiet } from '../parts/Quiet';
import { editPiece } from '../session/pieces';
import { useView } from '../session/view';
import { Arrange } from './Arrange';
import classes from './SurfaceLine.module.css';
import { PieceValues } from './values/PieceValues';

type Surface = NonNullable<Piece['surface']>;

const becomes: Record<Surface, string> = {
  keep: words.common.shown,
  cut_out: words.bench.cutOut,
  hide: words.bench.hidden,
};

/** Where the piece itself is in its stack: its fill, how it is drawn, and its own values, opened in place. */
export const SurfaceLine = memo(function SurfaceLine({ piece }: { piece: Piece }) {
  const opened = useView((state) => state.surface);
  return (
    <div className={classes.surface}>
      <div className={classes.line}>
        {piece.fill?.kind === 'solid' && !opened && (
          <ColourField
            compact
            label={words.bench.fillColour}
            value={piece.fill.colour}
            own={false}
            onChange={(colour, gesture) =>
              editPiece(
                piece.id,
                (mine) => {
                  mine.fill = { kind: 'solid', colour };
                },
                gesture,
              )
            }
          />
        )}
        <span className={classes.name}>{words.bench.surface}</span>
        <DrawnAs piece={piece.id} surface={piece.surface ?? 'keep'} />
        <Opener opened={opened} />
      </div>
      {opened && (
        <div className={classes.body}>
          <PieceValues piece={piece} />
          <Arrange />
        </div>
      )}
    </div>
  );
}, isSameSurface);

/** Whether the piece itself is drawn under its coats. */
const DrawnAs = memo(function DrawnAs({ piece, surface }: { piece: string; surface: Surface }) {
  const draw = (surface: Surface) =>
    editPiece(piece, (mine) => {
      mine.surface = surface;
    });
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <Quiet opens fz={12} aria-label={`${words.bench.surface}: ${becomes[surface]}`}>
          {becomes[surface]}
        </Quiet>
      </Menu.Target>
      <Menu.Dropdown>
        {Object.entries(becomes).map(([value, says]) => (
          <Menu.Item
            key={value}
            fw={value === surface ? 600 : undefined}
            onClick={() => draw(value as Surface)}
          >
            {says}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
});

/** Opens the values of the piece, and shuts them. */
const Opener = memo(function Opener({ opened }: { opened: boolean }) {
  return (
    <Button
      size="compact-sm"
      fz={13}
      variant="default"
      aria-expanded={opened}
      onClick={() => useView.setState({ surface: !opened })}
    >
      {opened ? words.bench.closePiece : words.bench.editPiece}
    </Button>
  );
});

/** What a piece wears is not said here. */
function isSameSurface({ piece: before }: { piece: Piece }, { piece: after }: { piece: Piece }): boolean {
  const said = ({ wear: _, states: __, ...rest }: Piece) => rest;
  return shallowEqual(said(before), said(after));
}
