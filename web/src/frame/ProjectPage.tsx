import { Button } from '@mantine/core';
import { type ComponentType, useEffect } from 'react';
import { Lost, Waiting } from '../parts/Message';
import { isGone, openSession, saveLeft, useOpening, useSaving } from '../session/session';
import { useDocument } from '../session/store';
import { AsNew } from './SaveNote';

/** A view of a project, once that is here. */
export function ProjectPage({ id, view: View }: { id: string; view: ComponentType }) {
  const opened = useDocument((state) => state.id === id && state.document !== null);
  const failure = useOpening((opening) => opening.failure);
  const [left] = useSaving((saving) => saving.left);
  useEffect(() => void openSession(id), [id]);
  if (opened) return <View />;
  if (!failure) return <Waiting what="Opening the project" />;
  const gone = isGone(failure);
  return (
    <Lost title={gone ? 'This project is not here' : 'The project could not be read'}>
      {gone
        ? `It may have been deleted: deleted projects are in the trash for 30 days. ${left ? 'This browser keeps work on it that was not saved.' : ''}`
        : `${failure.message} Nothing is lost. `}
      {gone && left && <AsNew save={() => saveLeft(left)} />}
      {!gone && (
        <Button size="compact-sm" variant="default" onClick={() => openSession(id)}>
          Try again
        </Button>
      )}
    </Lost>
  );
}
