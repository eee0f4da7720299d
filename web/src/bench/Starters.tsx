import { Button, Popover } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api, type Coat } from '../core/client';
import { wearCoats } from '../session/coats';
import { onlyScene, useDocument } from '../session/store';
import classes from './AddCoat.module.css';

/** Whole stacks to start from, each shown on the very piece. */
export function Starters({ piece }: { piece: string }) {
  const [opened, setOpened] = useState(false);
  const offered = useQuery({
    queryKey: ['starters', piece],
    queryFn: async () => {
      const { document, scene } = useDocument.getState();
      if (!document || !scene) return [];
      const body = { project: onlyScene(document, scene), scene, piece };
      return answer(await api.POST('/api/starters', { body }));
    },
    enabled: opened,
    gcTime: 0,
    staleTime: 0,
  });
  const take = (coats: Coat[]) => {
    wearCoats(coats);
    setOpened(false);
  };
  return (
    <Popover opened={opened} onChange={setOpened} position="right-start" width={460} trapFocus withArrow>
      <Popover.Target>
        <Button size="compact-xs" variant="default" aria-expanded={opened} onClick={() => setOpened(!opened)}>
          Start from…
        </Button>
      </Popover.Target>
      <Popover.Dropdown className={classes.starters}>
        <h3 className={classes.title}>Start from one of these; it takes the place of the stack</h3>
        <div className={classes.choices}>
          {offered.data?.map((starter) => (
            <button
              key={starter.name}
              type="button"
              className={classes.choice}
              onClick={() => take(starter.coats)}
            >
              <img src={starter.picture} alt="" />
              <span>{starter.name}</span>
              <small>{starter.description}</small>
            </button>
          ))}
        </div>
        {offered.isPending && <p>Drawing them on this piece</p>}
        {offered.error && <p role="alert">{offered.error.message}</p>}
      </Popover.Dropdown>
    </Popover>
  );
}
