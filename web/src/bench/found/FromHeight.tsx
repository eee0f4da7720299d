import { Button, Group, Modal, SegmentedControl, TextInput } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useAnswered } from '../../core/answers';
import type { Piece, Schemas } from '../../core/client';
import { askCore } from '../../core/core';
import { words } from '../../messages';
import { say } from '../../page/toast';
import { NumberField } from '../../parts/NumberField';
import { wearCoats } from '../../session/coats';
import { addHeights } from '../../session/finishes';
import { sceneOf } from '../../session/lookup';
import { bearingIn } from '../../session/shared';
import { useDocument } from '../../session/store';
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

type Rig = Schemas['Rig'];

async function askRaise(body: Schemas['RaiseRequest'], signal: AbortSignal) {
  return await askCore('/api/solve/raise', body, signal);
}

function Choice({ piece, onClose }: Omit<Props, 'opened'>) {
  const project = useDocument((state) => state.document);
  const scene = useDocument((state) => state.scene);
  const [light, setLight] = useState<Rig>(() => ({ bearing: firstBearing(), ...usual }));
  const [height, setHeight] = useState(12);
  const [coats, setCoats] = useState(3);
  const asked = useMemo(
    () => (project && scene ? { project, scene, piece: piece.id, light, coats } : null),
    [project, scene, piece.id, light, coats],
  );
  const one = useMemo(
    () => asked && { ...asked, heights: [height], pictures: true, rough: true },
    [asked, height],
  );
  const fine = useMemo(() => one && { ...one, rough: false }, [one]);
  const own = useMemo(() => asked && { ...asked, says: true }, [asked]);
  const { answer: nearly, failure } = useAnswered(one, askRaise, { pause: 0 });
  const { answer: exact, fresh } = useAnswered(fine, askRaise, { pause: 300, cancels: true });
  const { answer: said } = useAnswered(own, askRaise, { pause: 400, cancels: true });
  const raised = (fresh ? exact : nearly)?.raised[0];
  const use = () => {
    if (!raised) return;
    wearCoats(raised.coats);
    onClose();
  };
  const set = (part: Partial<Rig>) => setLight({ ...light, ...part });
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
            min={0.5}
            max={200}
            slider={[0.5, 64]}
            onChange={setHeight}
          />
          <NumberField
            label={words.found.bearing}
            unit="°"
            value={light.bearing}
            min={-360}
            max={360}
            slider={[0, 360]}
            onChange={(bearing) => set({ bearing })}
          />
          <NumberField
            label={words.found.elevation}
            unit="°"
            value={light.elevation}
            min={15}
            max={90}
            onChange={(elevation) => set({ elevation })}
          />
          <NumberField
            label={words.found.size}
            unit="°"
            value={light.size}
            min={0.2}
            max={20}
            onChange={(size) => set({ size })}
          />
          <NumberField
            label={words.found.ambient}
            unit="%"
            value={Math.round(light.ambient * 100)}
            min={0}
            max={100}
            onChange={(share) => set({ ambient: share / 100 })}
          />
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
  common: Pick<Schemas['RaiseRequest'], 'project' | 'scene' | 'piece' | 'light' | 'coats'>;
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

/** A light in a room by day. */
const usual = { elevation: 50, size: 8, ambient: 0.4 };

/** Where the project's first light comes from. */
function firstBearing(): number {
  const { document, scene } = useDocument.getState();
  const light = document?.lights?.[0];
  return light ? bearingIn(light, sceneOf(document, scene)?.theme ?? '') : 20;
}

/** The heights of a list, the lowest first; nothing where one is none. */
function heightsIn(text: string): number[] | null {
  const parts = text.split(/[,;\s]+/).filter((part) => part !== '');
  const heights = parts.map(Number);
  const right = heights.every((height) => height >= 0.5 && height <= 200);
  return right && heights.length > 0 && heights.length <= 12 ? heights.sort((a, b) => a - b) : null;
}
