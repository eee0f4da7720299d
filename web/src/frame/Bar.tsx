import { memo, useEffect } from 'react';
import { Link } from 'wouter';
import { words } from '../messages';
import { useDocument } from '../session/store';
import classes from './Bar.module.css';
import { closeDialog, useFrame } from './frame';
import { History } from './History';
import { Interface } from './Interface';
import { KeySheet } from './KeySheet';
import { ProjectMenu } from './ProjectMenu';
import { Revisions } from './Revisions';
import { SaveNote } from './SaveNote';
import { useRemovals } from './useRemovals';
import { useTurnKeys } from './useTurnKeys';
import { type ViewName, Views } from './Views';

/** The bar of every view of a project, always with the same things in the same places. */
export const Bar = memo(function Bar({ open }: { open: ViewName }) {
  const name = useDocument((state) => state.document?.name);
  const dialog = useFrame((frame) => frame.dialog);
  useRemovals();
  useTurnKeys();
  useEffect(() => {
    document.title = name ? words.frame.zolvet(name, words.common[open]) : 'zolvet';
  }, [name, open]);
  return (
    <header className={classes.bar}>
      <div className={classes.start}>
        <Link href="/" className={classes.home} title={words.frame.allProjects}>
          {words.common.zolvet}
        </Link>
        <ProjectMenu />
      </div>
      <Views open={open} />
      <div className={classes.end}>
        <SaveNote />
        <History />
        <Interface />
      </div>
      <KeySheet opened={dialog === 'shortcuts'} onClose={closeDialog} />
      <Revisions opened={dialog === 'revisions'} onClose={closeDialog} />
    </header>
  );
});
