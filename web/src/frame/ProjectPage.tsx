import { Button } from '@mantine/core';
import { type ComponentType, Suspense, useEffect } from 'react';
import { ImportDialog } from '../handoff/ImportDialog';
import { words } from '../messages';
import { Lost, Waiting } from '../parts/Message';
import { isGone, openSession, saveLeft, useOpening, useSaving } from '../session/session';
import { useDocument } from '../session/store';
import { loadViews } from '../views';
import { AsNew } from './SaveNote';

/** Ms after which the other views are loaded: what is looked at comes first. */
const LATER = 3000;

/** A view of a project, once that is here. */
export function ProjectPage({ id, view: View }: { id: string; view: ComponentType }) {
  const opened = useDocument((state) => state.id === id && state.document !== null);
  const failure = useOpening((opening) => opening.failure);
  const [left] = useSaving((saving) => saving.left);
  useEffect(() => void openSession(id), [id]);
  useEffect(() => {
    const later = window.setTimeout(loadViews, LATER);
    return () => window.clearTimeout(later);
  }, []);
  if (opened) {
    return (
      <Suspense fallback={<Waiting what={words.frame.openingTheProject} />}>
        <View />
        <ImportDialog />
      </Suspense>
    );
  }
  if (!failure) return <Waiting what={words.frame.openingTheProject} />;
  const gone = isGone(failure);
  return (
    <Lost title={gone ? words.frame.thisProjectIsNotHere : words.frame.theProjectCouldNotBe}>
      {gone
        ? `${words.frame.mayBeInTheTrash} ${left ? words.frame.hasUnsavedWork : ''}`
        : words.frame.nothingIsLost(failure.message)}
      {gone && left && <AsNew save={() => saveLeft(left)} />}
      {!gone && (
        <Button size="compact-sm" variant="default" onClick={() => openSession(id)}>
          {words.common.tryAgain}
        </Button>
      )}
    </Lost>
  );
}
