import { NativeSelect, Text } from '@mantine/core';
import { useMemo } from 'react';
import { useAnswer } from '../core/answers';
import type { Project, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import view from '../parts/view.module.css';
import classes from './Finishes.module.css';

interface Props {
  document: Project;
  pictures: Map<string, Schemas['SpecimenPicture'][]>;
  /** Which two, where they were chosen. */
  chosen: [string?, string?];
  onChoose: (chosen: [string?, string?]) => void;
}

/** Two finishes on the same specimen, with their differences in words. */
export function Compare({ document, pictures, chosen, onChoose }: Props) {
  const finishes = document.finishes ?? [];
  const [first, second] = chosen;
  // One that was chosen may have been removed since.
  const known = (id?: string) => finishes.find((finish) => finish.id === id)?.id;
  const low = known(first) ?? finishes[0]?.id;
  const high = known(second) ?? finishes[1]?.id;
  const asked = useMemo(
    () => (low && high ? { project: onlyThese(document, [low, high]), low, high } : null),
    [document, low, high],
  );
  const ask = async (body: NonNullable<typeof asked>) => await askCore('/api/finishes/differences', body);
  const said = useAnswer(asked, ask, { pause: 100, atMost: 400 });
  if (finishes.length < 2) return null;
  const choice = (label: string, value: string | undefined, set: (id: string) => void) => (
    <div className={classes.compared}>
      <NativeSelect
        size="xs"
        aria-label={label}
        value={value}
        onChange={(event) => set(event.currentTarget.value)}
      >
        {finishes.map((finish) => (
          <option key={finish.id} value={finish.id}>
            {finish.name}
          </option>
        ))}
      </NativeSelect>
      <img src={pictures.get(value ?? '')?.[0]?.picture} width={160} height={120} alt="" />
    </div>
  );
  return (
    <section aria-label={words.finishes.compare} className={view.panel}>
      <h2 className={view.heading}>{words.finishes.sideBySide}</h2>
      <div className={classes.pair}>
        {choice(words.finishes.firstFinish, low, (id) => onChoose([id, high]))}
        {choice(words.finishes.secondFinish, high, (id) => onChoose([low, id]))}
      </div>
      <ul className={classes.said}>
        {said?.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      {said?.length === 0 && (
        <Text size="sm" c="dimmed">
          {words.finishes.noDifferences}
        </Text>
      )}
    </section>
  );
}

function onlyThese(document: Project, ids: string[]): Project {
  const finishes = document.finishes?.filter((finish) => ids.includes(finish.id));
  return { ...document, finishes, scale: [], scenes: [], accepted: [] };
}
