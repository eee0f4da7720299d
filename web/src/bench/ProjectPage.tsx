import { Button } from '@mantine/core';
import { type ComponentType, useEffect } from 'react';
import { ApiFailure } from '../core/client';
import { Lost, Waiting } from '../parts/Message';
import { openSession, useOpening } from '../session/session';
import { useDocument } from '../session/store';

/** A view of a project, once that is here. */
export function ProjectPage({ id, view: View }: { id: string; view: ComponentType }) {
  const opened = useDocument((state) => state.id === id && state.document !== null);
  const failure = useOpening((opening) => opening.failure);
  useEffect(() => void openSession(id), [id]);
  if (opened) return <View />;
  if (!failure) return <Waiting what="Opening the project" />;
  const gone = failure instanceof ApiFailure && failure.status === 404;
  return (
    <Lost title={gone ? 'This project is not here' : 'The project could not be read'}>
      {gone
        ? 'It may have been deleted: deleted projects are in the trash for 30 days.'
        : `${failure.message} Nothing is lost. `}
      {!gone && (
        <Button size="compact-sm" variant="default" onClick={() => openSession(id)}>
          Try again
        </Button>
      )}
    </Lost>
  );
}
