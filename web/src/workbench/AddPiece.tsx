import { Button, Menu } from '@mantine/core';
import { useRef, useState } from 'react';
import type { Problem, Schemas } from '../api/client';
import { addPiece } from '../document/pieces';
import { edit } from '../document/store';
import classes from './Pieces.module.css';

const paper: Schemas['Fill'] = { kind: 'solid', colour: '#fbf9f3' };
const ink: Schemas['Fill'] = { kind: 'solid', colour: '#24322d' };

/** New pieces for the scene: shapes, text, an icon or a picture from a file. */
export function AddPiece() {
  const file = useRef<HTMLInputElement>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const box = () => addPiece('Box', { kind: 'box', w: 200, h: 120, radii: 16 }, { w: 200, h: 120 }, paper);
  const ellipse = () => addPiece('Ellipse', { kind: 'ellipse', w: 140, h: 140 }, { w: 140, h: 140 }, paper);
  const text = () =>
    addPiece(
      'Text',
      { kind: 'text', string: 'Headline', font: 'Figtree', size: 48, weight: 700, line_height: 1.2 },
      { w: 210, h: 58 },
      ink,
    );
  const take = async (chosen: File | undefined) => {
    if (!chosen) return;
    setFailure(null);
    const name = chosen.name.replace(/\.[a-z]+$/i, '');
    const response = await fetch(`/api/assets?name=${encodeURIComponent(name)}`, {
      method: 'POST',
      headers: { 'Content-Type': chosen.type || 'application/octet-stream' },
      body: chosen,
    });
    const answer = (await response.json()) as Schemas['Uploaded'] | Problem;
    if (!response.ok) setFailure((answer as Problem).detail);
    else place(name, answer as Schemas['Uploaded']);
  };
  return (
    <div className={classes.add}>
      <Menu position="top-start">
        <Menu.Target>
          <Button size="compact-sm" variant="default">
            Add a piece
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={box}>Box</Menu.Item>
          <Menu.Item onClick={ellipse}>Ellipse</Menu.Item>
          <Menu.Item onClick={text}>Text</Menu.Item>
          <Menu.Item onClick={() => file.current?.click()}>Icon or picture from a file</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <input
        ref={file}
        type="file"
        hidden
        accept=".svg,.png,.jpg,.jpeg,.webp"
        aria-label="Icon or picture file"
        onChange={(event) => {
          void take(event.currentTarget.files?.[0]);
          event.currentTarget.value = '';
        }}
      />
      {failure && (
        <span role="alert" className={classes.failure}>
          {failure}
        </span>
      )}
    </div>
  );
}

/** Puts what was uploaded on the scene, no larger than a comfortable size. */
function place(name: string, uploaded: Schemas['Uploaded']) {
  const { asset, icon, width, height } = uploaded;
  const scale = Math.min(1, 240 / Math.max(width, height));
  if (asset) {
    const size = { w: Math.round(width * scale), h: Math.round(height * scale) };
    edit((draft) => {
      const assets = draft.assets ?? [];
      draft.assets = assets.some((other) => other.id === asset.id) ? assets : [...assets, asset];
    });
    addPiece(name, { kind: 'picture', asset: asset.id, ...size }, size, { kind: 'none' });
  } else if (icon) {
    const grown = 120 / Math.max(width, height);
    const size = { w: Math.round(width * grown), h: Math.round(height * grown) };
    addPiece(name, { kind: 'path', d: icon.d, viewbox: icon.viewbox, ...size }, size, ink);
  }
}
