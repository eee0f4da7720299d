import { Menu } from '@mantine/core';
import type { Piece, Report, Schemas } from '../core/client';
import { Quiet } from '../parts/Quiet';
import { addAlternative, chooseAlternative, triedOf } from '../session/alternatives';
import { copyCoats, pasteCoats, useClipboard } from '../session/clipboard';
import { clearStack, followAll } from '../session/coats';
import { useDocument, useScene } from '../session/store';

interface Props {
  piece: Piece;
  report: Report | null;
  boxes: Schemas['PieceBox'][];
}

/** What is done with the stack as a whole. */
export function StackMenu({ piece, report, boxes }: Props) {
  const scene = useScene();
  const copied = useClipboard((state) => state.coats.length);
  const lights = useDocument((state) => state.document?.lights) ?? none;
  const size = boxes.find((box) => box.id === piece.id);
  const tried = scene ? triedOf(scene, piece) : [];
  const both = new Map(report?.coats.flatMap((coat) => (coat.offset ? [[coat.id, coat.offset]] : [])));
  return (
    <Menu position="bottom-end" width={220}>
      <Menu.Target>
        <Quiet opens px={2}>
          Stack
        </Quiet>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => copyCoats(true)}>Copy the stack</Menu.Item>
        <Menu.Item disabled={copied === 0} onClick={pasteCoats}>
          {copied === 0 ? 'Paste' : `Paste ${copied}`}
        </Menu.Item>
        <Menu.Item onClick={clearStack}>Clear</Menu.Item>
        <Menu.Divider />
        {size && <Menu.Item onClick={() => addAlternative(piece, size)}>Try an alternative</Menu.Item>}
        {tried.length > 1 && (
          <Menu.Item onClick={() => chooseAlternative(piece)}>Choose this of {tried.length}</Menu.Item>
        )}
        {report && lights.length > 0 && (
          <>
            <Menu.Divider />
            {lights.map((light) => (
              <Menu.Item key={light.id} onClick={() => followAll(light.id, both)}>
                All follow {light.name}
              </Menu.Item>
            ))}
            <Menu.Item onClick={() => followAll(null, both)}>Stop following</Menu.Item>
          </>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}

const none: never[] = [];
