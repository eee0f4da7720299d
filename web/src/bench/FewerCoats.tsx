import { Button, Modal, SegmentedControl } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useAnswered } from '../core/answers';
import type { Piece, Schemas } from '../core/client';
import { interaction } from '../core/constants';
import { askCore } from '../core/core';
import { words } from '../messages';
import { FewerPictures } from '../parts/FewerPictures';
import { replaceStack } from '../session/coats';
import { useDocument } from '../session/store';
import { ErrorByCount } from './ErrorByCount';
import classes from './FewerCoats.module.css';

interface Props {
  piece: Piece;
  opened: boolean;
  onClose: () => void;
}

/** Fewer shadows for the same look: how far off the best stack of each number is, both pictures side by side. */
export function FewerCoats({ piece, opened, onClose }: Props) {
  return (
    <Modal opened={opened} onClose={onClose} title={words.bench.fewerCoats} size={660}>
      {opened && <Choice piece={piece} onClose={onClose} />}
    </Modal>
  );
}

function Choice({ piece, onClose }: Omit<Props, 'opened'>) {
  const project = useDocument((state) => state.document);
  const scene = useDocument((state) => state.scene);
  const [wanted, setWanted] = useState<number | null>(null);
  const asked = useMemo(
    () => (project && scene ? { project, scene, piece: piece.id } : null),
    [project, scene, piece.id],
  );
  const ask = async (body: NonNullable<typeof asked>, signal: AbortSignal) =>
    await askCore('/api/solve/reduce', body, signal);
  const { answer: found, failure } = useAnswered(asked, ask, { pause: 0 });
  if (failure) return <p role="alert">{failure}</p>;
  if (!found) return <p role="status">{words.bench.findingFewerCoats}</p>;
  const chosen = found.by_count.find((fewer) => fewer.shadows === wanted) ?? offered(found.by_count);
  if (!chosen) return <p>{words.bench.noFewerCoats}</p>;
  const take = () => {
    replaceStack(chosen.coats, { scene, piece: piece.id, state: 'rest' });
    onClose();
  };
  return (
    <div className={classes.choice}>
      <FewerPictures found={found} chosen={chosen} />
      <figure>
        <figcaption>{words.bench.errorByCount}</figcaption>
        <ErrorByCount found={found.by_count} chosen={chosen.shadows} />
      </figure>
      <div className={classes.side}>
        <SegmentedControl
          size="xs"
          aria-label={words.bench.howManyShadows}
          data={found.by_count.map((fewer) => String(fewer.shadows))}
          value={String(chosen.shadows)}
          onChange={(count) => setWanted(Number(count))}
        />
        <p>{words.bench.differs(chosen.error)}</p>
        {found.notes.map((note) => (
          <p key={note}>{note}</p>
        ))}
        <Button onClick={take}>{words.bench.takeShadows(chosen.shadows)}</Button>
      </div>
    </div>
  );
}

/** The fewest that hardly anybody tells from what is there, or else the nearest. */
function offered(found: Schemas['FewerPicture'][]): Schemas['FewerPicture'] | undefined {
  return found.find((fewer) => fewer.error.worst <= interaction.unseen_difference) ?? found.at(-1);
}
