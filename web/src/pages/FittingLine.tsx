import { NativeSelect } from '@mantine/core';
import region from '../bench/region.module.css';
import { words } from '../messages';
import { Quiet } from '../parts/Quiet';
import { keepOwn } from '../session/fitting';
import { pieceOf } from '../session/lookup';
import { removePieces } from '../session/pieces';
import { useScene } from '../session/seen';
import { useDocument } from '../session/store';
import { selected } from './frameDocument';
import classes from './Pages.module.css';
import { usePage } from './usePage';

const said = words.pages;

/** The elements that the chosen stack is given to, and what becomes of their own shadows. */
export function FittingLine() {
  const scene = useScene();
  const id = useDocument((state) => state.piece);
  const page = usePage((state) => state.page);
  const piece = pieceOf(scene, id);
  const fitting = piece?.fitting;
  if (!fitting || !piece) return null;
  const count = page ? selected(page, fitting.selector).length : 0;
  const why = said.strengths[fitting.strength ?? 'plain'];
  return (
    <section aria-label={said.who} className={`${region.region} ${classes.fitting}`}>
      <span className={classes.size}>{said.selects(count)}</span>
      {fitting.own && (
        <NativeSelect
          size="xs"
          variant="unstyled"
          aria-label={said.ownShadows}
          value={fitting.keeps_own ? 'keeps' : 'replaces'}
          onChange={(event) => keepOwn(piece.id, event.currentTarget.value === 'keeps')}
          data={[
            { value: 'replaces', label: said.replaces },
            { value: 'keeps', label: said.keeps },
          ]}
        />
      )}
      <Quiet fz={12} px={4} onClick={() => removePieces([piece.id])}>
        {said.takeOff}
      </Quiet>
      {why && <p className={classes.note}>{why}</p>}
    </section>
  );
}
