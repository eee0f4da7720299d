import { Menu } from '@mantine/core';
import { memo, useState } from 'react';
import type { Piece, Scene } from '../core/client';
import { words } from '../messages';
import { Quiet } from '../parts/Quiet';
import { useLater } from '../parts/useLater';
import { addAlternative, chooseAlternative, triedOf } from '../session/alternatives';
import { copyCoats, pasteCoats, useClipboard } from '../session/clipboard';
import { clearStack, followAll } from '../session/coats';
import { sceneOf } from '../session/lookup';
import { useReported } from '../session/reported';
import { calmIn, useDocument } from '../session/store';
import { FewerCoats } from './FewerCoats';
import { PasteCss } from './PasteCss';

interface Props {
  piece: Piece;
}

/** What is done with the stack as a whole. */
export function StackMenu({ piece }: Props) {
  const scene = useDocument((now) => sceneOf(calmIn(now), now.scene));
  return <StackMenuItems scene={useLater(scene, piece.id)} piece={piece} />;
}

const StackMenuItems = memo(function StackMenuItems({ piece, scene }: Props & { scene: Scene | undefined }) {
  const copied = useClipboard((state) => state.coats.length);
  const lights = useDocument((state) => state.document?.lights) ?? none;
  const tried = scene ? triedOf(scene, piece) : [];
  // What the core says changes with every movement of a hand; the menu takes it when something is chosen there.
  const isReported = useReported(({ report }) => report?.piece === piece.id);
  const canBeFewer = useReported(({ report }) => report?.piece === piece.id && report.can_be_fewer);
  const isMeasured = useReported(({ boxes }) => boxes.some((box) => box.id === piece.id));
  const tryAnother = () => {
    const size = useReported.getState().boxes.find((box) => box.id === piece.id);
    if (size) addAlternative(piece, size);
  };
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
          <Menu.Item disabled={!resting || !canBeFewer} onClick={() => setReducing(true)}>
            {words.bench.fewerCoatsMenu}
          </Menu.Item>
          <Menu.Item onClick={clearStack}>{words.bench.clear}</Menu.Item>
          <Menu.Divider />
          {isMeasured && <Menu.Item onClick={tryAnother}>{words.bench.tryAnAlternative}</Menu.Item>}
          {tried.length > 1 && (
            <Menu.Item onClick={() => chooseAlternative(piece)}>
              {words.bench.keepThisOf(tried.length)}
            </Menu.Item>
          )}
          {isReported && lights.length > 0 && (
            <>
              <Menu.Divider />
              {lights.map((light) => (
                <Menu.Item key={light.id} onClick={() => followAll(light.id, offsets())}>
                  {words.bench.allFollow(light.name)}
                </Menu.Item>
              ))}
              <Menu.Item onClick={() => followAll(null, offsets())}>{words.bench.stopFollowing}</Menu.Item>
            </>
          )}
        </Menu.Dropdown>
      </Menu>
    </>
  );
});

const none: never[] = [];

/** The offsets of the chosen piece's coats, as the core said last. */
function offsets() {
  const coats = useReported.getState().report?.coats ?? [];
  return new Map(coats.flatMap((coat) => (coat.offset ? [[coat.id, coat.offset] as const] : [])));
}
