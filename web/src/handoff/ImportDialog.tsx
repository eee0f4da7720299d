import { Alert, Button, Checkbox, Group, Loader, Modal, Text, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Project, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import { offerUndo } from '../page/toast';
import { type Brought, onlyChosen, putAway, readBrought, useBringing } from '../session/bringing';
import { bringIn } from '../session/finishes';
import { undoerOfLast, useDocument } from '../session/store';
import classes from './Import.module.css';

const said = words.incoming;

/** What files bring, look by look: some of it is chosen and comes in, in one step. */
export function ImportDialog() {
  const { brought, failed } = useBringing();
  const document = useDocument((state) => (brought ? state.document : null));
  const title = brought?.files.map((file) => file.name).join(', ') || said.title;
  return (
    <Modal opened={brought !== null || failed !== ''} onClose={putAway} title={title} size={920} radius={4}>
      {failed && <Alert color="red">{failed}</Alert>}
      {brought && document && <Looks key={title} brought={brought} document={document} />}
    </Modal>
  );
}

/** How many looks are shown at first, and more each time. */
const shownAtOnce = 24;

function Looks({ brought, document }: { brought: Brought; document: Project }) {
  const [set, setSet] = useState<Record<string, string>>({});
  // What is read is for the project as it was when the dialog opened.
  const [into] = useState(document);
  const read = useQuery({
    queryKey: ['import', brought.files.map(({ name, text }) => [name, text.length]), set, into.name],
    queryFn: () => readBrought(into, brought, set),
    retry: false,
    gcTime: 0,
  });
  if (read.error) return <Alert color="red">{words.handOff.nothingWasChanged(read.error.message)}</Alert>;
  if (!read.data) {
    return (
      <Group gap={8} role="status">
        <Loader size="xs" />
        <Text size="sm">{said.reading}</Text>
      </Group>
    );
  }
  return <Found found={read.data} brought={brought} into={into} set={set} onSet={setSet} />;
}

interface FoundProps {
  found: Schemas['Incoming'];
  brought: Brought;
  into: Project;
  set: Record<string, string>;
  onSet: (set: Record<string, string>) => void;
}

function Found({ found, brought, into, set, onSet }: FoundProps) {
  const { finishes, swatches } = found;
  const few = finishes.length <= 12;
  const [chosen, setChosen] = useState(() => new Set(few ? finishes.map((finish) => finish.id) : []));
  const [search, setSearch] = useState('');
  const [shown, setShown] = useState(shownAtOnce);
  const wanted = search.trim().toLowerCase();
  const fitting = finishes.filter((finish) => finish.name.toLowerCase().includes(wanted));
  const seen = fitting.slice(0, shown);
  const toggle = (id: string) =>
    setChosen((before) => {
      const next = new Set(before);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  const bringChosen = () => {
    bringIn(onlyChosen(found, chosen, brought.format));
    putAway();
    offerUndo(said.added(chosen.size), undoerOfLast());
  };
  const nothing = finishes.length + swatches.length === 0;
  const allSeen = fitting.every((finish) => chosen.has(finish.id));
  return (
    <>
      <Text size="sm" mb={8}>
        {nothing ? words.handOff.nothingNew : said.looks(finishes.length, swatches.length)}
      </Text>
      {finishes.length > 0 && (
        <Group gap={8} mb={8}>
          <TextInput
            size="xs"
            aria-label={said.search}
            placeholder={said.search}
            value={search}
            onChange={(event) => setSearch(event.currentTarget.value)}
            data-autofocus
          />
          <Button
            size="compact-sm"
            variant="subtle"
            onClick={() => setChosen(new Set(allSeen ? [] : fitting.map((finish) => finish.id)))}
          >
            {allSeen ? said.chooseNone : said.chooseAll(fitting.length)}
          </Button>
        </Group>
      )}
      <Cards finishes={seen} found={found} into={into} chosen={chosen} onToggle={toggle} />
      {fitting.length > shown && (
        <Button size="compact-sm" variant="subtle" onClick={() => setShown(shown + shownAtOnce)}>
          {said.showMore(fitting.length - shown)}
        </Button>
      )}
      <Missing asked={found.asked} set={set} onSet={onSet} />
      <Remarks found={found} />
      <Group justify="flex-end" gap={8} mt={12}>
        <Button size="compact-md" variant="default" onClick={putAway}>
          {words.common.cancel}
        </Button>
        <Button
          size="compact-md"
          disabled={nothing || (chosen.size === 0 && finishes.length > 0)}
          onClick={bringChosen}
        >
          {said.add(chosen.size)}
        </Button>
      </Group>
    </>
  );
}

interface CardsProps {
  finishes: Schemas['Finish'][];
  found: Schemas['Incoming'];
  into: Project;
  chosen: Set<string>;
  onToggle: (id: string) => void;
}

/** The looks as pictures, with their names and where they come from. */
function Cards({ finishes, found, into, chosen, onToggle }: CardsProps) {
  const theme = into.themes[0]?.id ?? '';
  const pictures = useQuery({
    queryKey: ['import pictures', finishes.map((finish) => finish.id), into.name],
    queryFn: async () => {
      const project = {
        ...into,
        scenes: [],
        scale: [],
        accepted: [],
        themes: [...into.themes, ...found.themes],
        swatches: [
          ...(into.swatches ?? []).map((swatch) => inThemes(swatch, found.themes)),
          ...found.swatches,
        ],
        lights: [...(into.lights ?? []), ...found.lights],
        finishes,
      };
      return await askCore('/api/finishes', { project, theme, state: null });
    },
    enabled: finishes.length > 0,
    gcTime: 0,
  });
  const pictureOf = (id: string) =>
    pictures.data?.cards.find((card) => card.finish === id)?.specimens[0]?.picture;
  return (
    <ul className={classes.looks} aria-label={said.looksListed}>
      {finishes.map((finish) => (
        <li key={finish.id} className={classes.look} data-chosen={chosen.has(finish.id) || undefined}>
          <Checkbox.Card
            className={classes.card}
            aria-label={finish.name}
            checked={chosen.has(finish.id)}
            onClick={() => onToggle(finish.id)}
          >
            {pictureOf(finish.id) ? (
              <img className={classes.picture} src={pictureOf(finish.id)} alt="" width={160} height={120} />
            ) : (
              <span className={classes.picture} />
            )}
            <span className={classes.name}>
              <Checkbox.Indicator size="xs" /> {finish.name}
            </span>
          </Checkbox.Card>
          <Text size="xs" c="dimmed">
            {facts(finish, found.uses[finish.id])}
          </Text>
        </li>
      ))}
    </ul>
  );
}

/** A colour with a value in themes that are new. */
function inThemes(swatch: Schemas['Swatch'], themes: Schemas['Theme'][]): Schemas['Swatch'] {
  const [some = ''] = Object.values(swatch.values);
  return {
    ...swatch,
    values: { ...Object.fromEntries(themes.map(({ id }) => [id, some])), ...swatch.values },
  };
}

function facts(finish: Schemas['Finish'], uses: number | undefined): string {
  const states = Object.keys(finish.states ?? {}).map((state) => words.common.states[state as 'hover']);
  const themes = Object.keys(finish.themes ?? {}).length > 0 ? [said.inThemes] : [];
  const rules = uses ? [said.rules(uses)] : [];
  return [...rules, ...states, ...themes].join(' · ');
}

/** Custom properties that the files do not set. */
function Missing({
  asked,
  set,
  onSet,
}: { asked: Record<string, number> } & Pick<FoundProps, 'set' | 'onSet'>) {
  const names = [...new Set([...Object.keys(asked), ...Object.keys(set)])].slice(0, 40);
  const [typed, setTyped] = useState(set);
  if (names.length === 0) return null;
  return (
    <details className={classes.fold}>
      <summary>{said.missing(Object.keys(asked).length)}</summary>
      <Text size="xs" c="dimmed" my={4}>
        {said.aboutMissing}
      </Text>
      <div className={classes.missing}>
        {names.map((name) => (
          <TextInput
            key={name}
            size="xs"
            label={name}
            value={typed[name] ?? ''}
            onChange={(event) => setTyped({ ...typed, [name]: event.currentTarget.value })}
          />
        ))}
      </div>
      <Button
        size="compact-sm"
        variant="default"
        mt={8}
        onClick={() => onSet(Object.fromEntries(Object.entries(typed).filter(([, value]) => value.trim())))}
      >
        {said.readAgain}
      </Button>
    </details>
  );
}

function Remarks({ found }: { found: Schemas['Incoming'] }) {
  const { diagnostics } = found;
  if (diagnostics.length === 0) return null;
  return (
    <details className={classes.fold}>
      <summary>{words.handOff.approximated(diagnostics.length)}</summary>
      <ul className={classes.remarks}>
        {diagnostics.slice(0, 100).map(({ kind, message, count, place, places = [] }) => (
          <li key={`${kind} ${message}`}>
            {said.remark(message, count)}
            <span className={classes.places}> {[place, ...places].filter(Boolean).join(', ')}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}
