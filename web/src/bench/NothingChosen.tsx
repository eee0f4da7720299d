import type { Piece, Project } from '../core/client';
import { words } from '../messages';
import { Name } from '../parts/Name';
import { choosePiece } from '../session/choice';
import { finishOf } from '../session/finishes';
import { useScene } from '../session/seen';
import { useDocument } from '../session/store';
import classes from './NothingChosen.module.css';

/** How to begin, and what the scene has to begin with. */
export function NothingChosen() {
  const scene = useScene();
  const document = useDocument((state) => state.document);
  const lights = document?.lights ?? [];
  return (
    <div className={classes.nothing}>
      <h2 className={classes.title} dir="auto">
        {scene?.name}
      </h2>
      <p>{words.bench.howToBegin}</p>
      {scene && scene.pieces.length > 0 && (
        <>
          <h3 className={classes.heading}>{words.bench.piecesHere(scene.pieces.length)}</h3>
          <ul className={classes.list}>
            {scene.pieces.toReversed().map((piece) => (
              <li key={piece.id}>
                <button type="button" className={classes.piece} onClick={() => choosePiece(piece.id)}>
                  <Name of={piece.name} />
                  <small dir="auto">{document && wornBy(document, piece)}</small>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      {lights.length > 0 && (
        <>
          <h3 className={classes.heading}>{words.bench.lightsHere(lights.length)}</h3>
          <p>{lights.map((light) => light.name).join(', ')}</p>
          <p className={classes.hint}>{words.bench.aboutLights}</p>
        </>
      )}
    </div>
  );
}

/** Its finish, or how many coats it has. */
function wornBy(document: Project, { wear }: Piece): string | undefined {
  return 'finish' in wear ? finishOf(document, wear.finish)?.name : words.common.coats(wear.coats.length);
}
