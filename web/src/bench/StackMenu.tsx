import { Menu } from '@mantine/core';
import { memo, useState } from 'react';
import type { Piece, Report, Scene, Schemas } from '../core/client';
import { words } from '../messages';
import { Quiet } from '../parts/Quiet';
import { useLater } from '../parts/useLater';
import { addAlternative, chooseAlternative, triedOf } from '../session/alternatives';
import { copyCoats, pasteCoats, useClipboard } from '../session/clipboard';
import { clearStack, followAll } from '../session/coats';
import { sceneOf } from '../session/lookup';
import { calmIn, useDocument } from '../session/store';
import { FewerCoats } from './FewerCoats';
import { PasteCss } from './PasteCss';

interface Props {
  piece: Piece;
  report: Report | null;
  boxes: Schemas['PieceBox'][];
}

/** What is done with the stack as a whole. */
export function StackMenu(props: Props) {
  const { piece } = props;
  const scene = useDocument((now) => sceneOf(calmIn(now), now.scene));
  return <StackMenuItems scene={useLater(scene, piece.id)} {...props} />;
}

const StackMenuItems = memo(function StackMenuItems({
  piece,
  report,
  boxes,
  scene,
}: Props & { scene: Scene | undefined }) {
  const copied = useClipboard((state) => state.coats.length);
  const lights = useDocument((state) => state.document?.lights) ?? none;
  const size = boxes.find((box) => box.id === piece.id);
  const tried = scene ? triedOf(scene, piece) : [];
  const both = new Map(report?.coats.flatMap((coat) => (coat.offset ? [[coat.id, coat.offset]] : [])));
  const [pasting, setPasting] = useState(false);
  const [reducing, setReducing] = useState(false);
  const resting = useDocument((state) => state.state === 'rest');
  return (
    <>
      <PasteCss opened={pasting} onClose={() => setPasting(false)} />
      <FewerCoats piece={piece} opened={reducing} onClose={() => setReducing(false)} />
      <Menu position="bottom-end" width={220}>
        <Menu.Target>
          <Quiet opens px={2}>
            {words.bench.stack}
          </Quiet>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => copyCoats(true)}>{words.bench.copyTheStack}</Menu.Item>
          <Menu.Item disabled={copied === 0} onClick={pasteCoats}>
            {copied === 0 ? words.bench.paste : words.bench.pasteCoats(copied)}
          </Menu.Item>
          <Menu.Item onClick={() => setPasting(true)}>{words.bench.pasteCssMenu}</Menu.Item>
          <Menu.Item disabled={!resting || !report?.can_be_fewer} onClick={() => setReducing(true)}>
            {words.bench.fewerCoatsMenu}
          </Menu.Item>
          <Menu.Item onClick={clearStack}>{words.bench.clear}</Menu.Item>
          <Menu.Divider />
          {size && (
            <Menu.Item onClick={() => addAlternative(piece, size)}>{words.bench.tryAnAlternative}</Menu.Item>
          )}
          {tried.length > 1 && (
            <Menu.Item onClick={() => chooseAlternative(piece)}>
              {words.bench.keepThisOf(tried.length)}
            </Menu.Item>
          )}
          {report && lights.length > 0 && (
            <>
              <Menu.Divider />
              {lights.map((light) => (
                <Menu.Item key={light.id} onClick={() => followAll(light.id, both)}>
                  {words.bench.allFollow(light.name)}
                </Menu.Item>
              ))}
              <Menu.Item onClick={() => followAll(null, both)}>{words.bench.stopFollowing}</Menu.Item>
            </>
          )}
        </Menu.Dropdown>
      </Menu>
    </>
  );
});

const none: never[] = [];
