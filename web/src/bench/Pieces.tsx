import { memo, useCallback, useDeferredValue, useMemo, useRef, useState } from 'react';
import type { Piece, Project } from '../core/client';
import { words } from '../messages';
import { fits } from '../parts/Search';
import { useLater } from '../parts/useLater';
import { useSeen as useInView, useSeenIds } from '../parts/useSeen';
import { chooseAlso, choosePiece, useChosenPieces } from '../session/choice';
import { useScene, useSeen } from '../session/seen';
import { useDocument } from '../session/store';
import { usePiecePictures } from '../session/thumbnails';
import { useView } from '../session/view';
import { AddPiece } from './AddPiece';
import classes from './Pieces.module.css';
import region from './region.module.css';

const none: Piece[] = [];

/** So many pieces are looked through at a glance; more are searched. */
const MANY = 12;

/** The scene's pieces as pictures on a shelf. */
export const Pieces = memo(function Pieces() {
  // Drawing many pieces must not delay what follows the hand.
  const open = useDocument((state) => state.scene);
  const [scene, seen] = [useLater(useScene(), open), useLater(useSeen(), open)];
  return <Shelf all={scene?.pieces ?? none} project={seen} />;
});

const Shelf = memo(function Shelf({ all, project }: { all: Piece[]; project: Project | null }) {
  const chosen = useChosenPieces();
  const [seen, see] = useSeenIds();
  const pictures = usePiecePictures(project, seen);
  const [wanted, setWanted] = useState('');
  const several = useView((state) => state.several);
  const searched = all.length > MANY;
  // What is typed is seen at once, however long the list takes.
  const found = useDeferredValue(wanted);
  const fitting = useMemo(
    () => new Set(all.filter((piece) => !searched || fits(found, piece.name)).map((piece) => piece.id)),
    [all, searched, found],
  );
  return (
    <section aria-label={words.common.pieces} className={`${region.region} ${classes.shelf}`}>
      {searched && (
        <input
          type="search"
          className={classes.search}
          aria-label={words.bench.searchPieces}
          placeholder={words.bench.search}
          value={wanted}
          onChange={(event) => setWanted(event.currentTarget.value)}
          onKeyDown={(event) => event.key === 'Escape' && setWanted('')}
        />
      )}
      <div className={classes.row}>
        {all.map((piece) => (
          <Shelved
            key={piece.id}
            piece={piece}
            chosen={chosen.includes(piece.id)}
            first={piece.id === chosen[0]}
            picture={pictures.get(piece.id)}
            fitting={fitting.has(piece.id)}
            onSeen={see}
          />
        ))}
        {fitting.size === 0 && all.length > 0 && (
          <span className={classes.name}>{words.common.nothingFound(wanted)}</span>
        )}
      </div>
      <button
        type="button"
        className={classes.several}
        aria-pressed={several}
        title={words.bench.aboutSeveral}
        onClick={() => useView.setState({ several: !several })}
      >
        {words.bench.chooseSeveral}
      </button>
      <AddPiece />
    </section>
  );
});

interface Props {
  piece: Piece;
  chosen: boolean;
  first: boolean;
  picture: string | undefined;
  /** Whether it is among what is searched for. The others stay on the page, out of sight: taking many away stalls it. */
  fitting: boolean;
  onSeen: (id: string, isSeen: boolean) => void;
}

const intoView = (piece: HTMLElement | null) => piece?.scrollIntoView({ block: 'nearest' });

const Shelved = memo(function Shelved({ piece, chosen, first, picture, fitting, onSeen }: Props) {
  const item = useRef<HTMLButtonElement | null>(null);
  const tell = useCallback((isSeen: boolean) => onSeen(piece.id, isSeen), [onSeen, piece.id]);
  useInView(item, tell);
  const keep = useCallback(
    (button: HTMLButtonElement | null) => {
      item.current = button;
      if (first) intoView(button);
    },
    [first],
  );
  return (
    <button
      type="button"
      className={classes.piece}
      aria-pressed={chosen}
      title={piece.name}
      hidden={!fitting}
      data-hidden={piece.hidden || undefined}
      ref={keep}
      onClick={(event) =>
        event.shiftKey || useView.getState().several ? chooseAlso(piece.id) : choosePiece(piece.id)
      }
    >
      {picture ? <img src={picture} alt="" /> : <span className={classes.empty} />}
      <span className={classes.name} dir="auto">
        {piece.hidden ? words.bench.hiddenPiece(piece.name) : piece.name}
      </span>
    </button>
  );
});
