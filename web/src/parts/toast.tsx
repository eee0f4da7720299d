import { Button, Group, Text } from '@mantine/core';
import { notifications } from '@mantine/notifications';

/** Says what was done, with a way back for as long as it is shown. */
export function offerUndo(said: string, undo: () => unknown) {
  const id = notifications.show({
    autoClose: 8000,
    withCloseButton: true,
    closeButtonProps: { 'aria-label': 'Close this message' },
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
          Undo
        </Button>
      </Group>
    ),
  });
}

/** Says that something did not work. */
export function sayFailure(said: string) {
  notifications.show({ color: 'red', autoClose: 10_000, role: 'alert', message: said });
}
