import { Button, Text } from '@mantine/core';
import { useMemo } from 'react';
import { useLocation } from 'wouter';
import { useAnswered } from '../core/answers';
import type { Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import view from '../parts/view.module.css';
import { choosePiece, chooseScene } from '../session/choice';
import { useDocument } from '../session/store';
import classes from './Closeness.module.css';

type Comes = Schemas['PieceFaithfulness'];

/** How close a browser's picture of every piece comes to what was designed, with the numbers as they are written. */
export function Closeness({ numbers }: { numbers: Schemas['Numbers'] }) {
  const project = useDocument((state) => state.document);
  const asked = useMemo(() => project && { project, numbers }, [project, numbers]);
  const ask = async (body: NonNullable<typeof asked>, signal: AbortSignal) =>
    await askCore('/api/faithful/project', body, signal);
  const found = useAnswered(asked, ask, { pause: 0, cancels: true });
  const rows = [...(found.answer ?? [])].sort((a, b) => b.comes.mean - a.comes.mean);
  const differing = rows.filter((row) => row.comes.notes.length > 0).length;
  return (
    <section aria-label={words.handOff.accuracy} className={classes.closeness}>
      <h2 className={view.heading}>{words.handOff.accuracy}</h2>
      {found.failure && (
        <Text size="sm" c="red" role="alert">
          {found.failure}
        </Text>
      )}
      {!found.answer && !found.failure && <Text size="sm">{words.handOff.comparing}</Text>}
      {found.answer && rows.length === 0 && (
        <Text size="sm" c="dimmed">
          {words.handOff.nothingToCompare}
        </Text>
      )}
      {rows.length > 0 && (
        <>
          <Text size="sm" aria-busy={!found.fresh}>
            {words.handOff.piecesCompared(rows.length)}
            {differing === 0 ? words.handOff.allExact : words.handOff.someDiffer(differing)}
            {words.handOff.differencesAreIn255ths}
          </Text>
          <div className={classes.scroll}>
            <table className={view.table}>
              <thead>
                <tr>
                  <th scope="col">{words.common.piece}</th>
                  <th scope="col">{words.handOff.writtenAs}</th>
                  <th scope="col" className={view.figure}>
                    {words.handOff.average}
                  </th>
                  <th scope="col" className={view.figure}>
                    {words.handOff.worst}
                  </th>
                  <th scope="col">{words.handOff.whatDiffers}</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => (
                  <Row key={`${row.scene}/${row.piece}`} row={row} />
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
    </section>
  );
}

function Row({ row: { scene, scene_name, piece, piece_name, comes } }: { row: Comes }) {
  const [, go] = useLocation();
  const project = useDocument((state) => state.id);
  // The steps of a ramp are one coat.
  const notes = comes.notes.filter(
    (note, at, all) => at === all.findIndex((other) => sayOf(other) === sayOf(note)),
  );
  const show = () => {
    chooseScene(scene);
    choosePiece(piece);
    go(`/projects/${project}`);
  };
  return (
    <tr>
      <th scope="row">
        <Button size="compact-xs" variant="subtle" color="dark" onClick={show} className={classes.piece}>
          {piece_name}
        </Button>
        <span className={classes.scene}>{scene_name}</span>
      </th>
      <td>{words.common.targets[comes.target]}</td>
      <td className={view.number}>{comes.mean.toFixed(2)}</td>
      <td className={view.number}>{comes.worst}</td>
      <td>
        {notes.length === 0
          ? words.handOff.nothingDiffers
          : notes.map((note) => <div key={note.message}>{note.message}</div>)}
      </td>
    </tr>
  );
}

function sayOf(note: Comes['comes']['notes'][number]): string {
  return note.coat ?? note.message;
}
