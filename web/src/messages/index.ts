import { account } from './account';
import { app } from './app';
import { bench } from './bench';
import { check } from './check';
import { common } from './common';
import { core } from './core';
import { elements } from './elements';
import { finishes } from './finishes';
import { found } from './found';
import { frame } from './frame';
import { handOff } from './handOff';
import { icons } from './icons';
import { incoming } from './incoming';
import { live } from './live';
import { pages } from './pages';
import { parts } from './parts';
import { projects } from './projects';
import { session } from './session';
import { shared } from './shared';
import { stage } from './stage';
import { values } from './values';

/** In whose form dates and numbers are written. */
export const locale = 'en-GB';

const english = {
  core,
  common,
  account,
  session,
  frame,
  parts,
  bench,
  elements,
  values,
  stage,
  check,
  finishes,
  found,
  icons,
  live,
  pages,
  incoming,
  handOff,
  projects,
  shared,
  app,
};

/** Every label, hint and message of the interface. */
export type Messages = typeof english;

export const words: Messages = english;
