import { Button, Group, NativeSelect, Text, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { dequal } from 'dequal';
import { Link } from 'wouter';
import { answer, api, type Project, type Schemas } from '../core/client';
import { limits } from '../core/constants';
import { words } from '../messages';
import { NumberField } from '../parts/NumberField';
import { Panel } from '../parts/Panel';
import { Quiet } from '../parts/Quiet';
import { exactlyAt } from '../parts/when';
import {
  duplicateFinish,
  editFinish,
  type Finish,
  removeFinish,
  toggleInScale,
  wearers,
} from '../session/finishes';
import { choosePiece, chooseScene, coatsIn, commit, type PieceState, useDocument } from '../session/store';
import classes from './Finishes.module.css';

interface Props {
  finish: Finish;
  document: Project;
  theme: string;
  state: PieceState;
  specimens: Schemas['SpecimenPicture'][];
  height: Schemas['Height'] | undefined;
}

/** A finish on a box, letters and an icon, on light and dark ground, with what can be done to it. */
export function FinishCard({ finish, document, theme, state, specimens, height }: Props) {
  const worn = wearers(document, finish.id);
  const inScale = document.scale?.includes(finish.id) ?? false;
  const has = state === 'rest' || finish.states?.[state] !== undefined;
  return (
    <article aria-label={finish.name} className={classes.card}>
      <div className={classes.cardHead}>
        <TextInput
          size="xs"
          className={classes.name}
          aria-label={words.finishes.nameOf(finish.name)}
          maxLength={limits.nameCharacters}
          value={finish.name}
          onChange={(event) => {
            const name = event.currentTarget.value;
            editFinish(
              finish.id,
              (mine) => {
                mine.name = name;
              },
              true,
            );
          }}
          onBlur={commit}
        />
        <TextInput
          size="xs"
          className={classes.note}
          aria-label={words.finishes.noteOn(finish.name)}
          placeholder={words.finishes.purpose}
          maxLength={limits.noteCharacters}
          value={finish.note ?? ''}
          onChange={(event) => {
            const note = event.currentTarget.value;
            editFinish(
              finish.id,
              (mine) => {
                mine.note = note;
              },
              true,
            );
          }}
          onBlur={commit}
        />
        <Group gap={6} wrap="nowrap">
          <Button size="compact-xs" variant="default" onClick={() => toggleInScale(finish.id)}>
            {inScale ? words.finishes.removeFromScale : words.finishes.addToScale}
          </Button>
          <Button size="compact-xs" variant="default" onClick={() => duplicateFinish(finish.id)}>
            {words.common.duplicate}
          </Button>
          <Earlier finish={finish} />
          <Remove finish={finish} wearing={worn.length} />
        </Group>
      </div>
      <div className={classes.specimens}>
        {specimens.map((one) => (
          <img
            key={`${one.on}${one.dark}`}
            src={one.picture}
            width={128}
            height={96}
            alt={`${finish.name} on ${one.on === 'text' ? words.finishes.letters : `a ${one.on}`}, ${one.dark ? words.finishes.dark : words.finishes.light} ground`}
          />
        ))}
      </div>
      <div className={classes.facts}>
        <Text size="xs">
          {counted(coatsIn(finish, theme))}
          {has ? '' : words.finishes.sameAsAtRest(state)}
          {height && (
            <span className={classes.mono}>
              {words.finishes.numbers(
                short(height.offset),
                short(height.blur),
                short(height.spread),
                short(height.opacity * 100),
              )}
            </span>
          )}
        </Text>
        <Transition finish={finish} />
      </div>
      <Text size="xs" c="dimmed" component="div">
        {worn.length === 0 ? words.finishes.unused : words.finishes.wornBy(worn.length)}
        {worn.map((wearer, at) => (
          <span key={`${wearer.scene}/${wearer.piece}`}>
            {at > 0 && ', '}
            <Link
              href={`/projects/${useDocument.getState().id}`}
              className={classes.wearer}
              onClick={() => {
                chooseScene(wearer.scene);
                choosePiece(wearer.piece);
              }}
            >
              {words.finishes.place(wearer.sceneName, wearer.pieceName)}
            </Link>
          </span>
        ))}
      </Text>
    </article>
  );
}

const curves = ['ease', 'ease-out', 'ease-in-out', 'linear'];

/** How a finish with states changes from one to the other. */
function Transition({ finish }: { finish: Finish }) {
  if (Object.keys(finish.states ?? {}).length === 0) return null;
  if (!finish.transition) return <NoTransition finish={finish} />;
  const { duration, curve } = finish.transition;
  const set = (to: Partial<NonNullable<Finish['transition']>>, gesture = false) =>
    editFinish(
      finish.id,
      (mine) => {
        mine.transition = { duration, curve, ...to };
      },
      gesture,
    );
  return (
    <Group gap={6} wrap="nowrap">
      <Text size="xs">{words.finishes.statesChangeIn}</Text>
      <NumberField
        label={words.finishes.time}
        name={words.finishes.transitionTimeOf(finish.name)}
        unit="ms"
        value={duration}
        min={0}
        max={10000}
        onChange={(value) => set({ duration: value }, true)}
        onCommit={commit}
      />
      <NativeSelect
        size="xs"
        aria-label={words.finishes.transitionCurveOf(finish.name)}
        value={curve}
        onChange={(event) => set({ curve: event.currentTarget.value })}
      >
        {[...new Set([...curves, curve])].map((one) => (
          <option key={one}>{one}</option>
        ))}
      </NativeSelect>
      <Quiet
        aria-label={words.finishes.withoutTransition(finish.name)}
        onClick={() =>
          editFinish(finish.id, (mine) => {
            mine.transition = null;
          })
        }
      >
        {words.common.remove}
      </Quiet>
    </Group>
  );
}

/** States change at once until a transition is added. */
function NoTransition({ finish }: { finish: Finish }) {
  const add = () =>
    editFinish(finish.id, (mine) => {
      mine.transition = { duration: 120, curve: 'ease-out' };
    });
  return (
    <Group gap={6} wrap="nowrap">
      <Text size="xs">{words.finishes.statesChangeAtOnce}</Text>
      <Quiet aria-label={words.finishes.addTransitionTo(finish.name)} onClick={add}>
        {words.finishes.addTransition}
      </Quiet>
    </Group>
  );
}

function Remove({ finish, wearing }: { finish: Finish; wearing: number }) {
  if (wearing === 0) {
    return (
      <Button size="compact-xs" variant="default" onClick={() => removeFinish(finish.id)}>
        {words.common.deleteIt}
      </Button>
    );
  }
  return (
    <Panel
      position="bottom-end"
      width={260}
      target={(toggle) => (
        <Button size="compact-xs" variant="default" onClick={toggle}>
          {words.finishes.deleteIt}
        </Button>
      )}
    >
      <Text size="sm">{words.finishes.piecesKeep(wearing)}</Text>
      <Button size="xs" mt={8} onClick={() => removeFinish(finish.id)}>
        {words.finishes.deleteItWithName(finish.name)}
      </Button>
    </Panel>
  );
}

/** The finish as it was in earlier revisions of the project. */
function Earlier({ finish }: { finish: Finish }) {
  return (
    <Panel
      position="bottom-end"
      width={280}
      className={classes.earlier}
      target={(toggle) => (
        <Button size="compact-xs" variant="default" onClick={toggle}>
          {words.finishes.earlierVersions}
        </Button>
      )}
    >
      <Revisions finish={finish} />
    </Panel>
  );
}

function Revisions({ finish }: { finish: Finish }) {
  const id = useDocument((state) => state.id);
  const found = useQuery({
    queryKey: ['earlier', id, finish.id],
    queryFn: async () =>
      answer(
        await api.GET('/api/projects/{id}/finishes/{finish}/earlier', {
          params: { path: { id, finish: finish.id } },
        }),
      ),
    gcTime: 0,
  });
  const other = (found.data ?? []).filter((look) => !dequal(look.finish, finish));
  if (found.isPending) return <Text size="sm">{words.finishes.reading}</Text>;
  if (found.error) return <Text size="sm">{found.error.message}</Text>;
  if (other.length === 0) return <Text size="sm">{words.finishes.noEarlier}</Text>;
  const takeBack = (was: Finish) =>
    editFinish(finish.id, (mine) => {
      for (const key of Object.keys(mine)) delete (mine as unknown as Record<string, unknown>)[key];
      Object.assign(mine, structuredClone(was));
    });
  return (
    <>
      <Text size="sm">{words.finishes.restoreEarlier}</Text>
      {other.map(({ finish: was, revision, created_at }) => (
        <Button
          key={revision}
          size="compact-xs"
          variant="default"
          fullWidth
          mt={6}
          onClick={() => takeBack(was)}
        >
          {words.finishes.earlier(exactlyAt(created_at), counted(was.coats))}
        </Button>
      ))}
    </>
  );
}

function counted({ length }: unknown[]): string {
  return words.common.coats(length);
}

function short(value: number): string {
  return String(Number(value.toFixed(1)));
}
