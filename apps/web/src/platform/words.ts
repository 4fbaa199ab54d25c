import { sayDay } from '@orderly-glyph/schema';

/** Sizes as people read them; powers of 1024 under their own names. */
export function size(bytes: number): string {
  if (bytes < 1024) return `${bytes} bytes`;
  if (bytes < 1024 * 1024) return `${Math.ceil(bytes / 1024)} KiB`;
  if (bytes < 1024 ** 3) return `${(bytes / 1024 ** 2).toFixed(1)} MiB`;
  return `${(bytes / 1024 ** 3).toFixed(1)} GiB`;
}

export const count = (n: number, one: string, many = `${one}s`): string => `${n.toLocaleString('en-US')} ${n === 1 ? one : many}`;

export const money = (amount: number, currency: string): string => amount.toLocaleString('en-US', { style: 'currency', currency });

/** A day or a moment, in the form that `sayDay` gives; a moment as the day it is here. */
export function when(iso: string): string {
  if (iso.length === 10) return sayDay(iso);
  return new Date(iso).toLocaleDateString('en-US', { year: 'numeric', month: 'long', day: 'numeric' });
}

export function list(names: readonly string[], most = 4): string {
  if (names.length <= most) return names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`;
  return `${names.slice(0, most).join(', ')} and ${names.length - most} more`;
}

/** Names of usWeightClass. Source: OpenType specification, OS/2. */
const WEIGHTS: Record<number, string> = {
  100: 'Thin',
  200: 'Extra-light',
  300: 'Light',
  400: 'Regular',
  500: 'Medium',
  600: 'Semi-bold',
  700: 'Bold',
  800: 'Extra-bold',
  900: 'Black',
};
/** Names of usWidthClass. Source: OpenType specification, OS/2. */
const WIDTHS = [
  '',
  'ultra-condensed',
  'extra-condensed',
  'condensed',
  'semi-condensed',
  'normal width',
  'semi-expanded',
  'expanded',
  'extra-expanded',
  'ultra-expanded',
];

export const weightName = (w: number): string => (WEIGHTS[w] ? `${WEIGHTS[w]} (${w})` : `Weight ${w}`);
export const widthName = (w: number): string => WIDTHS[w] ?? `width ${w}`;
