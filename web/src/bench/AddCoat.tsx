import { memo } from 'react';
import type { Schemas } from '../core/client';
import { words } from '../messages';
import { addCoat } from '../session/coats';
import classes from './AddCoat.module.css';

/** Coats to add, each shown on the very piece. */
export const AddCoat = memo(function AddCoat({ additions }: { additions: Schemas['AdditionPicture'][] }) {
  return (
    <div className={classes.add}>
      <h3 className={classes.title}>{words.bench.chooseACoatToAdd}</h3>
      <div className={classes.choices}>
        {additions.map((addition) => (
          <button
            key={addition.coat.name}
            type="button"
            className={classes.choice}
            onClick={() => addCoat(addition.coat)}
          >
            <img src={addition.picture} alt="" />
            <span>{addition.coat.name}</span>
            <small>{addition.description}</small>
          </button>
        ))}
      </div>
    </div>
  );
});
