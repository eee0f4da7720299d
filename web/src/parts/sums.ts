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

/** A number as people write it: `1,000`, `1 000`, `1.000,5`, `0,5`. */
const written = /\d[\d.,]*|[.,]\d+/g;
const grouped = /^[1-9]\d{0,2}(,\d{3})+(\.\d*)?$/;
const groupedByPoints = /^[1-9]\d{0,2}(\.\d{3})+,\d*$/;

function plain(number: string): string {
  if (grouped.test(number)) return number.replaceAll(',', '');
  if (groupedByPoints.test(number)) return number.replaceAll('.', '').replace(',', '.');
  return number.replace(',', '.');
}

/** The value of a sum such as `12*1.5`, which may have its unit after it; null when it is none. */
export function workOut(typed: string, unit?: string): number | null {
  const plainText = typed.trim();
  const hasUnit = unit !== undefined && plainText.toLowerCase().endsWith(unit.toLowerCase());
  const text = hasUnit ? plainText.slice(0, -unit.length) : plainText;
  const sum = text.replace(/(\d)[\u0020\u00a0\u202f'’](?=\d{3}(\D|$))/g, '$1').replace(written, plain);
  // A plain number needs no parser.
  if (/^-?\d+(\.\d+)?$/.test(sum)) return Number(sum);
  if (!/^[\d.+\-*/()\s]+$/.test(sum)) return null;
  try {
    const value: unknown = parser.evaluate(sum);
    return typeof value === 'number' && Number.isFinite(value) ? value : null;
  } catch {
    return null;
  }
}
