import { Button, Group, Text, Textarea } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { memo, useState } from 'react';
import { answer, api, type Coat } from '../core/client';
import { words } from '../messages';
import { newId } from '../session/newId';
import { editCoats, target } from '../session/store';
import classes from './AddCoat.module.css';

/** CSS pasted into the stack; nothing is taken unless all of it is understood. */
export const PasteCss = memo(function PasteCss() {
  const [css, setCss] = useState('');
  const read = useMutation({
    mutationFn: async (replace: boolean) => {
      // The piece it was pasted for, whichever is chosen by then.
      const meant = target();
      const found = answer(await api.POST('/api/css', { body: { css } }));
      const put = (coats: Coat[]) => {
        const fresh = found.coats.map((coat) => ({ ...coat, id: newId() }));
        coats.splice(0, replace ? coats.length : 0, ...fresh);
      };
      editCoats(put, false, meant);
      return found;
    },
    onSuccess: () => setCss(''),
  });
  return (
    <div className={classes.add}>
      <h3 className={classes.title}>{words.bench.pasteCss}</h3>
      <Textarea
        size="xs"
        aria-label={words.bench.cssToRead}
        placeholder={words.bench.cssExample}
        autosize
        minRows={1}
        maxRows={6}
        value={css}
        onChange={(event) => setCss(event.currentTarget.value)}
        error={read.error?.message}
      />
      <Group gap={6} mt={6}>
        <Button size="compact-xs" variant="default" disabled={!css.trim()} onClick={() => read.mutate(false)}>
          {words.bench.addToTheStack}
        </Button>
        <Button size="compact-xs" variant="default" disabled={!css.trim()} onClick={() => read.mutate(true)}>
          {words.bench.replaceTheStack}
        </Button>
      </Group>
      {read.data?.diagnostics.map((diagnostic) => (
        <Text key={diagnostic} size="xs" c="dimmed" mt={4}>
          {diagnostic}
        </Text>
      ))}
    </div>
  );
});
