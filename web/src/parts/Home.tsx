import { Link } from 'wouter';
import { useDocument } from '../session/store';
import classes from './Home.module.css';

/** The way back to all projects, and what this one is called. */
export function Home() {
  const name = useDocument((state) => state.document?.name);
  return (
    <>
      <Link href="/" className={classes.home}>
        zolvet
      </Link>
      <h1 className={classes.project} title={name}>
        {name}
      </h1>
    </>
  );
}
