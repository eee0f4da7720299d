import { Button, FileButton, Menu } from '@mantine/core';
import { memo, useRef, useState } from 'react';
import { defaults } from '../core/constants';
import { words } from '../messages';
import { addPiece } from '../session/pieces';
import { placeFile } from '../session/placeFile';
import { useView } from '../session/view';
import classes from './Pieces.module.css';

const { ink, paper } = defaults;

/** New pieces for the scene: shapes, text, an icon or a picture from a file. */
export const AddPiece = memo(function AddPiece() {
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
    try {
      await placeFile(chosen);
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
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
});
