import { Button, Popover } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api, type Schemas } from '../../core/client';
import { steady } from '../../parts/steady';
import { identity } from '../../session/identity';
import { onlyScene, useDocument } from '../../session/store';
import choice from '../AddCoat.module.css';
import { Row } from './fields';

type Mode = Schemas['BlendMode'];

interface Props {
  coat: string;
  value: Mode;
  onChange: (mode: Mode) => void;
}

/** The blend mode of a coat, chosen from pictures of the piece itself. */
export const BlendField = steady(function BlendField({ coat, value, onChange }: Props) {
  const [opened, setOpened] = useState(false);
  const document = useDocument((state) => state.document);
  const scene = useDocument((state) => state.scene);
  const piece = useDocument((state) => state.piece);
  const offered = useQuery({
    queryKey: ['blends', identity(document), scene, piece, coat],
    queryFn: async () => {
      if (!document || !scene || !piece) return [];
      const body = { project: onlyScene(document, scene), scene, piece, coat };
      return answer(await api.POST('/api/blends', { body }));
    },
    enabled: opened,
    gcTime: 0,
    placeholderData: (last) => last,
  });
  return (
    <Row label="Blend">
      <Popover opened={opened} onChange={setOpened} position="right" width={430} trapFocus withArrow>
        <Popover.Target>
          <Button
            size="compact-xs"
            variant="default"
            aria-expanded={opened}
            aria-label={`Blend mode: ${value}`}
            onClick={() => setOpened(!opened)}
          >
            {value}
          </Button>
        </Popover.Target>
        <Popover.Dropdown>
          <div className={choice.modes}>
            {offered.data?.map(({ blend, picture }) => (
              <button
                key={blend}
                type="button"
                className={choice.choice}
                aria-pressed={blend === value}
                onClick={() => {
                  onChange(blend);
                  setOpened(false);
                }}
              >
                <img src={picture} alt="" />
                <span>{blend}</span>
              </button>
            ))}
          </div>
          {offered.isPending && <p>Drawing the sixteen modes</p>}
        </Popover.Dropdown>
      </Popover>
    </Row>
  );
});
