import { SegmentedControl } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { memo, useDeferredValue, useRef, useState } from 'react';
import type { Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import { options } from '../parts/options';
import { fits } from '../parts/Search';
import { useSeen } from '../parts/useSeen';
import { type IconFile, leaveOut, useIconSet } from '../session/iconSet';
import classes from './Icons.module.css';
import type { Choice, Room, Rooms, Worn } from './wearing';

const said = words.icons;

interface Props {
  files: IconFile[];
  /** What is searched for among their names. */
  wanted: string;
  worn: Worn | null;
  choice: Choice;
  rooms: Rooms;
}

type Shown = keyof typeof said.sizes;

/** CSS px on the longer side of what is shown enlarged, and at most of what is shown at its own size. */
const SIDES: Record<Shown, number> = { own: 160, small: 64, large: 128 };

/** All files with the finish, on light and on dark ground. */
export function Sheet({ files, wanted, worn, choice, rooms }: Props) {
  const [shown, setShown] = useState<Shown>('small');
  const looked = useDeferredValue(wanted);
  const found = files.filter(({ name }) => fits(looked, name));
  return (
    <>
      <SegmentedControl
        size="xs"
        aria-label={said.shownAs}
        value={shown}
        data={options(said.sizes)}
        onChange={(value) => setShown(value as Shown)}
      />
      <ul className={classes.cells} data-shown={shown}>
        {found.map((file) => (
          <Cell
            key={file.id}
            file={file}
            shown={shown}
            worn={worn}
            edge={choice.edge}
            read={rooms.of.get(file.id)}
            room={rooms.given.get(file.id)}
          />
        ))}
      </ul>
      {found.length === 0 && <p>{words.common.nothingFound(wanted)}</p>}
    </>
  );
}

interface CellProps {
  file: IconFile;
  shown: Shown;
  worn: Worn | null;
  edge: Choice['edge'];
  /** What is known of it. */
  read: Schemas['FileRoom'] | undefined;
  room: Room | undefined;
}

const Cell = memo(function Cell({ file, shown, worn, edge, read, room }: CellProps) {
  const cell = useRef<HTMLLIElement>(null);
  const seen = useSeen(cell);
  const out = useIconSet((set) => set.leftOut.has(file.id));
  const picture = usePicture(seen ? file : null, { shown, worn, edge, read, room });
  const refused = read?.kind === 'refused' ? read.error : null;
  return (
    <li ref={cell} className={classes.cell} data-out={out || undefined}>
      <div className={classes.grounds} data-colour title={refused ?? file.name}>
        {refused !== null && <span className={classes.refused}>{said.refused}</span>}
        {refused === null &&
          (['onLight', 'onDark'] as const).map((ground) => (
            <span key={ground} className={classes[ground]}>
              {picture ? (
                <img
                  src={picture.png}
                  width={picture.width}
                  height={picture.height}
                  alt={said[ground](file.name)}
                />
              ) : (
                <span className={classes.waiting}>{said.drawing}</span>
              )}
            </span>
          ))}
      </div>
      <label className={classes.label} title={file.name}>
        <input
          type="checkbox"
          aria-label={said.take(file.name)}
          checked={!out && refused === null}
          disabled={refused !== null}
          onChange={(event) => leaveOut(file.id, !event.currentTarget.checked)}
        />
        <span dir="auto">{file.name}</span>
      </label>
    </li>
  );
});

/** A picture of a file, and the size in CSS px at which it is shown; nothing while it is out of view. */
function usePicture(file: IconFile | null, { shown, worn, edge, read, room }: Omit<CellProps, 'file'>) {
  const density = Math.min(4, Math.max(1, window.devicePixelRatio));
  const drawn = useQuery({
    queryKey: ['icon', worn?.key, file?.id, edge, room, shown, density],
    enabled: file !== null && worn !== null && room !== undefined && read?.kind === 'read',
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    retry: 1,
    queryFn: async ({ signal }) => {
      const { project, finish, theme, size } = worn as Worn;
      const { width, height } = read as Extract<Schemas['FileRoom'], { kind: 'read' }>;
      const isOwn = shown === 'own' && Math.max(width, height) <= SIDES.own;
      const output: Schemas['IconOutput'] = isOwn
        ? { kind: 'png', scale: density }
        : { kind: 'fitted', pixels: SIDES[shown] * density };
      const files = [(file as IconFile).data];
      const asked = {
        project,
        finish,
        theme,
        size,
        files,
        edge,
        room: room as Room,
        output,
      };
      const [answer] = await askCore('/api/icons/apply', asked, signal);
      if (answer?.kind !== 'png') return null;
      return { png: answer.png, width: answer.width / density, height: answer.height / density };
    },
  });
  return drawn.data ?? null;
}
