import { Button, SegmentedControl, Text, TextInput } from '@mantine/core';
import { useEffect, useMemo, useState } from 'react';
import readout from '../bench/ReadOut.module.css';
import region from '../bench/region.module.css';
import { useAnswered } from '../core/answers';
import type { Project, Scene, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import { say } from '../page/toast';
import { Code } from '../parts/Code';
import { CopyButton } from '../parts/CopyButton';
import { isTyped } from '../parts/interaction';
import { LiveAddress } from '../parts/LiveAddress';
import { Quiet } from '../parts/Quiet';
import { useLater } from '../parts/useLater';
import { makeImportant } from '../session/fitting';
import type { SheetForm } from '../session/links';
import { asUsual } from '../session/sheetOptions';
import { useDocument } from '../session/store';
import { losesInLayer } from './frameDocument';
import classes from './Pages.module.css';
import { usePage } from './usePage';

const said = words.pages;

/** What leaves: a sheet of the page's own selectors, with depth and nothing else. */
export function SheetOut({ scene }: { scene: Scene }) {
  const [form, setForm] = useState<SheetForm>({ style: 'living', layer: '' });
  const [live, setLive] = useState(false);
  const project = useDocument((state) => state.document);
  const asked = useMemo(
    () => (project ? { project, scene: scene.id, ...form } : null),
    [project, scene.id, form],
  );
  const { answer, fresh, failure } = useAnswered(asked, ask, { pause: 150 });
  const css = answer ?? '';
  useCopied(css);
  const read = useLater(css || said.empty, form.style);
  return (
    <section aria-label={said.sheet} className={`${region.region} ${readout.readout}`}>
      <div className={readout.head}>
        <SegmentedControl
          size="xs"
          withItemsBorders={false}
          aria-label={said.form}
          value={form.style}
          onChange={(chosen) => setForm({ ...form, style: chosen as Schemas['Style'] })}
          data={[
            { value: 'living', label: said.forms.living },
            { value: 'flat', label: said.forms.flat },
          ]}
        />
        <Layer layer={form.layer} onChange={(layer) => setForm({ ...form, layer })} />
        <span className={readout.gap} />
        <Quiet fz={12} px={6} onClick={() => setLive(true)}>
          {words.live.open}
        </Quiet>
        {css && <CopyButton main text={css} fresh={fresh} what={said.sheetLower} />}
      </div>
      {failure && (
        <Text size="sm" role="alert">
          {failure}
        </Text>
      )}
      <Code text={read} language={css ? 'css' : null} />
      <div className={readout.foot}>
        <Foot scene={scene} layer={form.layer} />
      </div>
      {live && <LiveAddress scene={scene.id} form={form} onClose={() => setLive(false)} />}
    </section>
  );
}

/** Copying on the page, where no text is selected, copies the sheet. */
function useCopied(css: string) {
  const page = usePage((state) => state.page);
  useEffect(() => {
    const onCopy = (event: ClipboardEvent) => {
      if (!css || isTyped(event.target) || String(window.getSelection()) !== '') return;
      event.clipboardData?.setData('text/plain', css);
      event.preventDefault();
      say(words.parts.copied);
    };
    const places = [document, page].filter((place) => place !== null);
    for (const place of places) place.addEventListener('copy', onCopy);
    return () => {
      for (const place of places) place.removeEventListener('copy', onCopy);
    };
  }, [css, page]);
}

/** The cascade layer that the sheet is in. */
function Layer({ layer, onChange }: { layer: string; onChange: (layer: string) => void }) {
  const [typed, setTyped] = useState(layer);
  const known = typed === '' || LAYER.test(typed);
  return (
    <TextInput
      size="xs"
      className={classes.layer}
      aria-label={said.layer}
      placeholder={said.noLayer}
      value={typed}
      error={!known}
      onChange={({ currentTarget: { value } }) => {
        setTyped(value);
        if (value === '' || LAYER.test(value)) onChange(value);
      }}
    />
  );
}

/** The names that a layer can have. */
const LAYER = /^[a-z][a-z0-9-]*$/;

/** What is to be known of the sheet: who draws it, or that a layer loses. */
function Foot({ scene, layer }: { scene: Scene; layer: string }) {
  const page = usePage((state) => state.page);
  const losing = useMemo(
    () => (page && layer ? scene.pieces.filter(({ fitting }) => fitting && losesInLayer(page, fitting)) : []),
    [page, layer, scene.pieces],
  );
  if (losing.length === 0) return <Text size="xs">{said.drawn}</Text>;
  return (
    <Text size="xs" role="status">
      {said.losesInLayer(losing.map(({ name }) => name))}{' '}
      <Button size="compact-xs" variant="default" onClick={() => makeImportant(losing.map(({ id }) => id))}>
        {said.makeImportant}
      </Button>
    </Text>
  );
}

async function ask({ project, scene, style, layer }: { project: Project; scene: string } & SheetForm) {
  const options = { ...asUsual, style, layer: layer || null };
  return (await askCore('/api/page/sheet', { project, scene, options })).css;
}
