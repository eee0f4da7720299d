import { words } from '../messages';
import { useChosenPieces } from '../session/choice';
import { finishOf } from '../session/finishes';
import { pieceOf, stackOf } from '../session/lookup';
import { useScene } from '../session/seen';
import { useDocument } from '../session/store';
import { Arrange } from './Arrange';
import classes from './Stack.module.css';

/** What several chosen pieces have in common, where they differ, and how they are arranged. */
export function Several() {
  const scene = useScene();
  const document = useDocument((state) => state.document);
  const state = useDocument((now) => now.state);
  const chosen = useChosenPieces();
  if (!document || !scene) return null;
  const pieces = chosen.flatMap((id) => pieceOf(scene, id) ?? []);
  const finishes = pieces.map(({ wear }) =>
    'finish' in wear ? finishOf(document, wear.finish)?.name : null,
  );
  const names = [...new Set(finishes)];
  const stacks = pieces.map((piece) => stackOf({ document, scene: scene.id, state }, piece) ?? []);
  const [first = [], ...others] = stacks;
  const common = first.filter(({ kind, name }) =>
    others.every((stack) => stack.some((coat) => coat.kind === kind && coat.name === name)),
  );
  const [only] = names;
  return (
    <div className={classes.several}>
      <p>{words.bench.severalPieces(pieces.length)}</p>
      <dl>
        <dt>{words.bench.finishLabel}</dt>
        <dd>{names.length === 1 ? (only ?? words.bench.ownCoats) : words.bench.differ}</dd>
        <dt>{words.bench.commonCoats}</dt>
        <dd>{common.length === 0 ? words.bench.none : common.map((coat) => coat.name).join(', ')}</dd>
      </dl>
      <Arrange />
    </div>
  );
}
