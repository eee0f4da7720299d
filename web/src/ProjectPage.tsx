import { Button } from '@mantine/core';
import { type ComponentType, useEffect } from 'react';
import { AGAIN, Unreachable } from './core/client';
import { AsNew } from './frame/SaveNote';
import { ImportDialog } from './handoff/ImportDialog';
import { words } from './messages';
import { Lost, Waiting } from './parts/Message';
import { isGone, openSession, saveLeft, useOpening, useSaving } from './session/session';
import { useDocument } from './session/store';
import { viewsAhead } from './views';

/** A view of a project, once that is here. */
export function ProjectPage({ id, view: View }: { id: string; view: ComponentType }) {
  const opened = useDocument((state) => state.id === id && state.document !== null);
  const failure = useOpening((opening) => opening.failure);
  const [left] = useSaving((saving) => saving.left);
  useEffect(() => void openSession(id), [id]);
  useEffect(() => {
    if (opened) viewsAhead();
  }, [opened]);
  // What could not be reached is tried again, so that nobody has to find out when the service is back.
  useEffect(() => {
    if (!(failure instanceof Unreachable)) return;
    const timer = window.setTimeout(() => void openSession(id), AGAIN);
    return () => window.clearTimeout(timer);
  }, [failure, id]);
  if (opened) {
    return (
      <>
        <View />
        <ImportDialog />
      </>
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
