import { Button, Group, Modal, Text } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { words } from '../messages';
import { CssField } from '../parts/CssField';
import { takeCss } from '../session/takeCss';

interface Props {
  opened: boolean;
  onClose: () => void;
}

/** CSS pasted into the stack; nothing is taken unless all of it is understood. */
export function PasteCss({ opened, onClose }: Props) {
  return (
    <Modal opened={opened} onClose={onClose} title={words.bench.pasteCss} withCloseButton={false} size="lg">
      <Form onClose={onClose} />
    </Modal>
  );
}

function Form({ onClose }: Pick<Props, 'onClose'>) {
  const [css, setCss] = useState('');
  const read = useMutation({
    mutationFn: (replace: boolean) => takeCss(css, replace),
    onSuccess: ({ diagnostics }) => diagnostics.length === 0 && onClose(),
  });
  const empty = css.trim() === '';
  return (
    <>
      <CssField value={css} error={read.error?.message} onChange={setCss} />
      {read.data?.diagnostics.map((diagnostic) => (
        <Text key={diagnostic} size="sm" mt={4}>
          {diagnostic}
        </Text>
      ))}
      <Group justify="end" mt="md">
        <Button variant="default" onClick={onClose}>
          {read.data ? words.common.close : words.common.cancel}
        </Button>
        <Button variant="default" disabled={empty} onClick={() => read.mutate(false)}>
          {words.bench.addToTheStack}
        </Button>
        <Button disabled={empty} onClick={() => read.mutate(true)}>
          {words.bench.replaceTheStack}
        </Button>
      </Group>
    </>
  );
}
