import { Button, Group, SegmentedControl, Text } from '@mantine/core';
import { memo } from 'react';
import type { Piece } from '../core/client';
import { finishOf, ownInTheme } from '../session/finishes';
import { ownState, type PieceState, pieceStates, stackOf, useDocument, useScene } from '../session/store';
import classes from './Stack.module.css';

/** Which state the piece is seen and changed in: at rest, under the pointer, pressed. */
export const States = memo(function States({ piece }: { piece: Piece }) {
  const state = useDocument((now) => now.state);
  // The states that have coats of their own, as one text, so that it is the same as long as they are.
  const made = useDocument((now) => pieceStates.filter((other) => stackOf(now, piece, other)).join()).split(
    ',',
  );
  const own = made.includes(state);
  const choose = (chosen: string) =>
    useDocument.setState({ state: chosen as PieceState, coat: null, ticked: [] });
  return (
    <div className={classes.states}>
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label="State of the piece"
        value={state}
        onChange={choose}
        data={pieceStates.map((value) => ({
          value,
          // A dot tells the states that have coats of their own.
          label: value !== 'rest' && made.includes(value) ? `${value} •` : value,
        }))}
      />
      {state === 'rest' ? (
        'finish' in piece.wear && <InTheme finish={piece.wear.finish} />
      ) : (
        <Own
          says={
            own ? `Its own coats when ${adjective[state]}.` : `Looks as at rest when ${adjective[state]}.`
          }
          does={own ? 'Look as at rest' : GIVE}
          onDo={() => ownState(state, !own)}
        />
      )}
    </div>
  );
});

const GIVE = 'Give it coats of its own';

/** Whether the finish has other coats under the theme of the scene. */
function InTheme({ finish }: { finish: string }) {
  const theme = useScene()?.theme ?? '';
  const themes = useDocument((now) => now.document?.themes);
  const own = useDocument(
    ({ document }) => (document && finishOf(document, finish)?.themes?.[theme]) !== undefined,
  );
  const name = themes?.find((other) => other.id === theme)?.name;
  if (!themes || themes.length < 2 || name === undefined) return null;
  return (
    <Own
      says={own ? `Its own coats in ${name}.` : `The same coats in ${name} as in other themes.`}
      does={own ? 'Look as in other themes' : GIVE}
      onDo={() => ownInTheme(finish, theme, !own)}
    />
  );
}

/** Says which coats are shown, with a button for the other way. */
function Own({ says, does, onDo }: { says: string; does: string; onDo: () => void }) {
  return (
    <Group gap={6} mt={4} justify="space-between" wrap="nowrap">
      <Text size="xs" c="dimmed">
        {says}
      </Text>
      <Button size="compact-xs" variant="default" onClick={onDo}>
        {does}
      </Button>
    </Group>
  );
}

const adjective: Record<Exclude<PieceState, 'rest'>, string> = {
  hover: 'under the pointer',
  pressed: 'pressed',
  focus: 'focused',
  disabled: 'disabled',
};
