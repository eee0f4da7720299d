import { useSortable } from '@dnd-kit/sortable';
import { Button, Group, Switch } from '@mantine/core';
import { IconChevronDown, IconChevronRight, IconMenuOrder } from '@tabler/icons-react';
import type { KeyboardEvent } from 'react';
import type { Coat, Project, Schemas } from '../api/client';
import { editCoats, newId, openCoat, rest, useDocument } from '../document/store';
import classes from './CoatRow.module.css';
import { CoatValues } from './values/CoatValues';

interface Props {
  coat: Coat;
  document: Project;
  said: Schemas['CoatReport'] | undefined;
  picture: string | undefined;
  onOnly: (coat: string | null) => void;
}

/** One coat: alone as a picture, its name, its numbers, on or off. It opens in place. */
export function CoatRow({ coat, document, said, picture, onOnly }: Props) {
  const opened = useDocument((state) => state.coat === coat.id);
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({
    id: coat.id,
  });
  const change = (to: (coat: Coat) => void, gesture = false) =>
    editCoats((coats) => {
      const mine = coats.find((other) => other.id === coat.id);
      if (mine) to(mine);
    }, gesture);
  const duplicate = () =>
    editCoats((coats) => {
      const at = coats.findIndex((other) => other.id === coat.id);
      coats.splice(at, 0, { ...structuredClone(coat), id: newId(), name: `${coat.name} copy` });
    });
  const remove = () =>
    editCoats((coats) =>
      coats.splice(
        coats.findIndex((other) => other.id === coat.id),
        1,
      ),
    );
  const hold = {
    onPointerDown: () => onOnly(coat.id),
    onPointerUp: () => onOnly(null),
    onPointerLeave: () => onOnly(null),
    onKeyDown: (event: KeyboardEvent) => event.key === ' ' && onOnly(coat.id),
    onKeyUp: () => onOnly(null),
    onBlur: () => onOnly(null),
  };
  const style = { transform: transform ? `translateY(${transform.y}px)` : undefined, transition };
  return (
    <article
      ref={setNodeRef}
      style={style}
      className={classes.row}
      data-open={opened || undefined}
      aria-label={coat.name}
    >
      <div className={classes.head}>
        <button
          ref={setActivatorNodeRef}
          type="button"
          className={classes.grip}
          {...attributes}
          {...listeners}
          aria-label={`Move ${coat.name}`}
        >
          <IconMenuOrder size={14} />
        </button>
        <button
          type="button"
          className={classes.open}
          aria-expanded={opened}
          aria-label={`${opened ? 'Close' : 'Open'} ${coat.name}`}
          onClick={() => openCoat(opened ? null : coat.id)}
        >
          {picture ? (
            <img src={picture} alt="" className={classes.picture} />
          ) : (
            <span className={classes.picture} />
          )}
          {opened ? <IconChevronDown size={14} /> : <IconChevronRight size={14} />}
        </button>
        <div className={classes.words}>
          <input
            className={classes.name}
            aria-label={`Name of ${coat.name}`}
            value={coat.name}
            onChange={(event) => {
              const name = event.currentTarget.value;
              change((mine) => {
                mine.name = name;
              }, true);
            }}
            onBlur={rest}
            onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
          />
          <span className={classes.numbers}>{said?.summary}</span>
        </div>
        <Switch
          size="xs"
          aria-label={`${coat.name} on`}
          checked={coat.on}
          onChange={(event) => {
            const on = event.currentTarget.checked;
            change((mine) => {
              mine.on = on;
            });
          }}
        />
      </div>
      {opened && (
        <div className={classes.body}>
          <CoatValues coat={coat} document={document} said={said} />
          <Group gap={6} mt={8}>
            <Button size="compact-xs" variant="default" {...hold}>
              Hold for only this one
            </Button>
            <Button size="compact-xs" variant="default" onClick={duplicate}>
              Duplicate
            </Button>
            <Button size="compact-xs" variant="default" onClick={remove}>
              Remove
            </Button>
          </Group>
        </div>
      )}
    </article>
  );
}
