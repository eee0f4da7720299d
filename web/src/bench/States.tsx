import { Button, Group, SegmentedControl, Text } from '@mantine/core';
import { memo } from 'react';
import type { Piece } from '../core/client';
import { ownState, type PieceState, pieceStates, stackIn, useDocument } from '../session/store';
import classes from './Stack.module.css';

/** Which state the piece is seen and changed in: at rest, under the pointer, pressed. */
export const States = memo(function States({ piece }: { piece: Piece }) {
  const state = useDocument((now) => now.state);
  // The states that have coats of their own, as one text, so that it is the same as long as they are.
  const made = useDocument(({ document }) =>
    pieceStates.filter((other) => document && stackIn(document, piece, other)).join(),
  ).split(',');
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
      {state !== 'rest' && (
        <Group gap={6} mt={4} justify="space-between" wrap="nowrap">
          <Text size="xs" c="dimmed">
            {own ? `Its own coats when ${adjective[state]}.` : `Looks as at rest when ${adjective[state]}.`}
          </Text>
          <Button size="compact-xs" variant="default" onClick={() => ownState(state, !own)}>
            {own ? 'Look as at rest' : 'Give it coats of its own'}
          </Button>
        </Group>
      )}
    </div>
  );
});

const adjective: Record<Exclude<PieceState, 'rest'>, string> = {
  hover: 'under the pointer',
  pressed: 'pressed',
  focus: 'focused',
  disabled: 'disabled',
};
