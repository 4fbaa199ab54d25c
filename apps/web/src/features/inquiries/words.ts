import type { Candidate, Sureness } from '@orderly-glyph/schema';

/** How sure it is, in words: above the list, of the first, and of those after it. */
export const SURE: Readonly<Record<Sureness, { head: string; first: string; other: string }>> = {
  surely: { head: 'It is surely this face.', first: 'surely', other: 'next' },
  probably: { head: 'It is probably this face.', first: 'probably', other: 'next' },
  nearest: {
    head: 'These are the nearest we have. Lay them over the picture before you say it is one of them.',
    first: 'nearest we have',
    other: 'near',
  },
  none: { head: 'None of ours. These come nearest, and are not it.', first: 'not it, but nearest', other: 'not it' },
};

/** How a face had to be changed to lie on the picture; empty when it did not. */
export function laid({ stretch, slant }: Pick<Candidate, 'stretch' | 'slant'>): string {
  const out: string[] = [];
  if (Math.abs(stretch - 1) > 0.035) out.push(`fits when ${stretch < 1 ? 'narrowed' : 'widened'} to ${Math.round(stretch * 100)}%`);
  if (Math.abs(slant) > 0.04)
    out.push(`fits when slanted by ${Math.round(Math.abs((Math.atan(slant) * 180) / Math.PI))}°${slant < 0 ? ' to the left' : ''}`);
  return out.join(', ');
}
