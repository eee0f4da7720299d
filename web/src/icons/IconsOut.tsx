import {
  Anchor,
  Button,
  Group,
  NativeSelect,
  NumberInput,
  Progress,
  Radio,
  SegmentedControl,
  Text,
} from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link } from 'wouter';
import type { Project, Schemas } from '../core/client';
import { words } from '../messages';
import { save } from '../page/download';
import { say } from '../page/toast';
import { options } from '../parts/options';
import view from '../parts/view.module.css';
import { type IconFile, useIconSet } from '../session/iconSet';
import { useDocument } from '../session/store';
import { type Applied, applyToAll } from './applying';
import classes from './Icons.module.css';
import type { Choice, Room, Rooms, Worn } from './wearing';

const said = words.icons;

interface Props {
  document: Project;
  files: IconFile[];
  worn: Worn | null;
  choice: Choice;
  rooms: Rooms;
  onChoose: (change: Partial<Choice>) => void;
}

/** The finish and how it is laid on, and the files to take away. */
export function IconsOut({ document, files, worn, choice, rooms, onChoose }: Props) {
  const finishes = document.finishes ?? [];
  if (finishes.length === 0) {
    return (
      <section className={view.panel}>
        <Text size="sm">{said.noFinish}</Text>
        <Anchor component={Link} size="sm" href={`/projects/${useDocument.getState().id}`}>
          {said.toWorkbench}
        </Anchor>
      </section>
    );
  }
  return (
    <>
      <section aria-label={said.finish} className={view.panel}>
        <NativeSelect
          size="xs"
          label={said.finish}
          value={choice.finish ?? ''}
          data={finishes.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(event) => onChoose({ finish: event.currentTarget.value })}
        />
        {document.themes.length > 1 && (
          <NativeSelect
            size="xs"
            mt={8}
            label={words.common.theme}
            value={choice.theme ?? ''}
            data={document.themes.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(event) => onChoose({ theme: event.currentTarget.value })}
          />
        )}
        <LaidOnAt size={choice.size} onChange={(size) => onChoose({ size })} />
        <Radio.Group
          size="xs"
          mt={12}
          label={said.edge}
          value={choice.edge}
          onChange={(edge) => onChoose({ edge: edge as Schemas['Edge'] })}
        >
          {options(said.edges).map(({ value, label }) => (
            <Radio key={value} size="xs" mt={6} value={value} label={label} />
          ))}
        </Radio.Group>
        {rooms.sizes.length > 0 && (
          <Text size="xs" c="dimmed" mt={6}>
            {roomInWords(choice.edge, rooms.sizes)}
          </Text>
        )}
      </section>
      {files.length > 0 && worn && (
        <Save
          files={files}
          worn={worn}
          choice={choice}
          rooms={rooms}
          finish={finishes.find(({ id }) => id === worn.finish)?.name ?? ''}
        />
      )}
    </>
  );
}

function roomInWords(edge: Choice['edge'], [first = [0, 0, 0, 0], ...others]: Room[]): string {
  if (edge === 'cut') return said.cutOff;
  const rounded = (room: Room) => room.map((side) => Math.ceil(side * 10) / 10);
  if ([first, ...others].every((room) => rounded(room).every((side) => side === 0))) return said.noRoom;
  return others.length === 0 ? said.room(rounded(first)) : said.roomBySize(others.length + 1);
}

/** Where files are of other sizes than they are used at, the finish is laid on at that size. */
function LaidOnAt({ size, onChange }: { size: number | null; onChange: (size: number | null) => void }) {
  return (
    <>
      <NumberInput
        size="xs"
        mt={8}
        label={said.layOn}
        placeholder={said.ownSize}
        min={1}
        max={4096}
        suffix=" px"
        value={size ?? ''}
        onChange={(value) => onChange(Number(value) >= 1 ? Math.min(4096, Number(value)) : null)}
      />
      <Text size="xs" c="dimmed" mt={4}>
        {said.aboutSize}
      </Text>
    </>
  );
}

type Format = 'svg' | '1' | '2' | '3' | '4';

const formats = [
  { value: 'svg', label: 'SVG' },
  ...[1, 2, 3, 4].map((scale) => ({ value: String(scale), label: `PNG ${scale}×` })),
];

interface SaveProps extends Omit<Props, 'document' | 'onChoose' | 'worn'> {
  worn: Worn;
  /** The name of the finish. */
  finish: string;
}

function Save({ files, worn, choice, rooms, finish }: SaveProps) {
  const leftOut = useIconSet((set) => set.leftOut);
  const [format, setFormat] = useState<Format>('svg');
  const [done, setDone] = useState(0);
  const going = useRef<AbortController | null>(null);
  const refused = files.filter(({ id }) => rooms.of.get(id)?.kind === 'refused');
  const taken = files.filter((file) => !leftOut.has(file.id) && !refused.includes(file));
  const making = useMutation({
    mutationFn: async () => {
      const controller = new AbortController();
      going.current = controller;
      setDone(0);
      const { project, finish, theme, size } = worn;
      const how = { project, finish, theme, size, edge: choice.edge };
      const output: Schemas['IconOutput'] =
        format === 'svg' ? { kind: 'svg' } : { kind: 'png', scale: Number(format) };
      const roomOf = ({ id }: IconFile): Room => rooms.given.get(id) ?? [0, 0, 0, 0];
      return applyToAll(
        { files: taken, roomOf, how },
        { output, signal: controller.signal, onProgress: setDone },
      );
    },
    onSuccess: ({ archive, saved }) => {
      save(`${said.archive(finish)}.zip`, new Blob([archive], { type: 'application/zip' }));
      say(said.saved(saved));
    },
  });
  const isStopped = going.current?.signal.aborted ?? false;
  return (
    <section aria-label={said.format} className={view.panel}>
      <Text size="xs" fw={500} mb={4}>
        {said.format}
      </Text>
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label={said.format}
        value={format}
        data={formats}
        onChange={(value) => setFormat(value as Format)}
      />
      {leftOut.size > 0 && (
        <Text size="xs" c="dimmed" mt={8}>
          {said.leftOut(leftOut.size)}
        </Text>
      )}
      {making.isPending ? (
        <div className={classes.progress}>
          <Progress
            value={(done / Math.max(1, taken.length)) * 100}
            aria-label={said.progress(done, taken.length)}
          />
          <Group justify="space-between" mt={6}>
            <Text size="xs" role="status">
              {said.progress(done, taken.length)}
            </Text>
            <Button size="compact-xs" variant="default" onClick={() => going.current?.abort()}>
              {said.stop}
            </Button>
          </Group>
        </div>
      ) : (
        <Button
          mt={12}
          size="compact-md"
          disabled={taken.length === 0 || rooms.sizes.length === 0}
          onClick={() => making.mutate()}
        >
          {said.save(taken.length)}
        </Button>
      )}
      {making.error && !isStopped && (
        <Text role="alert" size="sm" c="red" mt={8}>
          {making.error.message}
        </Text>
      )}
      <Refused
        files={[
          ...refused.map(({ id, name }) => ({ name, error: reasonOf(rooms, id) })),
          ...(making.data?.refused ?? []),
        ]}
      />
      {making.data && <Approximated notes={making.data.notes} />}
    </section>
  );
}

function reasonOf({ of }: Rooms, id: string): string {
  const room = of.get(id);
  return room?.kind === 'refused' ? room.error : '';
}

function Refused({ files }: { files: Applied['refused'] }) {
  if (files.length === 0) return null;
  return (
    <Text size="sm" mt={12} component="div">
      {said.refusedFiles(files.length)}
      <ul className={classes.list}>
        {files.map(({ name, error }) => (
          <li key={name}>
            <b dir="auto">{name}</b> {error}
          </li>
        ))}
      </ul>
    </Text>
  );
}

function Approximated({ notes }: { notes: Applied['notes'] }) {
  if (notes.length === 0) return null;
  return (
    <Text size="sm" mt={12} component="div">
      {said.approximated}
      <table className={view.table}>
        <tbody>
          {notes.map(([message, count]) => (
            <tr key={message}>
              <td>{message}</td>
              <td className={view.figure}>{said.inFiles(count)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Text>
  );
}
