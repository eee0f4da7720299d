import { Link } from 'wouter';
import { useDocument } from '../session/store';
import classes from './Views.module.css';

const views = [
  { path: '', name: 'Workbench' },
  { path: '/finishes', name: 'Finishes' },
  { path: '/check', name: 'Check' },
  { path: '/hand-off', name: 'Hand-off' },
] as const;

export type ViewName = (typeof views)[number]['name'];

/** The views of a project. */
export function Views({ open }: { open: ViewName }) {
  const id = useDocument((state) => state.id);
  return (
    <nav aria-label="Views" className={classes.views}>
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
