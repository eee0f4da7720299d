import { Link } from 'wouter';
import { words } from '../messages';
import { useDocument } from '../session/store';
import classes from './Views.module.css';

const views = [
  { path: '', name: words.common.workbench },
  { path: '/finishes', name: words.common.finishes },
  { path: '/check', name: words.common.check },
  { path: '/hand-off', name: words.common.handOff },
] as const;

export type ViewName = (typeof views)[number]['name'];

/** The views of a project. */
export function Views({ open }: { open: ViewName }) {
  const id = useDocument((state) => state.id);
  return (
    <nav aria-label={words.frame.views} className={classes.views}>
      {views.map(({ path, name }) => (
        <Link
          key={path}
          href={`/projects/${id}${path}`}
          className={classes.view}
          aria-current={open === name ? 'page' : undefined}
        >
          {name}
        </Link>
      ))}
    </nav>
  );
}
