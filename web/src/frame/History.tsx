import { Menu, ScrollArea } from '@mantine/core';
import { Quiet } from '../parts/Quiet';
import { redo, undo, useFuture, usePast } from '../session/store';
import { useFrame } from './frame';

/** Undo and redo, and every step by its name. */
export function History() {
  const past = usePast();
  const future = useFuture();
  return (
    <>
      <Quiet
        disabled={past.length === 0}
        title={past[0] && `Undo: ${past[0]}`}
        onClick={() => undo()}
        aria-label="Undo"
      >
        Undo
      </Quiet>
      <Quiet
        disabled={future.length === 0}
        title={future[0] && `Redo: ${future[0]}`}
        onClick={() => redo()}
        aria-label="Redo"
      >
        Redo
      </Quiet>
      <Menu position="bottom-end" width={300}>
        <Menu.Target>
          <Quiet opens>History</Quiet>
        </Menu.Target>
        <Menu.Dropdown>
          <ScrollArea.Autosize mah={420}>
            {future.length > 0 && <Menu.Label>Undone</Menu.Label>}
            {steps(future)
              .reverse()
              .map(({ name, count, key }) => (
                <Menu.Item key={key} c="dimmed" onClick={() => redo(count)}>
                  {name}
                </Menu.Item>
              ))}
            <Menu.Label>Latest first. Choose a step to undo it and all after it.</Menu.Label>
            {steps(past).map(({ name, count, key }) => (
              <Menu.Item key={key} onClick={() => undo(count)}>
                {name}
              </Menu.Item>
            ))}
            {past.length === 0 && <Menu.Item disabled>Nothing yet</Menu.Item>}
          </ScrollArea.Autosize>
          <Menu.Divider />
          <Menu.Item onClick={() => useFrame.setState({ dialog: 'revisions' })}>Revisions</Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </>
  );
}

/** Names with how many steps away each is. */
function steps(names: string[]) {
  return names.map((name, i) => ({ name, count: i + 1, key: `${names.length - i} ${name}` }));
}
