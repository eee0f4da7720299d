import { Button, Group, Modal, SegmentedControl, TextInput } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useAnswered } from '../../core/answers';
import type { Coat, Piece, Schemas } from '../../core/client';
import { defaults, ranges } from '../../core/constants';
import { askCore } from '../../core/core';
import { words } from '../../messages';
import { say } from '../../page/toast';
import { NumberField } from '../../parts/NumberField';
import { addHeights } from '../../session/finishes';
import { heightIn, raisePiece } from '../../session/heights';
import { sceneOf, stackOf } from '../../session/lookup';
import { bearingIn } from '../../session/shared';
import { useDocument } from '../../session/store';
import { RigFields } from '../stage/LightRig';
import { FollowSelect } from '../values/fields';
import classes from './found.module.css';

interface Props {
  piece: Piece;
  opened: boolean;
  onClose: () => void;
}

/** The shadows that the piece casts at a height, the height that its present ones say, and finishes for a list of heights. */
export function FromHeight({ piece, opened, onClose }: Props) {
  return (
    <Modal opened={opened} onClose={onClose} title={words.found.fromHeight} size={760}>
      {opened && <Choice piece={piece} onClose={onClose} />}
    </Modal>
  );
}

async function askRaise(body: Schemas['RaiseRequest'], signal: AbortSignal) {
  return await askCore('/api/solve/raise', body, signal);
}

/** Where light comes from where there is no shared one. */
const usualBearing = 20;

function Choice({ piece, onClose }: Omit<Props, 'opened'>) {
  const project = useDocument((state) => state.document);
  const scene = useDocument((state) => state.scene);
  const lights = project?.lights ?? [];
  const before = useDocument((state) => heightIn(stackOf(state, piece)));
  const [follows, setFollows] = useState<string | null>(
    before ? (before.follows ?? null) : (lights[0]?.id ?? null),
  );
  const followed = lights.find((light) => light.id === follows);
  const [own, setOwn] = useState(before?.bearing ?? usualBearing);
  const theme = sceneOf(project, scene)?.theme ?? '';
  const bearing = followed ? bearingIn(followed, theme) : own;
  const [rig, setRig] = useState(before?.rig ?? followed?.rig ?? defaults.rig);
  const [height, setHeight] = useState(before?.height ?? 12);
  const [coats, setCoats] = useState(before?.shadows.length ?? 3);
  const asked = useMemo(
    () =>
      project && scene ? { project, scene, piece: piece.id, light: { bearing, rig }, follows, coats } : null,
    [project, scene, piece.id, bearing, rig, follows, coats],
  );
  const one = useMemo(
    () => asked && { ...asked, heights: [height], pictures: true, rough: true },
    [asked, height],
  );
  const fine = useMemo(() => one && { ...one, rough: false }, [one]);
  const present = useMemo(() => asked && { ...asked, says: true }, [asked]);
  const { answer: nearly, failure } = useAnswered(one, askRaise, { pause: 0 });
  const { answer: exact, fresh } = useAnswered(fine, askRaise, { pause: 300, cancels: true });
  const { answer: said } = useAnswered(present, askRaise, { pause: 400, cancels: true });
  const raised = (fresh ? exact : nearly)?.raised[0];
  const use = () => {
    if (!raised) return;
    const [coat] = raised.coats as Coat[];
    if (coat) raisePiece(coat, follows ? { id: follows, rig } : null);
    onClose();
  };
  const follow = (light: string | null) => {
    setFollows(light);
    setRig(lights.find((other) => other.id === light)?.rig ?? rig);
  };
  return (
    <div className={classes.choice}>
      {failure && <p role="alert">{failure}</p>}
      <div className={classes.raise}>
        <div className={classes.row}>
          <figure>
            {raised?.picture && <img src={raised.picture} alt="" />}
            <figcaption>
              {fresh && raised ? words.found.raisedOff(raised.error) : words.found.raising}
            </figcaption>
          </figure>
        </div>
        <div className={classes.fields}>
          <NumberField
            label={words.found.height}
            unit="px"
            value={height}
            min={ranges.HeightPx[0]}
            max={ranges.HeightPx[1]}
            slider={[ranges.HeightPx[0], 64]}
            onChange={setHeight}
          />
          <FollowSelect value={follows} onChange={follow} />
          {!followed && (
            <NumberField
              label={words.found.bearing}
              unit="°"
              value={own}
              min={ranges.Degrees[0]}
              max={ranges.Degrees[1]}
              slider={[0, 360]}
              onChange={setOwn}
            />
          )}
          <RigFields rig={rig} onChange={setRig} />
          <SegmentedControl
            size="xs"
            aria-label={words.bench.howManyShadows}
            data={['1', '2', '3', '4']}
            value={String(coats)}
            onChange={(count) => setCoats(Number(count))}
          />
        </div>
      </div>
      {said && (
        <p className={classes.facts}>
          {said.says ? words.found.says(said.says.height, said.says.error) : words.found.saysNothing}
        </p>
      )}
      <Group justify="space-between" align="end">
        <Button disabled={!raised} onClick={use}>
          {words.found.use}
        </Button>
        {asked && <Scale common={asked} />}
      </Group>
    </div>
  );
}

interface ScaleProps {
  common: Pick<Schemas['RaiseRequest'], 'project' | 'scene' | 'piece' | 'light' | 'follows' | 'coats'>;
}

/** A list of heights that becomes finishes, the lowest first, in one step. */
function Scale({ common }: ScaleProps) {
  const [text, setText] = useState('2, 4, 8, 16, 32');
  const heights = heightsIn(text);
  const make = useMutation({
    mutationFn: async (list: number[]) => await askCore('/api/solve/raise', { ...common, heights: list }),
    onSuccess: ({ raised }) => {
      addHeights(raised, words.found.finishName);
      say(words.found.madeScale(raised.length));
    },
  });
  return (
    <Group gap="xs" align="end">
      <TextInput
        size="xs"
        label={words.found.heights}
        value={text}
        error={heights ? make.error?.message : words.found.notHeights}
        onChange={(event) => setText(event.currentTarget.value)}
      />
      <Button
        variant="default"
        size="xs"
        disabled={!heights}
        loading={make.isPending}
        onClick={() => heights && make.mutate(heights)}
      >
        {words.found.makeScale}
      </Button>
    </Group>
  );
}

/** The heights of a list, the lowest first; nothing where one is none. */
function heightsIn(text: string): number[] | null {
  const parts = text.split(/[,;\s]+/).filter((part) => part !== '');
  const heights = parts.map(Number);
  const right = heights.every((height) => height >= ranges.HeightPx[0] && height <= ranges.HeightPx[1]);
  return right && heights.length > 0 && heights.length <= 12 ? heights.sort((a, b) => a - b) : null;
}
