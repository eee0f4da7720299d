import { memo, useCallback, useRef } from 'react';
import { Link } from 'wouter';
import type { Project, Schemas } from '../core/client';
import { limits } from '../core/constants';
import { words } from '../messages';
import { Panel } from '../parts/Panel';
import { Quiet } from '../parts/Quiet';
import { useSeen } from '../parts/useSeen';
import { choosePiece, chooseScene } from '../session/choice';
import { editFinish, type Finish, wearers } from '../session/finishes';
import { coatsIn } from '../session/lookup';
import type { PieceState } from '../session/state';
import { commit, useDocument } from '../session/store';
import { FinishActions } from './FinishActions';
import classes from './Finishes.module.css';

interface Props {
  finish: Finish;
  document: Project;
  theme: string;
  state: PieceState;
  specimens: Schemas['SpecimenPicture'][];
  onSeen: (id: string, isSeen: boolean) => void;
}

/** A finish; the card is filled while it is in view, and keeps its height while it is not. */
export const FinishCard = memo(function FinishCard({ onSeen, ...shown }: Props) {
  const { id, name } = shown.finish;
  const card = useRef<HTMLElement>(null);
  const tell = useCallback((isSeen: boolean) => onSeen(id, isSeen), [onSeen, id]);
  const seen = useSeen(card, tell);
  return (
    <article ref={card} aria-label={name} className={classes.card}>
      {seen && <Filled {...shown} />}
    </article>
  );
});

/** A finish on a box, letters and an icon, on light and dark ground; what can be done to it is in one menu. */
function Filled({ finish, document, theme, state, specimens }: Omit<Props, 'onSeen'>) {
  const has = state === 'rest' || finish.states?.[state] !== undefined;
  return (
    <>
      <div className={classes.cardHead}>
        <Written
          className={classes.name}
          label={words.finishes.nameOf(finish.name)}
          most={limits.nameCharacters}
          value={finish.name}
          onWrite={(name) => name.trim() && write(finish.id, { name })}
        />
        <Written
          className={classes.note}
          label={words.finishes.noteOn(finish.name)}
          placeholder={words.finishes.purpose}
          most={limits.noteCharacters}
          value={finish.note ?? ''}
          onWrite={(note) => write(finish.id, { note })}
        />
        <FinishActions finish={finish} document={document} />
      </div>
      <div className={classes.specimens}>
        {specimens.map((one) => (
          <img
            key={`${one.on}${one.dark}`}
            src={one.picture}
            width={128}
            height={96}
            alt={`${finish.name} on ${one.on === 'text' ? words.finishes.letters : `a ${one.on}`}, ${one.dark ? words.finishes.dark : words.finishes.light} ground`}
          />
        ))}
      </div>
      <p className={classes.facts}>
        <span>
          {words.common.coats(coatsIn(finish, theme).length)}
          {has ? '' : words.finishes.sameAsAtRest(state)}
        </span>
        <Wearers finish={finish} document={document} />
        {finish.transition && (
          <span>{words.finishes.changesIn(finish.transition.duration, finish.transition.curve)}</span>
        )}
      </p>
    </>
  );
}

function write(id: string, said: Partial<Pick<Finish, 'name' | 'note'>>) {
  editFinish(id, (mine) => void Object.assign(mine, said), true);
}

interface WrittenProps {
  label: string;
  placeholder?: string;
  className?: string;
  value: string;
  most: number;
  onWrite: (text: string) => void;
}

/** Words that are written where they stand. */
function Written({ label, placeholder, className, value, most, onWrite }: WrittenProps) {
  return (
    <input
      className={`${classes.written} ${className}`}
      dir="auto"
      aria-label={label}
      placeholder={placeholder}
      maxLength={most}
      value={value}
      title={value}
      onChange={(event) => onWrite(event.currentTarget.value)}
      onBlur={commit}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  );
}

/** The pieces that use a finish: their number, and on a press their names, which lead to them. */
function Wearers({ finish, document }: { finish: Finish; document: Project }) {
  const worn = wearers(document, finish.id);
  if (worn.length === 0) return <span>{words.finishes.unused}</span>;
  return (
    <Panel
      position="bottom-start"
      width={280}
      className={classes.earlier}
      target={(toggle) => (
        <Quiet opens size="compact-xs" fz={12} onClick={toggle}>
          {words.finishes.wornBy(worn.length)}
        </Quiet>
      )}
    >
      <ul className={classes.wearers}>
        {worn.map((wearer) => (
          <li key={`${wearer.scene}/${wearer.piece}`}>
            <Link
              href={`/projects/${useDocument.getState().id}`}
              className={classes.wearer}
              onClick={() => {
                chooseScene(wearer.scene);
                choosePiece(wearer.piece);
              }}
            >
              {words.finishes.place(wearer.sceneName, wearer.pieceName)}
            </Link>
          </li>
        ))}
      </ul>
    </Panel>
  );
}
