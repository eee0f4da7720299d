import { Button, PasswordInput, Text, Title } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { answer, api } from '../core/client';
import { words } from '../messages';
import classes from './KeyPage.module.css';

/** Asks for the owner's key, where others can reach the service. */
export function KeyPage() {
  const [key, setKey] = useState('');
  const open = useMutation({
    mutationFn: async () => answer(await api.POST('/api/session', { body: { key } })),
    // Everything is asked for anew, now that it is answered.
    onSuccess: () => window.location.reload(),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    open.mutate();
  };
  return (
    <main className={classes.page}>
      <form className={classes.form} onSubmit={submit}>
        <Text className={classes.name}>{words.common.zolvet}</Text>
        <Title order={1} size="h3">
          {words.account.openWithTheOwnersKey}
        </Title>
        <Text size="sm">{words.account.othersCanReachThisService}</Text>
        <PasswordInput
          label={words.account.ownersKey}
          value={key}
          onChange={(event) => setKey(event.currentTarget.value)}
          error={open.error?.message}
          autoFocus
        />
        <Button type="submit" loading={open.isPending} disabled={key.trim() === ''}>
          {words.common.open}
        </Button>
      </form>
    </main>
  );
}
