import { Button } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useAnswer } from '../../core/answers';
import type { Schemas } from '../../core/client';
import { askCore } from '../../core/core';
import { words } from '../../messages';
import { Panel } from '../../parts/Panel';
import { steady } from '../../parts/steady';
import { useDocument } from '../../session/store';
import choice from '../choices.module.css';
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
  const asked = useMemo(
    () => (opened && document && scene && piece ? { project: document, scene, piece, coat } : null),
    [opened, document, scene, piece, coat],
  );
  const ask = async (body: NonNullable<typeof asked>) => await askCore('/api/blends', body);
  const offered = useAnswer(asked, ask, { pause: 0 });
  return (
    <Row label={words.values.blend}>
      <Panel
        opened={opened}
        onChange={setOpened}
        position="right"
        width={430}
        target={(toggle) => (
          <Button
            size="compact-xs"
            variant="default"
            aria-expanded={opened}
            aria-label={words.values.blendMode(value)}
            onClick={toggle}
          >
            {value}
          </Button>
        )}
      >
        <div className={choice.modes}>
          {offered?.map(({ blend, picture }) => (
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
        {!offered && <p>{words.values.drawingModes}</p>}
      </Panel>
    </Row>
  );
});
