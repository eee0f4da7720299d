import { memo } from 'react';
import { words } from '../messages';
import { choosePiece } from '../session/choice';
import { sceneOf } from '../session/lookup';
import { calmIn, useDocument } from '../session/store';
import { pathTo } from '../session/tree';
import classes from './Stack.module.css';

/** The groups around the chosen piece, outermost first, each a click away. */
export const GroupPath = memo(function GroupPath({ piece }: { piece: string }) {
  const scene = useDocument((now) => sceneOf(calmIn(now), now.scene));
  const groups = pathTo(scene?.pieces ?? [], piece).slice(0, -1);
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
});
