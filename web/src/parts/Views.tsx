import { Link } from 'wouter';
import classes from './Views.module.css';

const views = [
  { path: '', name: 'Workbench' },
  { path: '/finishes', name: 'Finishes' },
  { path: '/check', name: 'Check' },
  { path: '/hand-off', name: 'Hand-off' },
];

/** The views of a project; on the workbench, the ways out of it. */
export function Views({ id, open }: { id: string; open: string }) {
  return (
    <nav aria-label="Views" className={classes.views}>
      {views
        .filter(({ name }) => open !== 'Workbench' || name !== 'Workbench')
        .map(({ path, name }) => (
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
