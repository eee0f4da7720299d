import { SegmentedControl, Text } from '@mantine/core';
import { useMemo, useState } from 'react';
import readout from '../bench/ReadOut.module.css';
import region from '../bench/region.module.css';
import { useAnswered } from '../core/answers';
import type { Project, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import { Code } from '../parts/Code';
import { CopyButton } from '../parts/CopyButton';
import { useLater } from '../parts/useLater';
import { asUsual } from '../session/sheetOptions';
import { useDocument } from '../session/store';

const said = words.pages;

/** What leaves: a sheet of the page's own selectors, with depth and nothing else. */
export function SheetOut() {
  const [style, setStyle] = useState<Schemas['Style']>('living');
  const project = useDocument((state) => state.document);
  const scene = useDocument((state) => state.scene);
  const asked = useMemo(() => (project && scene ? { project, scene, style } : null), [project, scene, style]);
  const { answer, fresh, failure } = useAnswered(asked, ask, { pause: 150 });
  const css = answer ?? '';
  const read = useLater(css || said.empty, style);
  return (
    <section aria-label={said.sheet} className={`${region.region} ${readout.readout}`}>
      <div className={readout.head}>
        <SegmentedControl
          size="xs"
          withItemsBorders={false}
          aria-label={said.form}
          value={style}
          onChange={(chosen) => setStyle(chosen as Schemas['Style'])}
          data={[
            { value: 'living', label: said.forms.living },
            { value: 'flat', label: said.forms.flat },
          ]}
        />
        <span className={readout.gap} />
        {css && <CopyButton main text={css} fresh={fresh} what={said.sheetLower} />}
      </div>
      {failure && (
        <Text size="sm" role="alert">
          {failure}
        </Text>
      )}
      <Code text={read} language={css ? 'css' : null} />
      <div className={readout.foot}>
        <Text size="xs">{said.drawn}</Text>
      </div>
    </section>
  );
}

async function ask({ project, scene, style }: { project: Project; scene: string; style: Schemas['Style'] }) {
  return (await askCore('/api/page/sheet', { project, scene, options: { ...asUsual, style } })).css;
}
