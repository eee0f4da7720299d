import { Button, Group, SegmentedControl, Text } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { type PointerEvent, useEffect, useRef, useState } from 'react';
import type { Coat, Scene } from '../../core/client';
import { askCore } from '../../core/core';
import { words } from '../../messages';
import { CopyButton } from '../../parts/CopyButton';
import { chosenPieces } from '../../session/choice';
import { changeCoat } from '../../session/coats';
import { pieceOf, sceneOf, stackOf } from '../../session/lookup';
import { editPiece, editPieces } from '../../session/pieces';
import { commit, useDocument } from '../../session/store';
import { useView } from '../../session/view';
import { Aim, middleOf, type Spot } from './Aim';
import classes from './Handles.module.css';
import { LOUPE, type Read, readPixels, shownOn } from './pixels';
import { useToolEscape } from './useToolEscape';

interface Pointed {
  left: number;
  top: number;
  mine: Read | null;
  reference: Read | null;
}

/** Reads colours from the stage and from the reference at the same place, and how far apart they are. */
export function PickTool({ scene, scale }: { scene: Scene; scale: number }) {
  const [side, setSide] = useState('1');
  const [pointed, setPointed] = useState<Pointed | null>(null);
  const [picked, setPicked] = useState<{ mine: string | null; reference: string | null } | null>(null);
  const sheet = useRef<HTMLDivElement>(null);
  const leave = useToolEscape();
  const [aim, setAim] = useState(() => middleOf(scene));
  const read = ({ clientX, clientY }: { clientX: number; clientY: number }): Pointed | null => {
    const own = sheet.current?.parentElement;
    const box = own?.getBoundingClientRect();
    const canvas = own && shownOn(own);
    const beside = useView.getState().reference === 'beside';
    const picture = document.querySelector<HTMLImageElement>('img[data-reference]');
    if (!box || !canvas) return null;
    const other = picture?.closest('[data-beside]')?.getBoundingClientRect();
    const shift = beside && other ? other.left - box.left : 0;
    return {
      left: clientX - box.left,
      top: clientY - box.top,
      mine: readPixels(canvas, clientX, clientY, Number(side)),
      reference: picture ? readPixels(picture, clientX + shift, clientY, Number(side)) : null,
    };
  };
  const take = (now: Pointed | null) => {
    if (now) setPicked({ mine: now.mine?.colour ?? null, reference: now.reference?.colour ?? null });
  };
  const pick = (event: PointerEvent) => {
    event.stopPropagation();
    take(read(event));
  };
  const aimed = ({ x, y }: Spot) => {
    const box = sheet.current?.parentElement?.getBoundingClientRect();
    return box ? read({ clientX: box.left + x * scale, clientY: box.top + y * scale }) : null;
  };
  const move = (to: Spot) => {
    setAim(to);
    setPointed(aimed(to));
  };
  return (
    <>
      <div
        ref={sheet}
        className={classes.sheet}
        onPointerMove={(event) => setPointed(read(event))}
        onPointerLeave={() => setPointed(null)}
        onPointerDown={pick}
      />
      <Aim
        name={words.stage.aimColour}
        says={pointed?.mine?.colour}
        at={aim}
        scene={scene}
        scale={scale}
        onMove={move}
        onTake={() => take(aimed(aim))}
      />
      {pointed && (
        <div className={classes.loupe} style={{ left: pointed.left + 16, top: pointed.top + 16 }}>
          {pointed.mine && <Loupe read={pointed.mine} says={words.stage.sceneColour} />}
          {pointed.reference && <Loupe read={pointed.reference} says={words.stage.referenceColour} />}
        </div>
      )}
      <div className={classes.note} onPointerDown={(event) => event.stopPropagation()}>
        <Group gap={6} wrap="nowrap">
          <Text size="xs">{words.stage.averageOf}</Text>
          <SegmentedControl
            size="xs"
            aria-label={words.stage.averageSide}
            value={side}
            onChange={setSide}
            data={['1', '3', '5'].map((value) => ({ value, label: words.stage.pxWithValue(value) }))}
          />
          <Button size="compact-xs" variant="default" onClick={leave}>
            {words.stage.done}
          </Button>
        </Group>
        {picked ? <Picked {...picked} /> : <Text size="xs">{words.stage.clickToPickAColour}</Text>}
      </div>
    </>
  );
}

function Loupe({ read, says }: { read: Read; says: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => canvas.current?.getContext('2d')?.putImageData(read.around, 0, 0), [read]);
  return (
    <>
      <canvas ref={canvas} width={LOUPE} height={LOUPE} />
      {says} {read.colour}
    </>
  );
}

/** What was picked, to be used; and the difference of both. */
function Picked({ mine, reference }: { mine: string | null; reference: string | null }) {
  const both = mine && reference ? [mine, reference] : null;
  const difference = useQuery({
    queryKey: ['difference', both],
    queryFn: async () => await askCore('/api/colours', { colours: both ?? [] }),
    enabled: both !== null,
  }).data?.[1]?.difference;
  return (
    <>
      {mine && <Chip says={words.stage.sceneColour} colour={mine} />}
      {reference && <Chip says={words.stage.referenceColour} colour={reference} />}
      {difference !== undefined && (
        <Text size="xs" ff="monospace">
          {words.stage.colourDifference(difference.toFixed(3), difference < 0.02)}
        </Text>
      )}
    </>
  );
}

function Chip({ says, colour }: { says: string; colour: string }) {
  const targets = useTargets();
  return (
    <Group gap={6} mt={4}>
      <span style={{ width: 18, height: 18, background: colour, border: '1px solid var(--line)' }} />
      <Text size="xs" ff="monospace">
        {says} {colour}
      </Text>
      {targets.length === 0 && (
        <Button size="compact-xs" variant="default" disabled title={words.stage.chooseAPieceFirst}>
          {words.stage.use}
        </Button>
      )}
      {targets.map((target) => (
        <Button key={target.says} size="compact-xs" variant="default" onClick={() => target.use(colour)}>
          {words.stage.giveTo(target.says)}
        </Button>
      ))}
      <CopyButton text={colour} what={colour} />
    </Group>
  );
}

interface Target {
  says: string;
  use: (colour: string) => void;
}

/** What a picked colour can be given to: the open coat; else the fill of the chosen piece, or each stop of it. */
function useTargets(): Target[] {
  const { document, scene, piece, coat, state } = useDocument((now) => now);
  const chosen = pieceOf(sceneOf(document, scene), piece);
  if (!document || !chosen) return [];
  const opened = stackOf({ document, scene, state }, chosen)?.find((other) => other.id === coat);
  if (opened && 'colour' in opened) {
    const use = (colour: string) => changeCoat(opened, { colour } as Partial<Coat>, false);
    return [{ says: opened.name, use }];
  }
  const { fill } = chosen;
  if (fill?.kind === 'linear' || fill?.kind === 'radial') {
    return fill.stops.map((_, at) => ({
      says: words.stage.stop(at + 1),
      use: (colour) =>
        editPiece(chosen.id, (mine) => {
          const own = mine.fill;
          const stop = own?.kind === 'linear' || own?.kind === 'radial' ? own.stops[at] : undefined;
          if (stop) stop.colour = colour;
        }),
    }));
  }
  return [
    {
      says: words.stage.theFillOf(chosen.name),
      use: (colour) => {
        editPieces(chosenPieces(), (mine) => {
          mine.fill = { kind: 'solid', colour };
        });
        commit();
      },
    },
  ];
}
