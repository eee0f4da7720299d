import { Button, Group, Menu, NativeSelect, Text } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { dequal } from 'dequal';
import { useRef, useState } from 'react';
import { answer, api, type Project } from '../core/client';
import { words } from '../messages';
import { sayFailure } from '../page/toast';
import { NumberField } from '../parts/NumberField';
import { Panel } from '../parts/Panel';
import { Quiet } from '../parts/Quiet';
import { exactlyAt } from '../parts/when';
import {
  duplicateFinish,
  editFinish,
  type Finish,
  removeFinish,
  takeBackFinish,
  toggleInScale,
  wearers,
} from '../session/finishes';
import { commit, useDocument } from '../session/store';
import classes from './Finishes.module.css';

type Opened = 'transition' | 'earlier' | 'delete';

/** What can be done to a finish, and what some of it asks before. */
export function FinishActions({ finish, document }: { finish: Finish; document: Project }) {
  const [opened, setOpened] = useState<Opened | null>(null);
  const more = useRef<HTMLButtonElement>(null);
  const close = () => {
    setOpened(null);
    requestAnimationFrame(
      () => window.document.activeElement === window.document.body && more.current?.focus(),
    );
  };
  const inScale = document.scale?.includes(finish.id) ?? false;
  const wearing = wearers(document, finish.id).length;
  const hasStates = Object.keys(finish.states ?? {}).length > 0;
  return (
    <Panel
      position="bottom-end"
      width={340}
      className={classes.earlier}
      opened={opened !== null}
      onChange={close}
      label={words.finishes.moreFor(finish.name)}
      target={() => (
        <span>
          <Menu position="bottom-end">
            <Menu.Target>
              <Quiet ref={more} opens aria-label={words.finishes.moreFor(finish.name)}>
                {words.bench.moreActions}
              </Quiet>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Item onClick={() => toggleInScale(finish.id)}>
                {inScale ? words.finishes.removeFromScale : words.finishes.addToScale}
              </Menu.Item>
              <Menu.Item onClick={() => duplicateFinish(finish.id)}>{words.common.duplicate}</Menu.Item>
              {hasStates && (
                <Menu.Item onClick={() => setOpened('transition')}>{words.finishes.transition}</Menu.Item>
              )}
              <Menu.Item onClick={() => setOpened('earlier')}>{words.finishes.earlierVersions}</Menu.Item>
              <Menu.Divider />
              <Menu.Item onClick={() => (wearing === 0 ? removeFinish(finish.id) : setOpened('delete'))}>
                {wearing === 0 ? words.common.deleteIt : words.finishes.deleteIt}
              </Menu.Item>
            </Menu.Dropdown>
          </Menu>
        </span>
      )}
    >
      {opened === 'transition' && <Transition finish={finish} />}
      {opened === 'earlier' && <Revisions finish={finish} />}
      {opened === 'delete' && (
        <>
          <Text size="sm">{words.finishes.piecesKeep(wearing)}</Text>
          <Button size="xs" mt={8} onClick={() => removeFinish(finish.id)}>
            {words.finishes.deleteItWithName(finish.name)}
          </Button>
        </>
      )}
    </Panel>
  );
}

const curves = ['ease', 'ease-out', 'ease-in-out', 'linear'];

/** How a finish with states changes from one to the other. */
function Transition({ finish }: { finish: Finish }) {
  const { duration, curve } = finish.transition ?? { duration: 0, curve: 'ease-out' };
  const set = (to: Partial<NonNullable<Finish['transition']>> | null, gesture = false) =>
    editFinish(
      finish.id,
      (mine) => {
        mine.transition = to && { duration, curve, ...to };
      },
      gesture,
    );
  return (
    <Group gap={8} wrap="nowrap" align="end">
      <NumberField
        label={words.finishes.time}
        name={words.finishes.transitionTimeOf(finish.name)}
        unit="ms"
        value={duration}
        min={0}
        max={10000}
        // Whole milliseconds, as the document has them.
        onChange={(value) => set({ duration: Math.round(value) }, true)}
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
      {finish.transition && (
        <Quiet aria-label={words.finishes.withoutTransition(finish.name)} onClick={() => set(null)}>
          {words.common.remove}
        </Quiet>
      )}
    </Group>
  );
}

/** The finish as it was in earlier revisions of the project. */
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
  // What it refers to may be gone since, and comes back with it.
  const takeBack = async (revision: number) => {
    const read = await api.GET('/api/projects/{id}/revisions/{revision}', {
      params: { path: { id, revision } },
    });
    if (useDocument.getState().id === id) takeBackFinish(finish.id, answer(read).document);
  };
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
          onClick={() => takeBack(revision).catch((error: Error) => sayFailure(error.message))}
        >
          {words.finishes.earlier(exactlyAt(created_at), words.common.coats(was.coats.length))}
        </Button>
      ))}
    </>
  );
}
