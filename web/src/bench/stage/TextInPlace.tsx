import type { Piece, Schemas } from '../../core/client';
import { limits } from '../../core/constants';
import { words } from '../../messages';
import { editPiece } from '../../session/pieces';
import { commit } from '../../session/store';
import classes from './Stage.module.css';

interface Props {
  piece: Piece;
  shape: Extract<Schemas['Shape'], { kind: 'text' }>;
  size: { w: number; h: number };
  scale: number;
  onDone: () => void;
}

/** The words of a text, edited where they stand; the picture follows. */
export function TextInPlace({ piece, shape, size, scale, onDone }: Props) {
  const write = (string: string) =>
    editPiece(
      piece.id,
      (mine) => {
        if (mine.shape.kind === 'text') mine.shape.string = string;
      },
      true,
    );
  return (
    <textarea
      // biome-ignore lint/a11y/noAutofocus: it was just asked for by a double click
      autoFocus
      aria-label={words.stage.textOfOnTheStage(piece.name)}
      className={classes.writing}
      style={{ left: piece.x * scale, top: (piece.y + size.h) * scale + 10, minWidth: size.w * scale }}
      maxLength={limits.textCharacters}
      value={shape.string}
      rows={shape.string.split('\n').length}
      onPointerDown={(event) => event.stopPropagation()}
      onChange={(event) => write(event.currentTarget.value)}
      onBlur={() => {
        commit();
        onDone();
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') event.currentTarget.blur();
      }}
    />
  );
}
