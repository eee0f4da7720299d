import { Button, FileButton, Menu } from '@mantine/core';
import { useEffect, useEffectEvent, useRef, useState } from 'react';
import type { Schemas } from '../core/client';
import { defaults } from '../core/constants';
import { words } from '../messages';
import { isTyped } from '../parts/interaction';
import { addAsset, nameOfFile, upload } from '../session/assets';
import { onCopy, pasteText } from '../session/clipboard';
import { addPiece } from '../session/pieces';
import { useDocument } from '../session/store';
import { useView } from '../session/view';
import classes from './Pieces.module.css';

const { ink, paper } = defaults;

/** New pieces for the scene: shapes, text, an icon or a picture from a file. */
export function AddPiece() {
  // The same file can be chosen again.
  const reset = useRef<() => void>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const box = () => addPiece(words.bench.box, defaults.box, defaults.box, paper);
  const ellipse = () => addPiece(words.bench.ellipse, defaults.ellipse, defaults.ellipse, paper);
  const text = () => addPiece(words.common.text, defaults.text, { w: 210, h: 58 }, ink);
  const points = () => useView.setState({ tool: 'points' });
  const take = async (chosen: File | null) => {
    if (!chosen) return;
    reset.current?.();
    setFailure(null);
    // It comes onto the scene it was meant for, whichever is open by then.
    const { scene } = useDocument.getState();
    try {
      place(nameOfFile(chosen), await upload(chosen), scene);
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  // What was copied elsewhere is put on the scene by pasting it: a picture, an icon, or coats on the chosen pieces.
  const paste = useEffectEvent((event: ClipboardEvent) => {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    const files = [...(event.clipboardData?.files ?? [])];
    const picture = files.find((file) => file.type.startsWith('image/'));
    if (isElsewhere(event)) return;
    if (picture) void take(picture);
    else if (/^\s*(<\?xml[^>]*>\s*)?<svg[\s>]/.test(text)) {
      void take(new File([text], words.bench.iconSvg, { type: 'image/svg+xml' }));
    } else if (!pasteText(text)) return;
    event.preventDefault();
  });
  useEffect(() => {
    const copy = (event: ClipboardEvent) => {
      if (!isElsewhere(event) && onCopy(event)) event.preventDefault();
    };
    window.addEventListener('paste', paste);
    window.addEventListener('copy', copy);
    return () => {
      window.removeEventListener('paste', paste);
      window.removeEventListener('copy', copy);
    };
  }, []);
  return (
    <div className={classes.add}>
      <FileButton
        onChange={take}
        accept=".svg,.png,.jpg,.jpeg,.webp"
        resetRef={reset}
        inputProps={{ 'aria-label': words.bench.iconOrPictureFile }}
      >
        {(file) => (
          <Menu position="top-start">
            <Menu.Target>
              <Button size="compact-xs" variant="default" fullWidth>
                {words.bench.addPiece}
              </Button>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Item onClick={box}>{words.bench.box}</Menu.Item>
              <Menu.Item onClick={ellipse}>{words.bench.ellipse}</Menu.Item>
              <Menu.Item onClick={text}>{words.common.text}</Menu.Item>
              <Menu.Item onClick={points}>{words.bench.path}</Menu.Item>
              <Menu.Item onClick={file.onClick}>{words.bench.iconOrPicture}</Menu.Item>
            </Menu.Dropdown>
          </Menu>
        )}
      </FileButton>
      {failure && (
        <span role="alert" className={classes.failure}>
          {failure}
        </span>
      )}
    </div>
  );
}

/** Whether something is copied or pasted in a field or dialog of its own. */
function isElsewhere({ target }: ClipboardEvent): boolean {
  return target instanceof Element && (isTyped(target) || target.closest('[role=dialog]') !== null);
}

/** Puts what was uploaded on a scene, no larger than a comfortable size. */
function place(name: string, uploaded: Schemas['Uploaded'], scene: string | null) {
  const { asset, icon, width, height } = uploaded;
  const scale = Math.min(1, 240 / Math.max(width, height));
  if (asset) {
    const size = { w: Math.round(width * scale), h: Math.round(height * scale) };
    addAsset(asset);
    addPiece(name, { kind: 'picture', asset: asset.id, ...size }, size, { kind: 'none' }, scene);
  } else if (icon) {
    const grown = 120 / Math.max(width, height);
    const size = { w: Math.round(width * grown), h: Math.round(height * grown) };
    addPiece(name, { kind: 'path', d: icon.d, viewbox: icon.viewbox, ...size }, size, ink, scene);
  }
}
