import { type ComponentType, lazy } from 'react';

/** Views are loaded when they are first opened, or once the first one has been drawn. */
const loads = {
  Workbench: () => import('./bench/Workbench'),
  FinishesView: () => import('./finishes/FinishesView'),
  CheckView: () => import('./check/CheckView'),
  HandOffView: () => import('./handoff/HandOffView'),
} as const;

type ViewOf<N extends keyof typeof loads> = () => Promise<Record<N, ComponentType>>;

function view<N extends keyof typeof loads>(name: N) {
  return lazy(async () => ({ default: (await (loads[name] as unknown as ViewOf<N>)())[name] }));
}

export const Workbench = view('Workbench');
export const FinishesView = view('FinishesView');
export const CheckView = view('CheckView');
export const HandOffView = view('HandOffView');
/** What a link opens. */
export const SharedPage = lazy(async () => ({ default: (await import('./shared/SharedPage')).SharedPage }));

/** Loads what is not there yet, so that an open project goes on in every view where the service is away later. */
export function loadViews() {
  for (const load of Object.values(loads)) void load().catch(() => undefined);
}
