import type { Install } from '@orderly-glyph/schema';

/** How an install stands, in words; `fine` where nothing is to be done. */
export function standingOf(i: Install, ended: boolean): { word: string; tone: string; fine: boolean } {
  if (ended) return { word: 'The right has ended', tone: 'text-no', fine: false };
  if (i.seen === 'absent') return { word: 'Missing there', tone: 'text-no', fine: false };
  if (i.seen === 'other') return { word: 'Changed there', tone: 'text-no', fine: false };
  if (i.outdated) return { word: 'An older version', tone: 'text-ask', fine: false };
  if (i.byHand) return { word: 'There, as a person said', tone: 'text-soft', fine: true };
  if (i.seen === 'unknown' && i.waits) return { word: 'Waits for the computer', tone: 'text-ask', fine: true };
  if (i.seen === 'unknown') return { word: 'Could not be looked at', tone: 'text-ask', fine: false };
  return { word: 'There, and the same', tone: 'text-yes', fine: true };
}
