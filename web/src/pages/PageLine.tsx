import { Menu, NumberInput, SegmentedControl } from '@mantine/core';
import { useState } from 'react';
import region from '../bench/region.module.css';
import line from '../bench/SceneLine.module.css';
import { SharedColours } from '../bench/SharedColours';
import type { Scene } from '../core/client';
import { words } from '../messages';
import { HoldButton } from '../parts/HoldButton';
import { Name } from '../parts/Name';
import { Quiet } from '../parts/Quiet';
import { chooseScene } from '../session/choice';
import { removePage } from '../session/pageScenes';
import { editScene } from '../session/scenes';
import { calmIn, useDocument } from '../session/store';
import classes from './Pages.module.css';
import { PasteMarkup } from './PasteMarkup';
import { usePage, WIDTHS } from './usePage';
import { WhatChanges } from './WhatChanges';

const said = words.pages;

/** Which page, how wide, and under which colours. */
export function PageLine({ scene, onBefore }: { scene: Scene; onBefore: (held: boolean) => void }) {
  const width = usePage((state) => state.width);
  const scheme = usePage((state) => state.scheme);
  const themes = useDocument((state) => state.document?.themes) ?? [];
  const [changes, setChanges] = useState(false);
  const isOwn = !WIDTHS.includes(width);
  const choose = (chosen: 'light' | 'dark') => {
    usePage.setState({ scheme: chosen });
    // The theme of the project that is like it.
    const theme = themes.find((other) => other.scheme === chosen);
    if (theme && theme.id !== scene.theme) {
      editScene((mine) => {
        mine.theme = theme.id;
      });
    }
  };
  return (
    <section aria-label={words.common.scene} className={`${region.region} ${line.line}`}>
      <PageMenu scene={scene} />
      <SegmentedControl
        size="xs"
        aria-label={said.width}
        value={isOwn ? 'own' : String(width)}
        onChange={(chosen) => usePage.setState({ width: chosen === 'own' ? 1024 : Number(chosen) })}
        data={[
          ...WIDTHS.map((px) => ({ value: String(px), label: String(px) })),
          { value: 'own', label: said.own },
        ]}
      />
      {isOwn && (
        <NumberInput
          size="xs"
          w={72}
          hideControls
          aria-label={said.ownWidth}
          min={240}
          max={2560}
          value={width}
          onChange={(px) => typeof px === 'number' && px >= 240 && usePage.setState({ width: px })}
        />
      )}
      <SegmentedControl
        size="xs"
        aria-label={said.scheme}
        value={scheme}
        onChange={(chosen) => choose(chosen as 'light' | 'dark')}
        data={[
          { value: 'light', label: said.light },
          { value: 'dark', label: said.dark },
        ]}
      />
      <SharedColours />
      <span className={line.end}>
        <Quiet fz={13} px={6} onClick={() => setChanges(true)}>
          {said.whatChanges}
        </Quiet>
        <HoldButton size="compact-xs" title={words.bench.holdForOriginal} onHold={onBefore}>
          {words.bench.original}
        </HoldButton>
        <Zoom />
      </span>
      {changes && <WhatChanges scene={scene} onClose={() => setChanges(false)} />}
    </section>
  );
}

function PageMenu({ scene }: { scene: Scene }) {
  const [pasting, setPasting] = useState(false);
  const pages = useDocument((state) => calmIn(state)?.scenes) ?? [];
  return (
    <>
      <Menu position="bottom-start">
        <Menu.Target>
          <Quiet opens className={line.scene} title={scene.name}>
            <Name of={scene.name} className={line.sceneName} />
          </Quiet>
        </Menu.Target>
        <Menu.Dropdown>
          {pages
            .filter((other) => other.page)
            .map((other) => (
              <Menu.Item
                key={other.id}
                fw={other.id === scene.id ? 600 : undefined}
                onClick={() => chooseScene(other.id)}
              >
                <Name of={other.name} />
              </Menu.Item>
            ))}
          <Menu.Divider />
          <Menu.Item onClick={() => setPasting(true)}>{said.pasteMore}</Menu.Item>
          <Menu.Item onClick={() => removePage(scene.id)}>{said.remove}</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      {pasting && <PasteMarkup onClose={() => setPasting(false)} />}
    </>
  );
}

function Zoom() {
  const zoom = usePage((state) => state.zoom);
  return <span className={classes.zoom}>{`${Math.round(zoom * 100)} %`}</span>;
}
