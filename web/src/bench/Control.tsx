import { Group, Switch, Text } from '@mantine/core';
import type { Piece } from '../core/client';
import { words } from '../messages';
import { Quiet } from '../parts/Quiet';
import { choosePiece } from '../session/choice';
import { controlOf, shownState } from '../session/lookup';
import { editPiece } from '../session/pieces';
import { useScene } from '../session/seen';
import { useDocument } from '../session/store';

/** Whether the piece is a control, or which one it follows; and the state in which the scene shows that. */
export function Control({ piece }: { piece: Piece }) {
  const scene = useScene();
  const document = useDocument((state) => state.document);
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
}
