import { Button, Checkbox, Group, NativeSelect, Text } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useAnswered } from '../core/answers';
import type { Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import { Code } from '../parts/Code';
import { CopyButton } from '../parts/CopyButton';
import { FewerPictures } from '../parts/FewerPictures';
import view from '../parts/view.module.css';
import { useDocument } from '../session/store';
import { withParts } from '../session/tree';
import classes from './FewerShadows.module.css';

/** What a tool holds that can do less than CSS. */
type Holds = Schemas['Holds'];

const least: Holds = { coats: 1, spread: false, inset: false };

/** Numbers of shadows that a tool may hold. */
const COUNTS = [1, 2, 3, 4, 5, 6];

/** The nearest that a tool with fewer shadows, without spread or without inner shadows can show of a finish. */
export function FewerShadows() {
  const project = useDocument((state) => state.document);
  const worn = useMemo(() => (project ? wornFinishes(project) : []), [project]);
  const [chosen, setChosen] = useState<string | null>(null);
  const [holds, setHolds] = useState(least);
  const [wanted, setWanted] = useState(false);
  const one = worn.find(({ finish }) => finish.id === chosen) ?? worn[0];
  const asked = useMemo(
    () => (wanted && project && one ? { project, scene: one.scene, piece: one.piece, holds } : null),
    [wanted, project, one, holds],
  );
  const ask = async (body: NonNullable<typeof asked>, signal: AbortSignal) =>
    await askCore('/api/solve/reduce', body, signal);
  const found = useAnswered(asked, ask, { pause: 200, cancels: true });
  if (!one) return null;
  const { handOff } = words;
  const nearest = found.answer?.by_count.at(-1);
  const change = (change: Partial<Holds>) => setHolds({ ...holds, ...change });
  return (
    <section aria-label={handOff.lessHeading} className={classes.less}>
      <h2 className={view.heading}>{handOff.lessHeading}</h2>
      <Text size="sm">{handOff.aboutLess}</Text>
      <Group gap={12} mt={8}>
        <NativeSelect
          size="xs"
          aria-label={handOff.finishShown}
          value={one.finish.id}
          data={worn.map(({ finish }) => ({ value: finish.id, label: finish.name }))}
          onChange={(event) => setChosen(event.currentTarget.value)}
        />
        <NativeSelect
          size="xs"
          aria-label={handOff.atMost}
          value={String(holds.coats)}
          data={COUNTS.map((count) => ({ value: String(count), label: handOff.atMostShadows(count) }))}
          onChange={(event) => change({ coats: Number(event.currentTarget.value) })}
        />
        <Checkbox
          size="xs"
          label={handOff.hasSpread}
          checked={holds.spread}
          onChange={(event) => change({ spread: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label={handOff.hasInner}
          checked={holds.inset}
          onChange={(event) => change({ inset: event.currentTarget.checked })}
        />
        {!wanted && (
          <Button size="compact-sm" variant="default" onClick={() => setWanted(true)}>
            {handOff.findNearest}
          </Button>
        )}
      </Group>
      {found.failure && (
        <Text size="sm" c="red" role="alert" mt={8}>
          {found.failure}
        </Text>
      )}
      {wanted && !found.answer && !found.failure && (
        <Text size="sm" role="status" mt={8}>
          {handOff.findingNearest}
        </Text>
      )}
      {found.answer && nearest && (
        <div className={classes.found} aria-busy={!found.fresh}>
          <FewerPictures found={found.answer} chosen={nearest} />
          <div className={classes.told}>
            <Text size="sm">{words.bench.differs(nearest.error)}</Text>
            {found.answer.notes.map((note) => (
              <Text size="sm" key={note}>
                {note}
              </Text>
            ))}
            <CopyButton text={nearest.css} what={words.common.css} fresh={found.fresh} />
            <Code className={classes.code} text={nearest.css} language="css" />
          </div>
        </div>
      )}
    </section>
  );
}

/** Finishes that a piece wears, each with the first of those. */
function wornFinishes(project: Schemas['Project']) {
  const pieces = project.scenes.flatMap((scene) =>
    withParts(scene.pieces).map((piece) => ({ scene, piece })),
  );
  return (project.finishes ?? []).flatMap((finish) => {
    const wearer = pieces.find(({ piece: { wear } }) => 'finish' in wear && wear.finish === finish.id);
    return wearer ? [{ finish, scene: wearer.scene.id, piece: wearer.piece.id }] : [];
  });
}
