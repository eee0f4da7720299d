import { Parser } from 'expr-eval-fork';

/** Arithmetic and nothing else: no names, functions or comparisons. */
const parser = new Parser({
  operators: {
    add: true,
    subtract: true,
    multiply: true,
    divide: true,
    concatenate: false,
    conditional: false,
    factorial: false,
    power: false,
    remainder: false,
    logical: false,
    comparison: false,
    in: false,
    assignment: false,
  },
});

/** The value of a sum such as `12*1.5`; null when it is none. */
export function workOut(text: string): number | null {
  const sum = text.replace(',', '.');
  if (!/^[\d.+\-*/()\s]+$/.test(sum)) return null;
  try {
    const value: unknown = parser.evaluate(sum);
    return typeof value === 'number' && Number.isFinite(value) ? value : null;
  } catch {
    return null;
  }
}
