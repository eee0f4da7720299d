import type { Coat, Schemas } from '../../core/client';
import { type Handle, handleOf, type Trace } from './handle';

/** One shadow as it is taken hold of: a coat's own, or either end of a ramp. */
export interface End {
  name: string;
  offset: Schemas['Offset'];
  both: Schemas['ResolvedOffset'];
  handle: Handle;
  trace: Trace | undefined;
  lengths?: { blur: number; spread: number; inner: boolean };
  set: (to: { offset?: Schemas['Offset']; blur?: number; spread?: number }) => Partial<Coat>;
}

/** The shadows of a coat that can be taken hold of: two of a ramp, none of a coat without an offset. */
export function endsOf(coat: Coat, outline: Schemas['CoatOutline']): End[] {
  const { offset: both, far, traces } = outline;
  const handle = handleOf(outline, 'offset');
  if (!both || !handle) return [];
  switch (coat.kind) {
    case 'drop':
    case 'inner': {
      const lengths = { blur: coat.blur, spread: coat.spread, inner: coat.kind === 'inner' };
      const set: End['set'] = (to) => to;
      return [{ name: coat.name, offset: coat.offset, both, handle, trace: traces[0], lengths, set }];
    }
    case 'extrude': {
      const set: End['set'] = ({ offset }) => ({ offset: offset ?? coat.offset });
      return [{ name: coat.name, offset: coat.offset, both, handle, trace: traces[0], set }];
    }
    case 'ramp': {
      const inner = coat.shadow === 'inner';
      const end = (
        which: 'near' | 'far',
        at: Schemas['ResolvedOffset'],
        handle: Handle,
        trace?: Trace,
      ): End => ({
        name: `${coat.name}, ${which}`,
        offset: coat[which].offset,
        both: at,
        handle,
        trace,
        lengths: { blur: coat[which].blur, spread: coat[which].spread, inner },
        set: (to) => ({ [which]: { ...coat[which], ...to } }),
      });
      const farHandle = handleOf(outline, 'far_offset');
      if (!far || !farHandle) return [];
      return [end('near', both, handle, traces[0]), end('far', far, farHandle, traces.at(-1))];
    }
    default:
      return [];
  }
}
