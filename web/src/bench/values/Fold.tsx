import { IconChevronDown } from '@tabler/icons-react';
import { type ReactNode, useId } from 'react';
import { Quiet } from '../../parts/Quiet';
import { useView } from '../../session/view';
import classes from './values.module.css';

interface Props {
  /** What can be set here. */
  label: string;
  /** What of it is set. */
  set: string[];
  /** Commands at the other end of the line. */
  beside: ReactNode;
  children: ReactNode;
}

/** Values that are needed rarely, folded under a line that names those that are set. */
export function Fold({ label, set, beside, children }: Props) {
  const opened = useView((state) => state.rare);
  const id = useId();
  return (
    <>
      <div className={classes.fold}>
        <Quiet
          px={0}
          fz={12}
          className={classes.folded}
          aria-expanded={opened}
          aria-controls={id}
          rightSection={<IconChevronDown aria-hidden size={12} />}
          onClick={() => useView.setState({ rare: !opened })}
        >
          {set.length > 0 ? set.join(', ') : label}
        </Quiet>
        {beside}
      </div>
      {opened && (
        <div id={id} className={classes.values}>
          {children}
        </div>
      )}
    </>
  );
}
