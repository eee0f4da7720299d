import { Button, Group } from '@mantine/core';
import { IconChevronDown } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import { useAnswered } from '../core/answers';
import type { Coat, Piece } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import { Panel } from '../parts/Panel';
import { wearCoats } from '../session/coats';
import { useDocument } from '../session/store';
import classes from './choices.module.css';
import { FromHeight } from './found/FromHeight';
import { FromPicture } from './found/FromPicture';
import { Pictured } from './Pictured';

/** Whole stacks to start from, each shown on the very piece. */
export function Starters({ piece }: { piece: Piece }) {
  const [opened, setOpened] = useState(false);
  const [from, setFrom] = useState<'picture' | 'height' | null>(null);
  const document = useDocument((state) => (opened ? state.document : null));
  const scene = useDocument((state) => state.scene);
  const asked = useMemo(
    () => (document && scene ? { project: document, scene, piece: piece.id } : null),
    [document, scene, piece.id],
  );
  const ask = async (body: NonNullable<typeof asked>) => await askCore('/api/starters', body);
  const offered = useAnswered(asked, ask, { pause: 0 });
  const take = (coats: Coat[]) => {
    wearCoats(coats);
    setOpened(false);
  };
  const begin = (wish: 'picture' | 'height') => {
    setOpened(false);
    setFrom(wish);
  };
  const end = () => setFrom(null);
  return (
    <>
      <FromPicture piece={piece} opened={from === 'picture'} onClose={end} />
      <FromHeight piece={piece} opened={from === 'height'} onClose={end} />
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
        <Group gap="xs" mb="xs">
          <Button size="compact-xs" variant="default" onClick={() => begin('picture')}>
            {words.found.aPicture}
          </Button>
          <Button size="compact-xs" variant="default" onClick={() => begin('height')}>
            {words.found.aHeight}
          </Button>
        </Group>
        <div className={classes.four}>
          {offered.answer?.map(({ coats, ...starter }) => (
            <Pictured key={starter.name} {...starter} onClick={() => take(coats)} />
          ))}
        </div>
        {!offered.answer && !offered.failure && <p>{words.bench.drawingStarters}</p>}
        {offered.failure && <p role="alert">{offered.failure}</p>}
      </Panel>
    </>
  );
}
