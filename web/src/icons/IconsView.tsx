import { Button, FileButton, Group, Text } from '@mantine/core';
import { useWindowEvent } from '@mantine/hooks';
import { useMemo, useRef, useState } from 'react';
import { Bar } from '../frame/Bar';
import { words } from '../messages';
import { ChooseFolder, Nothing } from '../parts/Nothing';
import { few, Search } from '../parts/Search';
import view from '../parts/view.module.css';
import { chosenFiles, droppedFiles, type PlacedFile } from '../session/dropped';
import { addIcons, isSvg, removeIcons, useIconSet } from '../session/iconSet';
import { useDocument } from '../session/store';
import classes from './Icons.module.css';
import { IconsOut } from './IconsOut';
import { Sheet } from './Sheet';
import { type Choice, choiceIn, useRooms, useWorn, usual } from './wearing';

const said = words.icons;

/** Many SVG files that get one finish: a sheet of all of them, and a ZIP to take away. */
export function IconsView() {
  const document = useDocument((state) => state.document);
  const files = useIconSet((set) => set.files);
  const problem = useIconSet((set) => set.said);
  const [chosen, setChosen] = useState<Choice>(usual);
  const [wanted, setWanted] = useState('');
  const choice = useMemo(() => document && choiceIn(document, chosen), [document, chosen]);
  const worn = useWorn(document, choice);
  const rooms = useRooms(files, worn, choice);
  useWindowEvent('dragover', (event) => event.preventDefault());
  useWindowEvent('drop', (event) => {
    event.preventDefault();
    if (event.dataTransfer) void droppedFiles(event.dataTransfer, isSvg).then(addIcons);
  });
  if (!document || !choice) return null;
  return (
    <main className={view.page}>
      <Bar open="icons" />
      <div className={classes.columns}>
        <section aria-label={words.common.icons} className={classes.sheet}>
          <Group justify="space-between" gap={8} mb={10}>
            <h2 className={view.heading} style={{ margin: 0 }}>
              {files.length > 0 ? said.count(files.length) : words.common.icons}
            </h2>
            {files.length > 0 && (
              <Group gap={8}>
                {files.length > few && <Search label={said.search} value={wanted} onChange={setWanted} />}
                <Choose label={said.addMore} />
                <Button size="compact-sm" variant="default" onClick={removeIcons}>
                  {said.removeAll}
                </Button>
              </Group>
            )}
          </Group>
          {problem && (
            <Text role="alert" size="sm" mb={8}>
              {problem}
            </Text>
          )}
          {files.length === 0 ? (
            <Nothing said={[said.none, said.drop]}>
              <Choose label={said.choose} />
              <ChooseFolder onChoose={(files) => takeChosen(chosenFiles(files))} />
            </Nothing>
          ) : (
            <Sheet files={files} wanted={wanted} worn={worn} choice={choice} rooms={rooms} />
          )}
        </section>
        <div className={classes.side}>
          <IconsOut
            document={document}
            files={files}
            worn={worn}
            choice={choice}
            rooms={rooms}
            onChoose={(change) => setChosen((before) => ({ ...before, ...change }))}
          />
        </div>
      </div>
    </main>
  );
}

function Choose({ label }: { label: string }) {
  // The same files can be chosen again.
  const reset = useRef<() => void>(null);
  const take = (files: File[]) => {
    reset.current?.();
    takeChosen(chosenFiles(files));
  };
  return (
    <FileButton multiple accept=".svg,.svgz" onChange={take} resetRef={reset}>
      {(props) => (
        <Button size="compact-sm" variant="default" {...props}>
          {label}
        </Button>
      )}
    </FileButton>
  );
}

function takeChosen(files: PlacedFile[]) {
  if (files.length > 0) void addIcons(files);
}
