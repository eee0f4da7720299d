import { Group, SegmentedControl, Text } from '@mantine/core';
import { memo } from 'react';
import { words } from '../messages';
import { Quiet } from '../parts/Quiet';
import { chosenPiece } from '../session/choice';
import { clearStack } from '../session/coats';
import { stackOf } from '../session/lookup';
import { ownState } from '../session/stacks';
import { type PieceState, pieceStates } from '../session/state';
import { useDocument } from '../session/store';
import classes from './Stack.module.css';
import { useOwnInTheme } from './useOwnInTheme';

/** Which state the piece is seen and changed in: at rest, under the pointer, pressed. */
export const States = memo(function States({ finish }: { finish: string | undefined }) {
  const state = useDocument((now) => now.state);
  // The states that have coats of their own, as one text, so that it is the same as long as they are.
  const made = useDocument((now) =>
    pieceStates.filter((other) => stackOf(now, chosenPiece(now), other)).join(),
  ).split(',');
  const own = made.includes(state);
  const choose = (chosen: string) =>
    useDocument.setState({ state: chosen as PieceState, coat: null, ticked: [] });
  return (
    <div className={classes.states}>
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label={words.bench.stateOfThePiece}
        value={state}
        onChange={choose}
        data={pieceStates.map((value) => ({
          value,
          label: (
            <span className={value !== 'rest' && made.includes(value) ? classes.own : undefined}>
              {named[value]}
            </span>
          ),
        }))}
      />
      {state === 'rest' ? (
        finish && <InTheme finish={finish} />
      ) : (
        <Own
          says={own ? words.bench.ownCoatsWhen(adjective[state]) : words.bench.sameCoatsAsAtRest}
          does={own ? words.bench.sameAsAtRest : GIVE}
          onDo={() => ownState(state, !own)}
          onClear={own ? clearStack : undefined}
        />
      )}
    </div>
  );
});

const GIVE = words.bench.useOwnCoats;

const named: Record<PieceState, string> = words.common.states;

/** Says when the finish has other coats under the theme of the scene. */
function InTheme({ finish }: { finish: string }) {
  const { name, own, change } = useOwnInTheme(finish);
  if (!own || name === undefined) return null;
  return (
    <Own says={words.bench.ownCoatsIn(name)} does={words.bench.sameInAllThemes} onDo={() => change(false)} />
  );
}

interface OwnProps {
  says: string;
  does: string;
  onDo: () => void;
  /** Takes away the coats there are. */
  onClear?: () => void;
}

/** Says which coats are shown, with a button for the other way. */
function Own({ says, does, onDo, onClear }: OwnProps) {
  return (
    <Group gap={0} mt={4} wrap="nowrap">
      <Text size="xs" c="dimmed" flex={1}>
        {says}
      </Text>
      {onClear && (
        <Quiet fz={12} onClick={onClear}>
          {words.bench.clear}
        </Quiet>
      )}
      <Quiet fz={12} onClick={onDo}>
        {does}
      </Quiet>
    </Group>
  );
}

const adjective: Record<Exclude<PieceState, 'rest'>, string> = words.bench.when;
