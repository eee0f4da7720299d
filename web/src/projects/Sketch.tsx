import type { ReactNode } from 'react';
import { words } from '../messages';
import classes from './Begin.module.css';

type Of = 'card' | 'button' | 'headline' | 'icon' | 'picture' | 'page' | 'css' | 'file' | 'demo';

/** A line drawing of what a project begins with. */
export function Sketch({ of }: { of: Of }) {
  return (
    <svg viewBox="0 0 96 60" className={classes.sketch} aria-hidden="true">
      {drawings[of]}
    </svg>
  );
}

const drawings: Record<Of, ReactNode> = {
  card: <rect x="24" y="14" width="48" height="32" rx="5" />,
  button: <rect x="20" y="22" width="56" height="17" rx="6" />,
  headline: (
    <text x="48" y="44" className={classes.letters}>
      {words.projects.letters}
    </text>
  ),
  icon: <path d="M48 14L58 26H54V34H42V26H38ZM30 44H66" />,
  picture: (
    <>
      <rect x="26" y="14" width="44" height="32" rx="2" />
      <path d="M26 40L40 28L50 37L58 31L70 41" />
      <circle cx="58" cy="22" r="3" />
    </>
  ),
  page: (
    <>
      <rect x="20" y="10" width="56" height="40" rx="3" />
      <path d="M20 18H76M27 25H50" />
      <rect x="27" y="31" width="12" height="12" rx="2" />
      <rect x="42" y="31" width="12" height="12" rx="2" />
      <rect x="57" y="31" width="12" height="12" rx="2" />
    </>
  ),
  css: (
    <path d="M38 16C32 16 34 24 33 27C32.500 29 31 30 29 30C31 30 32.500 31 33 33C34 36 32 44 38 44M58 16C64 16 62 24 63 27C63.500 29 65 30 67 30C65 30 63.500 31 63 33C62 36 64 44 58 44M44 26H52M44 34H52" />
  ),
  file: <path d="M34 12H54L62 20V48H34ZM54 12V20H62M40 28H56M40 34H56M40 40H50" />,
  demo: (
    <>
      <rect x="18" y="12" width="60" height="36" rx="3" />
      <rect x="24" y="18" width="22" height="14" rx="2" />
      <rect x="50" y="18" width="22" height="14" rx="2" />
      <rect x="24" y="37" width="16" height="6" rx="3" />
      <circle cx="66" cy="40" r="4" />
    </>
  ),
};
