import { Group, Switch, Text } from '@mantine/core';
import { memo } from 'react';
import type { Piece } from '../core/client';
import { words } from '../messages';
import { Quiet } from '../parts/Quiet';
import { choosePiece } from '../session/choice';
import { controlOf, sceneOf, shownState } from '../session/lookup';
import { editPiece } from '../session/pieces';
import { calmIn, useDocument } from '../session/store';

/** Whether the piece is a control, or which one it follows; and the state in which the scene shows that. */
export const Control = memo(function Control({ piece }: { piece: Piece }) {
  const document = useDocument(calmIn);
  const scene = sceneOf(
    document,
    useDocument((now) => now.scene),
  );
  const state = useDocument((now) => now.state);
  if (!document) return null;
  const control = controlOf(document, scene, piece.id);
  const shown = shownState(scene, piece.id);
  const show = () =>
    editPiece((control ?? piece).id, (mine) => {
      mine.shows = state === 'rest' ? null : state;
    });
  return (
    <Group gap={4} mt={6} wrap="nowrap">
      {control && control.id !== piece.id ? (
        <>
          <Text size="xs" c="dimmed">
            {words.bench.followsControl}
          </Text>
          <Quiet fz={12} px={4} title={control.name} onClick={() => choosePiece(control.id)}>
            {control.name}
          </Quiet>
        </>
      ) : (
        <Switch
          size="xs"
          label={words.bench.isControl}
          title={words.bench.aboutControls}
          checked={piece.control ?? false}
          onChange={(event) => {
            const { checked } = event.currentTarget;
            editPiece(piece.id, (mine) => {
              mine.control = checked;
            });
          }}
        />
      )}
      <span style={{ flex: 1 }} />
      {control && shown !== state && (
        <Quiet fz={12} px={4} onClick={show}>
          {words.bench.showSoOnTheScene}
        </Quiet>
      )}
    </Group>
  );
});
