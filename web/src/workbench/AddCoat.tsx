import type { Schemas } from '../api/client';
import { layerOf, layers } from '../document/layers';
import { editCoats, newId, openCoat } from '../document/store';
import classes from './AddCoat.module.css';

/** Coats to add, each shown on the very piece. */
export function AddCoat({ additions }: { additions: Schemas['AdditionPicture'][] }) {
  const add = (coat: Schemas['Coat']) => {
    const id = newId();
    editCoats((coats) => {
      const at = coats.findIndex((other) => layers.indexOf(layerOf(other)) >= layers.indexOf(layerOf(coat)));
      coats.splice(at < 0 ? coats.length : at, 0, { ...structuredClone(coat), id });
    });
    openCoat(id);
  };
  return (
    <div className={classes.add}>
      <h3 className={classes.title}>Choose a coat to add</h3>
      <div className={classes.choices}>
        {additions.map((addition) => (
          <button
            key={addition.coat.name}
            type="button"
            className={classes.choice}
            onClick={() => add(addition.coat)}
          >
            <img src={addition.picture} alt="" />
            <span>{addition.coat.name}</span>
            <small>{addition.says}</small>
          </button>
        ))}
      </div>
    </div>
  );
}
