import { Button, Menu } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import type { Schemas } from '../api/client';
import { addAsset, nameOfFile, upload } from '../document/assets';
import { addPiece, paper } from '../document/pieces';
import classes from './Pieces.module.css';
import { useView } from './view';

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
  const points = () => useView.setState({ tool: 'points' });
  const take = async (chosen: File | undefined) => {
    if (!chosen) return;
    setFailure(null);
    try {
      place(nameOfFile(chosen), await upload(chosen));
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  // An icon copied elsewhere is put on the scene by pasting it.
  useEffect(() => {
    const onPaste = (event: ClipboardEvent) => {
      const text = event.clipboardData?.getData('text/plain') ?? '';
      const typing = (event.target as Element).closest?.('input, textarea, [role=dialog]');
      const files = [...(event.clipboardData?.files ?? [])];
      const picture = files.find((file) => file.type.startsWith('image/'));
      if (typing) return;
      if (picture) void take(picture);
      else if (/^\s*(<\?xml[^>]*>\s*)?<svg[\s>]/.test(text)) {
        void take(new File([text], 'Icon.svg', { type: 'image/svg+xml' }));
      }
    };
    window.addEventListener('paste', onPaste);
    return () => window.removeEventListener('paste', onPaste);
  });
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
          <Menu.Item onClick={points}>Path, point by point on the stage</Menu.Item>
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
    addAsset(asset);
    addPiece(name, { kind: 'picture', asset: asset.id, ...size }, size, { kind: 'none' });
  } else if (icon) {
    const grown = 120 / Math.max(width, height);
    const size = { w: Math.round(width * grown), h: Math.round(height * grown) };
    addPiece(name, { kind: 'path', d: icon.d, viewbox: icon.viewbox, ...size }, size, ink);
  }
}
