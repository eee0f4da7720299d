import { Modal, Text } from '@mantine/core';
import { useMemo } from 'react';
import { useAnswered } from '../core/answers';
import type { Project, Scene, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import { asUsual } from '../session/sheetOptions';
import { useDocument } from '../session/store';
import { ElementPicture } from './ElementPicture';
import { depthOf, selected } from './frameDocument';
import { usePage } from './usePage';
import classes from './WhatChanges.module.css';

const said = words.pages;

/** Every element that is given something, before and after, in pictures and as CSS. */
export function WhatChanges({ scene, onClose }: { scene: Scene; onClose: () => void }) {
  const project = useDocument((state) => state.document);
  const { theme } = scene;
  const asked = useMemo(
    () => (project ? { project, scene: scene.id, theme } : null),
    [project, scene.id, theme],
  );
  const { answer: css, failure } = useAnswered(asked, sheetOf, { pause: 0 });
  const changed = scene.pieces.filter((piece) => piece.fitting && !piece.hidden);
  return (
    <Modal opened onClose={onClose} title={said.whatChanges} size="min(1080px, 94vw)">
      {failure && (
        <Text size="sm" role="alert">
          {failure}
        </Text>
      )}
      {changed.length === 0 && <Text size="sm">{said.nothingOn}</Text>}
      {css !== null && css !== undefined && scene.page && (
        <ul className={classes.list}>
          {changed.map((piece) => (
            <Change
              key={piece.id}
              fitting={piece.fitting as Schemas['Fitting']}
              asset={scene.page?.asset ?? ''}
              css={css}
            />
          ))}
        </ul>
      )}
    </Modal>
  );
}

async function sheetOf({ project, scene, theme }: { project: Project; scene: string; theme: string }) {
  return (await askCore('/api/page/sheet', { project, scene, options: { ...asUsual, theme } })).css;
}

/** One selector, before and after. */
function Change({ fitting, asset, css }: { fitting: Schemas['Fitting']; asset: string; css: string }) {
  const page = usePage((state) => state.page);
  const { selector } = fitting;
  const elements = page ? selected(page, selector) : [];
  const [first] = elements;
  const sides = [
    { label: said.before, sheet: '' },
    { label: said.after, sheet: css },
  ];
  return (
    <li className={classes.change}>
      <div className={classes.head}>
        <code className={classes.selector}>{selector}</code>
        <span className={classes.count}>{said.selects(elements.length)}</span>
      </div>
      <div className={classes.sides}>
        {sides.map(({ label, sheet }) => (
          <figure key={label} className={classes.side}>
            <ElementPicture asset={asset} css={sheet} selector={selector} label={`${selector}, ${label}`} />
            <figcaption className={classes.caption}>
              <b>{label}</b>{' '}
              <code>{first ? depthOf(first, sheet) || said.hasNothing : said.selectsNothing}</code>
            </figcaption>
          </figure>
        ))}
      </div>
    </li>
  );
}
