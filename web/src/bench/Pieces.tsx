import { memo } from 'react';
import type { Schemas } from '../core/client';
import { words } from '../messages';
import { chooseAlso, choosePiece, useChosenPieces, useScene } from '../session/store';
import { AddPiece } from './AddPiece';
import classes from './Pieces.module.css';
import region from './region.module.css';

const intoView = (piece: HTMLElement | null) => piece?.scrollIntoView({ block: 'nearest' });

/** The scene's pieces as pictures on a shelf. */
export const Pieces = memo(function Pieces({ thumbnails }: { thumbnails: Schemas['Thumbnails'] | null }) {
  const scene = useScene();
  const chosen = useChosenPieces();
  const pictures = new Map(thumbnails?.pieces.map((piece) => [piece.id, piece.picture]));
  return (
    <section aria-label={words.common.pieces} className={`${region.region} ${classes.shelf}`}>
      <div className={classes.row}>
        {scene?.pieces.map((piece) => (
          <button
            key={piece.id}
            type="button"
            className={classes.piece}
            aria-pressed={chosen.includes(piece.id)}
            title={piece.name}
            data-hidden={piece.hidden || undefined}
            ref={piece.id === chosen[0] ? intoView : undefined}
            onClick={(event) => (event.shiftKey ? chooseAlso(piece.id) : choosePiece(piece.id))}
          >
            {pictures.has(piece.id) ? (
              <img src={pictures.get(piece.id)} alt="" />
            ) : (
              <span className={classes.empty} />
            )}
            <span className={classes.name}>{piece.hidden ? `${piece.name} (hidden)` : piece.name}</span>
          </button>
        ))}
      </div>
      <AddPiece />
    </section>
  );
});
