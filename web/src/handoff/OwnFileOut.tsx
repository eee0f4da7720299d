import { Button, Group, NativeSelect, SegmentedControl, Text } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useAnswered } from '../core/answers';
import type { Project, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import { save, saveAddress } from '../page/download';
import { Code } from '../parts/Code';
import { CopyButton } from '../parts/CopyButton';
import { options } from '../parts/options';
import { withParts } from '../session/tree';
import classes from './HandOff.module.css';

const said = words.handOff;

type Form = keyof typeof said.ownForms;

/** A drawing's own file, with the depth that a scene gives it: as a file, as CSS for where it stands in a page, as a picture. */
export function OwnFileOut({ project }: { project: Project }) {
  const drawings = drawingsOf(project);
  const [chosen, setChosen] = useState(0);
  const [form, setForm] = useState<Form>('file');
  const [edge, setEdge] = useState<Schemas['Edge']>('grow');
  const [scale, setScale] = useState('2');
  const drawing = drawings[Math.min(chosen, drawings.length - 1)];
  const { scene, asset } = drawing ?? {};
  const density = form === 'png' ? Number(scale) : null;
  const asked = useMemo(
    () => (scene && asset ? { project, scene, asset, edge, scale: density } : null),
    [project, scene, asset, edge, density],
  );
  const file = useAnswered(
    asked,
    (body: NonNullable<typeof asked>, signal) => askCore('/api/artwork/depth', body, signal),
    { pause: 0, cancels: true },
  );
  if (!drawing) return null;
  const notes = (form === 'css' ? file.answer?.inline.notes : file.answer?.notes) ?? [];
  return (
    <>
      <Group gap={8} mt={8}>
        <NativeSelect
          size="xs"
          aria-label={said.ownFileOf}
          value={String(Math.min(chosen, drawings.length - 1))}
          data={drawings.map(({ label }, at) => ({ value: String(at), label }))}
          onChange={(event) => setChosen(Number(event.currentTarget.value))}
        />
        <SegmentedControl
          size="xs"
          aria-label={said.ownForm}
          value={form}
          data={options(said.ownForms)}
          onChange={(value) => setForm(value as Form)}
        />
        {form !== 'css' && (
          <>
            <Text size="xs">{said.edge}</Text>
            <SegmentedControl
              size="xs"
              aria-label={said.edge}
              value={edge}
              data={options(said.edges)}
              onChange={(value) => setEdge(value as Schemas['Edge'])}
            />
          </>
        )}
        {form === 'png' && (
          <SegmentedControl
            size="xs"
            aria-label={said.pngScale}
            value={scale}
            data={['1', '2', '3', '4'].map((value) => ({ value, label: `${value}×` }))}
            onChange={setScale}
          />
        )}
      </Group>
      {file.failure && (
        <Text size="sm" c="red" role="alert" mt={8}>
          {file.failure}
        </Text>
      )}
      {notes.length > 0 && (
        <Text size="sm" mt={8} component="div">
          {form === 'css' ? said.ownCssDiffers : said.svgDiffers}
          <ul className={classes.notes}>
            {notes.map(({ message }) => (
              <li key={message}>{message}</li>
            ))}
          </ul>
        </Text>
      )}
      {file.answer && (
        <Out form={form} name={drawing.name} scale={scale} answer={file.answer} fresh={file.fresh} />
      )}
    </>
  );
}

interface OutProps {
  form: Form;
  /** Of the drawing. */
  name: string;
  scale: string;
  answer: Schemas['DepthAnswer'];
  fresh: boolean;
}

function Out({ form, name, scale, answer, fresh }: OutProps) {
  const { svg, inline, png } = answer;
  const { css, filters } = inline;
  if (form === 'png') {
    return (
      <>
        <Group gap={8} mt={8}>
          <Button
            size="compact-sm"
            disabled={!fresh || !png}
            onClick={() => png && saveAddress(`${name}@${scale}x.png`, png)}
          >
            {said.saveThePng}
          </Button>
        </Group>
        {png && <img className={classes.png} src={png} alt={name} />}
      </>
    );
  }
  const text = form === 'css' ? css : svg;
  return (
    <>
      <Group gap={8} mt={8}>
        <CopyButton text={text} what={said.all} fresh={fresh} />
        {form === 'file' && (
          <Button
            size="compact-sm"
            variant="default"
            disabled={!fresh}
            onClick={() => save(`${name}.svg`, new Blob([svg], { type: 'image/svg+xml' }))}
          >
            {said.saveAsAFile}
          </Button>
        )}
        <Text size="xs" c="dimmed">
          {form === 'css' ? said.ownCss : said.ownFileStays}
        </Text>
      </Group>
      <Code
        className={filters === '' || form === 'file' ? classes.code : classes.short}
        text={text}
        language={form === 'css' ? 'css' : 'xml'}
      />
      {form === 'css' && filters !== '' && (
        <>
          <Group gap={8} mt={8}>
            <Text size="sm">{said.ownFilters}</Text>
            <CopyButton text={filters} what={said.svgFilters} fresh={fresh} />
          </Group>
          <Code className={classes.code} text={filters} language="xml" />
        </>
      )}
    </>
  );
}

interface Drawing {
  asset: string;
  scene: string;
  name: string;
  label: string;
}

/** The drawings on the scenes of a project, each as often as there are scenes with it. */
export function drawingsOf({ scenes, assets = [] }: Project): Drawing[] {
  return scenes.flatMap((scene) => {
    const pieces = withParts(scene.pieces);
    const shown = pieces.flatMap(({ shape, drawn_from: from }) =>
      shape.kind === 'drawing' ? [shape.asset] : from ? [from.asset] : [],
    );
    return [...new Set(shown)].flatMap((asset) => {
      const name = assets.find(({ id }) => id === asset)?.name;
      return name ? [{ asset, scene: scene.id, name, label: `${name} (${scene.name})` }] : [];
    });
  });
}
