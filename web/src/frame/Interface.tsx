import { Menu, useMantineColorScheme } from '@mantine/core';
import { words } from '../messages';
import { Quiet } from '../parts/Quiet';
import { useFrame } from './frame';

const schemes = [
  { scheme: 'light', says: words.frame.lightInterface },
  { scheme: 'dark', says: words.frame.darkInterface },
  { scheme: 'auto', says: words.frame.sameAsTheSystem },
] as const;

/** The shortcuts, and whether the interface is light or dark. */
export function Interface() {
  const { colorScheme, setColorScheme } = useMantineColorScheme();
  return (
    <>
      <Quiet onClick={() => useFrame.setState({ dialog: 'shortcuts' })}>{words.frame.shortcuts}</Quiet>
      <Menu position="bottom-end">
        <Menu.Target>
          <Quiet opens>{words.frame.interface}</Quiet>
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
