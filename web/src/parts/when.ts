import { locale } from '../messages';

/** A moment as it is said on the screen, to the minute. */
export function at(moment: string | number): string {
  return new Date(moment).toLocaleString(locale, { dateStyle: 'medium', timeStyle: 'short' });
}

/** The same to the second, where several lie within a minute. */
export function exactlyAt(moment: string | number): string {
  return new Date(moment).toLocaleString(locale, { dateStyle: 'medium', timeStyle: 'medium' });
}

/** A whole number with its thousands apart. */
export function thousands(count: number): string {
  return count.toLocaleString(locale);
}
