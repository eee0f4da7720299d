import { Group, NativeSelect, SegmentedControl, Text } from '@mantine/core';
import { dequal } from 'dequal';
import { useDeferredValue, useMemo, useRef, useState } from 'react';
import { useAnswer } from '../core/answers';
import type { Project, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { Bar } from '../frame/Bar';
import { words } from '../messages';
import { options } from '../parts/options';
import { few, fits, Narrow } from '../parts/Search';
import { useSeenIds } from '../parts/useSeen';
import view from '../parts/view.module.css';
import { type Finish, wearers } from '../session/finishes';
import type { PieceState } from '../session/state';
import { useDocument } from '../session/store';
import { Compare } from './Compare';
import { FinishCard } from './FinishCard';
import classes from './Finishes.module.css';
import { HeightScale } from './HeightScale';

/** The library: every finish on specimens, who wears it, and how high it stands. */
export function FinishesView() {
  const document = useDocument((state) => state.document);
  const [theme, setTheme] = useState<string | null>(null);
  const [state, setState] = useState<PieceState>('rest');
  const [wanted, setWanted] = useState('');
  // What is typed is seen at once, however long the list takes.
  const looked = useDeferredValue(wanted);
  const [order, setOrder] = useState<Order>('listed');
  const [seen, see] = useSeenIds();
  const [compared, setCompared] = useState<[string?, string?]>([]);
  const shownTheme = theme ?? document?.themes[0]?.id ?? '';
  const [first, second] = document?.finishes ?? [];
  const pictured = [...seen, compared[0] ?? first?.id, compared[1] ?? second?.id].flatMap((id) => id ?? []);
  const cards = useCards(document, pictured, shownTheme, state);
  if (!document) return null;
  const finishes = document.finishes ?? [];
  const found = finishes.filter((finish) => fits(looked, finish.name, finish.note ?? ''));
  const shown = sorted(found, order, document);
  return (
    <main className={view.page}>
      <Bar open="finishes" />
      <div className={view.columns}>
        <section aria-label={words.common.finishes} className={classes.library}>
          <div className={classes.tools}>
            <h2 className={view.heading}>{words.finishes.count(finishes.length)}</h2>
            <Group gap={8}>
              {finishes.length > few && (
                <Narrow
                  label={words.finishes.search}
                  value={wanted}
                  onChange={setWanted}
                  orderLabel={words.finishes.order}
                  orders={words.finishes.orders}
                  order={order}
                  onOrder={setOrder}
                />
              )}
              {document.themes.length > 1 && (
                <NativeSelect
                  size="xs"
                  maw={180}
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
          {finishes.length > 0 && shown.length === 0 && (
            <Text c="dimmed" size="sm">
              {words.common.nothingFound(wanted)}
            </Text>
          )}
          {shown.map((finish) => (
            <FinishCard
              key={finish.id}
              finish={finish}
              document={document}
              theme={shownTheme}
              state={state}
              specimens={cards.pictures.get(finish.id) ?? none}
              onSeen={see}
            />
          ))}
        </section>
        <div className={view.side}>
          <HeightScale document={document} heights={cards.heights} />
          <Compare document={document} pictures={cards.pictures} chosen={compared} onChoose={setCompared} />
        </div>
      </div>
    </main>
  );
}

const none: Schemas['SpecimenPicture'][] = [];

type Order = 'listed' | 'name' | 'uses';

function sorted(finishes: Finish[], order: Order, document: Project): Finish[] {
  if (order === 'name') return finishes.toSorted((one, other) => one.name.localeCompare(other.name));
  if (order === 'listed') return finishes;
  const uses = new Map(finishes.map((finish) => [finish.id, wearers(document, finish.id).length]));
  return finishes.toSorted((one, other) => (uses.get(other.id) ?? 0) - (uses.get(one.id) ?? 0));
}

interface Pictured {
  pictures: Map<string, Schemas['SpecimenPicture'][]>;
  heights: Schemas['Height'][];
}

/**
 * Pictures of what is in view and the heights of the scale, asked for anew when coats, colours or lights change; a name or
 * note is in none of them. What went out of view keeps its last picture.
 */
function useCards(document: Project | null, ids: string[], theme: string, state: PieceState): Pictured {
  const kept = useRef<Project | null>(null);
  const pictured = document && withoutWords(document, new Set([...ids, ...(document.scale ?? [])]));
  if (!dequal(kept.current, pictured)) kept.current = pictured;
  const project = kept.current;
  const asked = useMemo(() => (project && theme ? { project, theme, state } : null), [project, theme, state]);
  const ask = async ({ state, ...asked }: { project: Project; theme: string; state: PieceState }) =>
    await askCore('/api/finishes', { ...asked, state: state === 'rest' ? null : state });
  const found = useAnswer(asked, ask, pace);
  const all = useRef<Pictured['pictures']>(new Map());
  return useMemo(() => {
    const pictures = new Map(all.current);
    for (const card of found?.cards ?? []) pictures.set(card.finish, card.specimens);
    all.current = pictures;
    return { pictures, heights: found?.heights ?? [] };
  }, [found]);
}

const pace = { pause: 100, atMost: 400 };

/** The document as far as pictures of these finishes show it. */
function withoutWords(document: Project, ids: Set<string>): Project {
  const finishes = document.finishes
    ?.filter((finish) => ids.has(finish.id))
    .map((finish) => ({ ...finish, name: finish.id, note: '' }));
  return { ...document, name: '', finishes, scenes: [], accepted: [] };
}
