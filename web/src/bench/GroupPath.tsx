import { words } from '../messages';
import { choosePiece } from '../session/choice';
import { useScene } from '../session/seen';
import { pathTo } from '../session/tree';
import classes from './Stack.module.css';

/** The groups around the chosen piece, outermost first, each a click away. */
export function GroupPath({ piece }: { piece: string }) {
  const groups = pathTo(useScene()?.pieces ?? [], piece).slice(0, -1);
  if (groups.length === 0) return null;
  return (
    <nav aria-label={words.bench.groupsAround} className={classes.path}>
      {groups.map(({ id, name }) => (
        <button key={id} type="button" title={name} onClick={() => choosePiece(id)}>
          <span dir="auto">{name}</span>
        </button>
      ))}
    </nav>
  );
}
