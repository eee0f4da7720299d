import { useSortable } from '@dnd-kit/sortable';
import { Menu, Switch } from '@mantine/core';
import { useMergedRef } from '@mantine/hooks';
import { IconGripVertical } from '@tabler/icons-react';
import { memo, useCallback, useRef } from 'react';
import type { Coat, Schemas } from '../core/client';
import { words } from '../messages';
import { HoldButton } from '../parts/HoldButton';
import { Quiet } from '../parts/Quiet';
import { useName } from '../parts/useName';
import { useSeen } from '../parts/useSeen';
import { openCoat, tickCoat } from '../session/choice';
import { copyCoats } from '../session/clipboard';
import { changeCoat, duplicateCoat, moveCoat, removeCoats } from '../session/coats';
import { commit, useDocument } from '../session/store';
import classes from './CoatRow.module.css';
import { CoatValues } from './values/CoatValues';

interface Props {
  coat: Coat;
  said: Schemas['CoatReport'] | undefined;
  picture: string | undefined;
  onOnly: (coat: string | null) => void;
  onSeen: (coat: string, isSeen: boolean) => void;
}

/** One coat: alone as a picture, its name, its numbers, on or off. It opens in place. */
export const CoatRow = memo(function CoatRow({ coat, said, picture, onOnly, onSeen }: Props) {
  const opened = useDocument((state) => state.coat === coat.id);
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({ id: coat.id });
  const row = useRef<HTMLElement | null>(null);
  const ref = useMergedRef(setNodeRef, row);
  const tell = useCallback((isSeen: boolean) => onSeen(coat.id, isSeen), [onSeen, coat.id]);
  useSeen(row, tell);
  const ticked = useDocument((state) => state.ticked.includes(coat.id));
  const naming = useName(coat.name, (name) => changeCoat(coat, { name }), commit);
  const style = { transform: transform ? `translateY(${transform.y}px)` : undefined, transition };
  return (
    <article
      ref={ref}
      style={style}
      className={classes.row}
      data-open={opened || undefined}
      data-dragged={isDragging || undefined}
      aria-label={coat.name}
    >
      <div className={classes.head}>
        <span className={classes.holds}>
          <button
            ref={setActivatorNodeRef}
            type="button"
            className={classes.grip}
            {...attributes}
            {...listeners}
            aria-label={words.bench.move(coat.name)}
          >
            <IconGripVertical aria-hidden size={14} />
          </button>
          <input
            type="checkbox"
            className={classes.tick}
            aria-label={words.bench.select(coat.name)}
            checked={ticked}
            onChange={() => tickCoat(coat.id)}
          />
        </span>
        <button
          type="button"
          className={classes.open}
          aria-expanded={opened}
          aria-label={`${opened ? words.common.close : words.common.open} ${coat.name}`}
          onClick={() => openCoat(opened ? null : coat.id)}
        >
          {picture ? (
            <img src={picture} alt="" className={classes.picture} />
          ) : (
            <span className={classes.picture} />
          )}
        </button>
        <div className={classes.words}>
          <input
            className={classes.name}
            aria-label={words.bench.nameOf(coat.name)}
            title={coat.name}
            {...naming}
            onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
          />
          <span className={classes.numbers} title={said?.summary}>
            {said?.colour && <span className={classes.dot} data-colour style={{ background: said.colour }} />}
            {said?.summary}
          </span>
        </div>
        <Switch
          size="xs"
          aria-label={words.bench.on(coat.name)}
          checked={coat.on}
          onChange={(event) => changeCoat(coat, { on: event.currentTarget.checked }, false)}
        />
      </div>
      {opened && (
        <div className={classes.body}>
          <CoatValues
            coat={coat}
            said={said}
            actions={<Actions coat={coat.id} name={coat.name} onOnly={onOnly} />}
          />
        </div>
      )}
    </article>
  );
});

interface ActionProps {
  coat: string;
  name: string;
  onOnly: (coat: string | null) => void;
}

/** What can be done with an open coat as a whole. */
const Actions = memo(function Actions({ coat, name, onOnly }: ActionProps) {
  return (
    <>
      <HoldButton quiet onHold={(held) => onOnly(held ? coat : null)}>
        {words.bench.showAlone}
      </HoldButton>
      <Menu position="bottom-end">
        <Menu.Target>
          <Quiet opens px={4} fz={12}>
            {words.bench.moreActions}
          </Quiet>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => copyCoats()}>{words.common.copy}</Menu.Item>
          <Menu.Item onClick={() => moveCoat(coat, -1)}>{words.bench.moveUp}</Menu.Item>
          <Menu.Item onClick={() => moveCoat(coat, 1)}>{words.bench.moveDown}</Menu.Item>
          <Menu.Item onClick={() => duplicateCoat(coat, name)}>{words.common.duplicate}</Menu.Item>
          <Menu.Item onClick={() => removeCoats([coat])}>{words.common.remove}</Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </>
  );
});
