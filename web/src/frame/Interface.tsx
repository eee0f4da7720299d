import { Menu, useMantineColorScheme } from '@mantine/core';
import { Quiet } from '../parts/Quiet';
import { useFrame } from './frame';

const schemes = [
  { scheme: 'light', says: 'Light interface' },
  { scheme: 'dark', says: 'Dark interface' },
  { scheme: 'auto', says: 'As the system has it' },
] as const;

/** The shortcuts, and whether the interface is light or dark. */
export function Interface() {
  const { colorScheme, setColorScheme } = useMantineColorScheme();
  return (
    <>
      <Quiet onClick={() => useFrame.setState({ dialog: 'shortcuts' })}>Shortcuts</Quiet>
      <Menu position="bottom-end">
        <Menu.Target>
          <Quiet opens>Interface</Quiet>
        </Menu.Target>
        <Menu.Dropdown>
          {schemes.map(({ scheme, says }) => (
            <Menu.Item
              key={scheme}
              aria-current={colorScheme === scheme || undefined}
              fw={colorScheme === scheme ? 600 : undefined}
              onClick={() => setColorScheme(scheme)}
            >
              {says}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
    </>
  );
}
