import { useDndContext, useDraggable, useDroppable } from '@dnd-kit/core';
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import { type CSSProperties, memo, useCallback, useRef } from 'react';
import type { Piece } from '../core/client';
import { words } from '../messages';
import { useSeen as useInView } from '../parts/useSeen';
import { chooseAlso, choosePiece } from '../session/choice';
import type { Zone } from '../session/moving';
import { useView } from '../session/view';
import classes from './Pieces.module.css';

interface Props {
  piece: Piece;
  /** How many groups it lies in. */
  depth: number;
  /** Whether the parts of a group are shown; null for what has none. */
  open: boolean | null;
  chosen: boolean;
  first: boolean;
  picture: string | undefined;
  /** Whether it is among what is searched for. The others stay on the page, out of sight: taking many away stalls it. */
  fitting: boolean;
  onSeen: (id: string, isSeen: boolean) => void;
  onFold: (id: string, open: boolean) => void;
  /** Moves the piece by an arrow key; false where it cannot go there. */
  onKey: (piece: Piece, key: string) => boolean;
}

const intoView = (piece: HTMLElement | null) => piece?.scrollIntoView({ block: 'nearest' });

/** A piece on the shelf: chosen by a click, dragged to another place or into a group. */
export const Shelved = memo(function Shelved(props: Props) {
  const { piece, depth, open, chosen, first, picture, fitting, onSeen, onFold, onKey } = props;
  const item = useRef<HTMLElement | null>(null);
  const tell = useCallback((isSeen: boolean) => onSeen(piece.id, isSeen), [onSeen, piece.id]);
  useInView(item, tell);
  const { setNodeRef, listeners, isDragging } = useDraggable({ id: piece.id });
  const keep = useCallback(
    (button: HTMLButtonElement | null) => {
      item.current = button;
      setNodeRef(button);
      if (first) intoView(button);
    },
    [first, setNodeRef],
  );
  const name = piece.hidden ? words.bench.hiddenPiece(piece.name) : piece.name;
  return (
    <div
      className={classes.item}
      hidden={!fitting}
      data-inside={depth > 0 || undefined}
      data-dragged={isDragging || undefined}
      style={{ '--depth': depth } as CSSProperties}
    >
      <button
        type="button"
        className={classes.piece}
        aria-pressed={chosen}
        title={piece.name}
        aria-description={words.bench.aboutMoving}
        data-hidden={piece.hidden || undefined}
        ref={keep}
        {...listeners}
        onKeyDown={(event) => {
          if (event.altKey && onKey(piece, event.key)) event.preventDefault();
        }}
        onClick={(event) =>
          event.shiftKey || useView.getState().several ? chooseAlso(piece.id) : choosePiece(piece.id)
        }
      >
        {picture ? <img src={picture} alt="" draggable={false} /> : <span className={classes.empty} />}
        <span className={classes.name} dir="auto">
          {name}
        </span>
      </button>
      {open !== null && (
        <button
          type="button"
          className={classes.fold}
          aria-expanded={open}
          aria-label={words.bench.parts(piece.name, open)}
          title={words.bench.parts(piece.name, open)}
          onClick={() => onFold(piece.id, !open)}
        >
          {open ? <IconChevronDown size={13} aria-hidden /> : <IconChevronRight size={13} aria-hidden />}
        </button>
      )}
      <DropZones piece={piece.id} isGroup={open !== null} />
    </div>
  );
});

/** Where a dragged piece can be put: before, after, and in a group. They are there only while one is dragged. */
function DropZones({ piece, isGroup }: { piece: string; isGroup: boolean }) {
  const { active } = useDndContext();
  if (!active || active.id === piece) return null;
  const zones: Zone[] = isGroup ? ['before', 'into', 'after'] : ['before', 'after'];
  return zones.map((zone) => <DropZone key={zone} piece={piece} zone={zone} />);
}

function DropZone({ piece, zone }: { piece: string; zone: Zone }) {
  const { setNodeRef, isOver } = useDroppable({ id: `${piece} ${zone}`, data: { piece, zone } });
  return <span ref={setNodeRef} className={classes.zone} data-zone={zone} data-over={isOver || undefined} />;
}
