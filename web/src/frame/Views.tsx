import { Link } from 'wouter';
import { words } from '../messages';
import { useDocument } from '../session/store';
import { useFindingCount } from '../session/useFindingCount';
import classes from './Views.module.css';

const paths = {
  workbench: '',
  page: '/page',
  finishes: '/finishes',
  icons: '/icons',
  check: '/check',
  handOff: '/hand-off',
} as const;

export type ViewName = keyof typeof paths;

/** The views of a project. */
export function Views({ open }: { open: ViewName }) {
  const id = useDocument((state) => state.id);
  return (
    <nav aria-label={words.frame.views} className={classes.views}>
      {(Object.keys(paths) as ViewName[]).map((view) => (
        <Link
          key={view}
          href={`/projects/${id}${paths[view]}`}
          className={classes.view}
          aria-current={open === view ? 'page' : undefined}
        >
          <span>{words.common[view]}</span>
          {view === 'check' && <Found asks={open !== 'check'} />}
        </Link>
      ))}
    </nav>
  );
}

/** How many findings are open. */
function Found({ asks }: { asks: boolean }) {
  const count = useFindingCount(asks);
  if (!count) return null;
  return (
    <>
      {' '}
      <span className={classes.count} title={words.check.count(count)}>
        {count}
      </span>
    </>
  );
}
