import { Button, Group, Text } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { words } from '../messages';

/** Says what was done, with a way back for as long as it is shown. */
export function offerUndo(said: string, undo: () => unknown) {
  const id = notifications.show({
    autoClose: 8000,
    withCloseButton: true,
    closeButtonProps: { 'aria-label': words.parts.closeThisMessage },
    message: (
      <Group justify="space-between" wrap="nowrap">
        <Text size="sm">{said}</Text>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => {
            notifications.hide(id);
            void undo();
          }}
        >
          {words.common.undo}
        </Button>
      </Group>
    ),
  });
}

/** Says something that whoever asked for it should know. */
export function say(said: string) {
  notifications.show({ autoClose: 10_000, role: 'status', message: said });
}

/** Says that something did not work. */
export function sayFailure(said: string) {
  notifications.show({ color: 'red', autoClose: 10_000, role: 'alert', message: said });
}
