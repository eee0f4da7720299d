import classes from './Name.module.css';

/** A name that somebody gave, in whatever script; where there is no room for it, it ends in dots and is whole as a hint. */
export function Name({ of, className }: { of: string; className?: string }) {
  return (
    <span dir="auto" title={of} className={className ? `${classes.name} ${className}` : classes.name}>
      {of}
    </span>
  );
}
