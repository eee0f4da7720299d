import { useMemo } from 'react';
import region from '../bench/region.module.css';
import { words } from '../messages';
import { Name } from '../parts/Name';
import { choosePiece } from '../session/choice';
import { useScene } from '../session/seen';
import { calmIn, useDocument } from '../session/store';
import { selected } from './frameDocument';
import { ChoosePage } from './NoPage';
import classes from './Pages.module.css';
import { usePage } from './usePage';

const said = words.pages;

/** What is given to elements of the page. */
export function Fitted() {
  const pieces = useScene()?.pieces ?? none;
  const chosen = useDocument((state) => state.piece);
  const finishes = useDocument((state) => calmIn(state)?.finishes);
  const page = usePage((state) => state.page);
  const selectors = pieces.map(({ fitting }) => fitting?.selector ?? '').join('\n');
  const counts = useMemo(
    () => selectors.split('\n').map((selector) => (page && selector ? selected(page, selector).length : 0)),
    [page, selectors],
  );
  return (
    <section aria-label={said.onThisPage} className={`${region.region} ${classes.fitted}`}>
      <h3 className={classes.title}>{said.onThisPage}</h3>
      {pieces.length === 0 && <p className={classes.note}>{said.nothingOn}</p>}
      <div className={classes.list}>
        {pieces.map(({ id, fitting, wear }, at) => (
          <button
            key={id}
            type="button"
            className={classes.row}
            aria-pressed={id === chosen}
            onClick={() => choosePiece(id)}
          >
            <code className={classes.code}>{fitting?.selector}</code>
            <span className={classes.worn}>
              <Name
                of={
                  finishes?.find((one) => 'finish' in wear && one.id === wear.finish)?.name ??
                  words.bench.ownCoats
                }
              />
              <span>{counts[at]}</span>
            </span>
          </button>
        ))}
      </div>
      <ChoosePage label={said.add} />
    </section>
  );
}

const none: never[] = [];
