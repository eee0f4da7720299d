import { Button } from '@mantine/core';
import { IconChevronDown } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import { useAnswered } from '../core/answers';
import type { Coat } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import { Panel } from '../parts/Panel';
import { wearCoats } from '../session/coats';
import { useDocument } from '../session/store';
import classes from './choices.module.css';
import { Pictured } from './Pictured';

/** Whole stacks to start from, each shown on the very piece. */
export function Starters({ piece }: { piece: string }) {
  const [opened, setOpened] = useState(false);
  const document = useDocument((state) => (opened ? state.document : null));
  const scene = useDocument((state) => state.scene);
  const asked = useMemo(
    () => (document && scene ? { project: document, scene, piece } : null),
    [document, scene, piece],
  );
  const ask = async (body: NonNullable<typeof asked>) => await askCore('/api/starters', body);
  const offered = useAnswered(asked, ask, { pause: 0 });
  const take = (coats: Coat[]) => {
    wearCoats(coats);
    setOpened(false);
  };
  return (
    <Panel
      opened={opened}
      onChange={setOpened}
      position="right-start"
      width={620}
      className={classes.panel}
      target={(toggle) => (
        <Button
          size="compact-xs"
          variant="default"
          aria-expanded={opened}
          rightSection={<IconChevronDown aria-hidden size={12} />}
          onClick={toggle}
        >
          {words.bench.startFrom}
        </Button>
      )}
    >
      <h3 className={classes.title}>{words.bench.startersTitle}</h3>
      <div className={classes.four}>
        {offered.answer?.map(({ coats, ...starter }) => (
          <Pictured key={starter.name} {...starter} onClick={() => take(coats)} />
        ))}
      </div>
      {!offered.answer && !offered.failure && <p>{words.bench.drawingStarters}</p>}
      {offered.failure && <p role="alert">{offered.failure}</p>}
    </Panel>
  );
}
