import { percents, ranges } from '../../core/constants';
import { words } from '../../messages';
import type { Numbers } from './fields';

export function sigma(value: number, set: (value: number) => void): Numbers {
  return { label: words.values.sigma, unit: 'px', value, range: ranges.Sigma, slider: [0, 40], set };
}

export function factor(
  label: string,
  value: number | null | undefined,
  set: (value: number) => void,
): Numbers {
  return {
    label,
    unit: '%',
    value: (value ?? 1) * 100,
    range: percents(ranges.Factor),
    slider: [0, 200],
    set: (percent) => set(percent / 100),
  };
}

export function blur(label: string, value: number, set: (value: number) => void): Numbers {
  return { label, unit: 'px', value, range: ranges.BlurRadius, slider: [0, 100], set };
}
