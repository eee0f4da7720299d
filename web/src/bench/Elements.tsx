import { FileButton, TextInput } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import type { Piece, Schemas } from '../core/client';
import { words } from '../messages';
import { sayFailure } from '../page/toast';
import { Quiet } from '../parts/Quiet';
import { drawingsAt, type ShownElement, takeOut, useArtwork } from '../session/artwork';
import { choosePiece } from '../session/choice';
import { bringFont } from '../session/fonts';
import { sceneOf } from '../session/lookup';
import { editPiece } from '../session/pieces';
import { calmIn, useDocument } from '../session/store';
import { useView } from '../session/view';
import classes from './Elements.module.css';

const said = words.elements;

/** What a drawing consists of, under the names of its file. An element that is chosen becomes a piece, where it lies. */
export function Elements({ piece }: { piece: Piece }) {
  const scene = useDocument((now) => sceneOf(calmIn(now), now.scene));
  const drawings = drawingsAt(scene, piece);
  return drawings.length > 0 && <ElementList piece={piece} drawings={drawings} />;
}

function ElementList({ piece, drawings }: { piece: Piece; drawings: Piece[] }) {
  const artwork = useArtwork(drawings, piece);
  const open = useView((state) => state.elements);
  const [wanted, setWanted] = useState('');
  useEffect(() => () => useView.setState({ element: null }), []);
  if (!artwork) return null;
  const { elements, missing_families: missing } = artwork;
  const isWhole = piece.shape.kind === 'drawing' && !piece.shape.elements;
  // The only element of a drawing is the drawing; what is left in pieces can be taken out to the last.
  const some = elements.length > (isWhole ? 1 : 0);
  const toggle = () => useView.setState({ elements: !open, element: null });
  const word = wanted.trim().toLowerCase();
  const found = elements.filter(({ name, groups }) =>
    [name, ...groups].some((one) => one.toLowerCase().includes(word)),
  );
  return (
    <section aria-label={said.title} className={classes.elements}>
      <div className={classes.head}>
        <span>{isWhole ? said.count(elements.length) : said.left(elements.length)}</span>
        {some && (
          <Quiet fz={12} px={4} aria-expanded={open} onClick={toggle}>
            {open ? said.hide : said.show}
          </Quiet>
        )}
      </div>
      {missing.length > 0 && (
        <>
          <p className={classes.note}>{said.missing(missing)}</p>
          <BringFont />
        </>
      )}
      {artwork.in_one_colour && <OneColour piece={piece.id} {...artwork.in_one_colour} />}
      {artwork.as_text && <AsText piece={piece.id} {...artwork.as_text} />}
      {artwork.as_coats && <AsCoats piece={piece.id} {...artwork.as_coats} />}
      {open && some && (
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
                <Row element={element} />
              </li>
            ))}
          </ul>
          {found.length === 0 && <p className={classes.note}>{said.none(wanted)}</p>}
        </>
      )}
    </section>
  );
}

function BringFont() {
  // The same file can be chosen again.
  const reset = useRef<() => void>(null);
  const take = (file: File | null) => {
    reset.current?.();
    if (file) bringFont(file).catch((error: Error) => sayFailure(error.message));
  };
  return (
    <FileButton accept=".ttf,.otf,.woff2" onChange={take} resetRef={reset}>
      {(props) => (
        <Quiet fz={12} px={4} {...props}>
          {said.bringFont}
        </Quiet>
      )}
    </FileButton>
  );
}

/** What is all in one colour can be a piece of ours, filled as any other. */
function OneColour({ piece, shape, fill }: Schemas['OneColour'] & { piece: string }) {
  const make = () =>
    editPiece(piece, (mine) => {
      mine.shape = shape;
      mine.fill = fill;
    });
  return (
    <Quiet fz={12} px={4} title={said.aboutOneColour} onClick={make}>
      {said.oneColour}
    </Quiet>
  );
}

/** A line of text in the file can be a text of ours, whose words can be changed. */
function AsText({ piece, shape, fill, x, y }: Schemas['AsText'] & { piece: string }) {
  const make = () =>
    editPiece(piece, (mine) => {
      Object.assign(mine, { shape, fill, x: (mine.x ?? 0) + x, y: (mine.y ?? 0) + y });
    });
  return (
    <Quiet fz={12} px={4} title={said.aboutText} onClick={make}>
      {said.asText}
    </Quiet>
  );
}

/** A filter of the file can be coats of ours, which can be changed. */
function AsCoats({
  piece,
  coats,
  remarks,
  shape,
  fill,
  drawn_from,
  x,
  y,
}: Schemas['AsCoats'] & { piece: string }) {
  const make = () =>
    editPiece(piece, (mine) => {
      const place = { x: (mine.x ?? 0) + x, y: (mine.y ?? 0) + y };
      Object.assign(mine, { shape, fill, ...place, drawn_from, wear: { coats } });
    });
  return (
    <>
      <Quiet fz={12} px={4} title={said.aboutCoats} onClick={make}>
        {said.asCoats}
      </Quiet>
      {remarks.length > 0 && <p className={classes.note}>{said.otherwise(remarks)}</p>}
    </>
  );
}

/** Elements that need no search. */
const FEW = 8;

function Row({ element }: { element: ShownElement }) {
  const { piece, alone, number, name, groups, bound, place } = element;
  const point = () => useView.setState({ element: { piece, place } });
  const take = () => {
    // What is left of a drawing in one element is that.
    if (alone) return choosePiece(piece);
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
