import { memo, type ReactNode, useState } from 'react';
import type { Schemas } from '../core/client';
import { words } from '../messages';
import { Panel } from '../parts/Panel';
import { Quiet } from '../parts/Quiet';
import { addCoat } from '../session/coats';
import { type Layer, layerOf } from '../session/layers';
import choices from './choices.module.css';
import { Pictured } from './Pictured';
import classes from './Stack.module.css';

const titles: Record<Layer, string> = {
  on: words.bench.onTheSurface,
  under: words.bench.underIt,
  behind: words.bench.behindIt,
};

interface Props {
  layer: Layer;
  additions: Schemas['AdditionPicture'][];
  children: ReactNode;
}

/** The coats that lie in one place, and what could be added to them. */
export function Band({ layer, additions, children }: Props) {
  return (
    <>
      <div className={classes.band}>
        <h3 className={classes.layer}>{titles[layer]}</h3>
        <Add layer={layer} additions={additions} />
      </div>
      {children}
    </>
  );
}

/** What each kind of coat would do to this very piece. */
const Add = memo(function Add({ layer, additions }: Omit<Props, 'children'>) {
  const [opened, setOpened] = useState(false);
  const take = (coat: Schemas['AdditionPicture']['coat']) => {
    addCoat(coat);
    setOpened(false);
  };
  return (
    <Panel
      opened={opened}
      onChange={setOpened}
      position="right-start"
      width={380}
      className={choices.panel}
      target={(toggle) => (
        <Quiet
          opens
          px={2}
          fz={12}
          aria-label={words.bench.addCoatTo(titles[layer])}
          aria-expanded={opened}
          onClick={toggle}
        >
          {words.bench.addCoat}
        </Quiet>
      )}
    >
      <h3 className={choices.title}>{words.bench.addCoatTo(titles[layer])}</h3>
      <div className={choices.choices}>
        {additions
          .filter(({ coat }) => layerOf(coat) === layer)
          .map(({ coat, picture, description }) => (
            <Pictured
              key={coat.name}
              picture={picture}
              name={coat.name}
              description={description}
              onClick={() => take(coat)}
            />
          ))}
      </div>
    </Panel>
  );
});
