import { plainLine } from '../../text/index.js';
import { uPlus } from './codes.js';
import type { Icon, IconSet } from './set.js';

/** What became different from one release to the next. */
export interface ReleaseNote {
  added: string[];
  /** Drawn or placed in another way. */
  changed: string[];
  renamed: { from: string; to: string }[];
  removed: string[];
  /** What pages that use the release before lose, in sentences; none: they keep working. */
  breaks: string[];
}

const drawnAs = ({ svg, inking, cut, place, beneath }: Icon): string => JSON.stringify([svg, inking, cut, place, beneath]);

/** Compares a set with the one before it, drawing by drawing. */
export function compareReleases(before: IconSet | null, after: IconSet): ReleaseNote {
  const out: ReleaseNote = { added: [], changed: [], renamed: [], removed: [], breaks: [] };
  const old = new Map((before?.icons ?? []).map((i) => [i.id, i]));
  const now = new Map(after.icons.map((i) => [i.id, i]));
  for (const icon of after.icons) {
    const was = old.get(icon.id);
    if (!was) {
      out.added.push(icon.name);
      continue;
    }
    if (was.name !== icon.name) out.renamed.push({ from: was.name, to: icon.name });
    if (drawnAs(was) !== drawnAs(icon)) out.changed.push(icon.name);
  }
  if (!before) return out;
  const classes = new Set(after.icons.flatMap((i) => [i.name, ...i.aliases]));
  const words = new Set(after.icons.flatMap((i) => i.words));
  for (const icon of before.icons) {
    if (!now.has(icon.id)) out.removed.push(icon.name);
    for (const name of [icon.name, ...icon.aliases])
      if (!classes.has(name)) out.breaks.push(`“${before.facts.prefix}${name}” is gone; elements that have it show nothing.`);
    for (const word of icon.words) if (!words.has(word)) out.breaks.push(`The word “${word}” does not become a drawing any more.`);
    if (icon.codePoint !== null && !now.has(icon.id)) out.breaks.push(`${uPlus(icon.codePoint)} (${icon.name}) shows nothing any more.`);
  }
  const [a, b] = [before.facts, after.facts];
  if (a.family !== b.family)
    out.breaks.push(`The family is called “${b.family}” now, not “${a.family}”; rules that name the old one find nothing.`);
  if (a.prefix !== b.prefix) out.breaks.push(`Classes begin with “${b.prefix}” now, not “${a.prefix}”.`);
  if (a.base !== b.base) out.breaks.push(`The base class is “${b.base}” now, not “${a.base}”.`);
  if (a.selector !== b.selector) out.breaks.push(`Elements are found by their ${b.selector === 'class' ? 'class' : 'attribute'} now.`);
  return out;
}

/** A note as plain text. */
export function noteText(note: ReleaseNote, number: number): string {
  const part = (title: string, lines: readonly string[]): string =>
    lines.length > 0 ? `${title}\n${lines.map((l) => `  ${plainLine(l)}`).join('\n')}\n\n` : '';
  const works =
    number === 1
      ? ''
      : note.breaks.length === 0
        ? 'Pages that use the release before keep working.\n'
        : `Pages that use the release before lose something:\n${note.breaks.map((b) => `  ${plainLine(b)}`).join('\n')}\n`;
  return `RELEASE ${number}\n\n${part('Added', note.added)}${part('Drawn anew', note.changed)}${part(
    'Renamed',
    note.renamed.map((r) => `${r.from} is ${r.to}`),
  )}${part('Removed (their code points stay reserved)', note.removed)}${works}`;
}
