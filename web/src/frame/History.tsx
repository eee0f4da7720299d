import { Menu, ScrollArea } from '@mantine/core';
import { memo } from 'react';
import { words } from '../messages';
import { Quiet } from '../parts/Quiet';
import { useLater } from '../parts/useLater';
import { redo, undo, useFuture, usePast } from '../session/store';
import { useFrame } from './frame';

/** Undo and redo, and every step by its name. */
export function History() {
  // Drawn after what follows the hand.
  const [past, future] = [useLater(usePast(), null), useLater(useFuture(), null)];
  return <UndoAndRedo past={past} future={future} />;
}

const UndoAndRedo = memo(function UndoAndRedo({ past, future }: { past: string[]; future: string[] }) {
  return (
    <>
      <Quiet
        disabled={past.length === 0}
        title={past[0] && words.frame.undo(past[0])}
        onClick={() => undo()}
        aria-label={words.common.undo}
      >
        {words.common.undo}
      </Quiet>
      <Quiet
        disabled={future.length === 0}
        title={future[0] && words.frame.redoWithFuture(future[0])}
        onClick={() => redo()}
        aria-label={words.frame.redo}
      >
        {words.frame.redo}
      </Quiet>
      <Menu position="bottom-end" width={300}>
        <Menu.Target>
          <Quiet opens>{words.frame.history}</Quiet>
        </Menu.Target>
        <Menu.Dropdown>
          <ScrollArea.Autosize mah={420}>
            {future.length > 0 && <Menu.Label>{words.frame.undone}</Menu.Label>}
            {steps(future)
              .reverse()
              .map(({ name, count, key }) => (
                <Menu.Item key={key} c="dimmed" onClick={() => redo(count)}>
                  {name}
                </Menu.Item>
              ))}
            <Menu.Label>{words.frame.latestFirst}</Menu.Label>
            {steps(past).map(({ name, count, key }) => (
              <Menu.Item key={key} onClick={() => undo(count)}>
                {name}
              </Menu.Item>
            ))}
            {past.length === 0 && <Menu.Item disabled>{words.frame.nothingYet}</Menu.Item>}
          </ScrollArea.Autosize>
          <Menu.Divider />
          <Menu.Item onClick={() => useFrame.setState({ dialog: 'revisions' })}>
            {words.frame.revisions}
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </>
  );
});

/** Names with how many steps away each is. */
function steps(names: string[]) {
  return names.map((name, i) => ({ name, count: i + 1, key: `${names.length - i} ${name}` }));
}
