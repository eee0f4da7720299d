import { Group, NativeSelect, SegmentedControl, Text } from '@mantine/core';
import { dequal } from 'dequal';
import { useMemo, useRef, useState } from 'react';
import { useAnswer } from '../core/answers';
import { answer, api, type Project, type Schemas } from '../core/client';
import { Bar } from '../frame/Bar';
import { words } from '../messages';
import { options } from '../parts/options';
import view from '../parts/view.module.css';
import { type PieceState, useDocument } from '../session/store';
import { Compare } from './Compare';
import { FinishCard } from './FinishCard';
import classes from './Finishes.module.css';
import { HeightScale } from './HeightScale';

/** The library: every finish on specimens, who wears it, and how high it stands. */
export function FinishesView() {
  const document = useDocument((state) => state.document);
  const [theme, setTheme] = useState<string | null>(null);
  const [state, setState] = useState<PieceState>('rest');
  const shownTheme = theme ?? document?.themes[0]?.id ?? '';
  const cards = useCards(document, shownTheme, state);
  if (!document) return null;
  const finishes = document.finishes ?? [];
  return (
    <main className={view.page}>
      <Bar open="finishes" />
      <div className={view.columns}>
        <section aria-label={words.common.finishes} className={classes.library}>
          <div className={classes.tools}>
            <h2 className={view.heading}>{words.finishes.count(finishes.length)}</h2>
            <Group gap={8}>
              {document.themes.length > 1 && (
                <NativeSelect
                  size="xs"
                  aria-label={words.common.theme}
                  value={shownTheme}
                  data={document.themes.map((other) => ({ value: other.id, label: other.name }))}
                  onChange={(event) => setTheme(event.currentTarget.value)}
                />
              )}
              <SegmentedControl
                size="xs"
                aria-label={words.finishes.stateShown}
                value={state}
                data={options(words.common.states)}
                onChange={(value) => setState(value as PieceState)}
              />
            </Group>
          </div>
          {finishes.length === 0 && (
            <Text c="dimmed" size="sm">
              {words.finishes.noFinishes}
            </Text>
          )}
          {finishes.map((finish) => (
            <FinishCard
              key={finish.id}
              finish={finish}
              document={document}
              theme={shownTheme}
              state={state}
              specimens={cards?.cards.find((card) => card.finish === finish.id)?.specimens ?? []}
              height={cards?.heights.find((height) => height.finish === finish.id)}
            />
          ))}
        </section>
        <div className={view.side}>
          <HeightScale document={document} heights={cards?.heights ?? []} />
          <Compare document={document} cards={cards?.cards ?? []} />
        </div>
      </div>
    </main>
  );
}

/** Pictures and heights, asked for anew when coats, colours or lights change; a name or note is in none of them. */
function useCards(document: Project | null, theme: string, state: PieceState): Schemas['Cards'] | null {
  const kept = useRef<Project | null>(null);
  const pictured = document && withoutWords(document);
  if (!dequal(kept.current, pictured)) kept.current = pictured;
  const project = kept.current;
  const asked = useMemo(() => (project && theme ? { project, theme, state } : null), [project, theme, state]);
  const ask = async ({ state, ...asked }: { project: Project; theme: string; state: PieceState }) =>
    answer(await api.POST('/api/finishes', { body: { ...asked, state: state === 'rest' ? null : state } }));
  return useAnswer(asked, ask, pace);
}

const pace = { pause: 100, atMost: 400 };

/** The document as far as pictures of its finishes show it. */
function withoutWords(document: Project): Project {
  const finishes = document.finishes?.map((finish) => ({ ...finish, name: finish.id, note: '' }));
  return { ...document, name: '', finishes, scenes: [], accepted: [] };
}
