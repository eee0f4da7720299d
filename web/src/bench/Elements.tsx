import { TextInput } from '@mantine/core';
import { useEffect, useState } from 'react';
import type { Piece, Schemas } from '../core/client';
import { words } from '../messages';
import { sayFailure } from '../page/toast';
import { Quiet } from '../parts/Quiet';
import { takeOut, useArtwork } from '../session/artwork';
import { useView } from '../session/view';
import classes from './Elements.module.css';

const said = words.elements;

/** What a drawing consists of, under the names of its file. An element that is chosen becomes a piece, where it lies. */
export function Elements({ piece }: { piece: Piece }) {
  const artwork = useArtwork(piece);
  const open = useView((state) => state.elements);
  const [wanted, setWanted] = useState('');
  useEffect(() => () => useView.setState({ element: null }), []);
  if (!artwork) return null;
  const { elements, missing_families: missing } = artwork;
  const toggle = () => useView.setState({ elements: !open, element: null });
  const word = wanted.trim().toLowerCase();
  const found = elements.filter(({ name, groups }) =>
    [name, ...groups].some((one) => one.toLowerCase().includes(word)),
  );
  return (
    <section aria-label={said.title} className={classes.elements}>
      <div className={classes.head}>
        <span>{said.count(elements.length)}</span>
        {elements.length > 1 && (
          <Quiet fz={12} px={4} aria-expanded={open} onClick={toggle}>
            {open ? said.hide : said.show}
          </Quiet>
        )}
      </div>
      {missing.length > 0 && <p className={classes.note}>{said.missing(missing)}</p>}
      {open && elements.length > 1 && (
        <>
          <p className={classes.note}>{said.about}</p>
          {elements.length > FEW && (
            <TextInput
              size="xs"
              aria-label={said.search}
              placeholder={said.search}
              value={wanted}
              onChange={(event) => setWanted(event.currentTarget.value)}
            />
          )}
          <ul className={classes.list}>
            {found.map((element) => (
              <li key={element.number}>
                <Row piece={piece.id} element={element} />
              </li>
            ))}
          </ul>
          {found.length === 0 && <p className={classes.note}>{said.none(wanted)}</p>}
        </>
      )}
    </section>
  );
}

/** Elements that need no search. */
const FEW = 8;

function Row({ piece, element }: { piece: string; element: Schemas['ArtworkElement'] }) {
  const { number, name, groups, bound, place } = element;
  const point = () => useView.setState({ element: { piece, place } });
  const take = () => {
    takeOut(piece, number).catch((error: Error) => sayFailure(error.message));
  };
  return (
    <button
      type="button"
      className={classes.row}
      onClick={take}
      onPointerEnter={point}
      onFocus={point}
      onPointerLeave={() => useView.setState({ element: null })}
      onBlur={() => useView.setState({ element: null })}
    >
      <span className={classes.name} dir="auto">
        {name}
      </span>
      {groups.length > 0 && (
        <span className={classes.groups} dir="auto">
          {groups.join(' › ')}
        </span>
      )}
      {bound && <span className={classes.bound}>{bound}</span>}
    </button>
  );
}
