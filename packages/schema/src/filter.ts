import { SURE, type Wanted } from './order.js';
import type { z } from 'zod';
import type { answer } from './words.js';

type Answer = z.infer<typeof answer>;

/** What the filter needs of a family; both the list in the browser and the one on the server have it. */
export interface Filtered {
  id: string;
  name: string;
  /** Names of families whose faces are folded behind it: searching them finds it. */
  also: readonly string[];
  note: string;
  labels: readonly string[];
  favorite: boolean;
  archived: boolean;
  kind: string | null;
  confidence: number;
  scripts: readonly string[];
  languages: readonly string[];
  features: readonly string[];
  axes: readonly string[];
  color: boolean;
  places: readonly string[];
  sources: readonly string[];
  verdicts: Readonly<Record<string, Answer>>;
  formats: readonly string[];
  addedAt: string;
}

/** Features people ask for under one word. Source: OpenType Layout tag registry. */
const FEATURE_GROUPS: Readonly<Record<string, readonly string[]>> = {
  smcp: ['smcp', 'c2sc'],
  salt: ['salt', 'ss01', 'ss02', 'ss03', 'ss04', 'ss05', 'cv01', 'cv02', 'cv03', 'aalt'],
  frac: ['frac', 'afrc'],
};

/**
 * Makes a test from what the sentence asks for. A kind of which the computation is not sure fits no kind, so that a
 * guess hides nothing: it is only shown when its kind is asked for or none is.
 * @param collected ids of the families of the collection asked for, when one is
 */
export function filterFor(
  wanted: Wanted,
  collected: ReadonlySet<string> | null,
  scriptNames: ReadonlyMap<string, string>,
): (f: Filtered) => boolean {
  const words = wanted.q.toLowerCase().split(/\s+/).filter(Boolean);
  const featureSets = wanted.features.map((f) => FEATURE_GROUPS[f] ?? [f]);
  return (f) => {
    if (wanted.shelf === 'archived' ? !f.archived : f.archived) return false;
    if (wanted.shelf === 'favorites' && !f.favorite) return false;
    if (wanted.kind !== '' && !(f.kind === wanted.kind && f.confidence >= SURE)) return false;
    if (wanted.use !== '' && f.verdicts[wanted.use] !== 'yes') return false;
    if (wanted.format !== '' && !f.formats.includes(wanted.format)) return false;
    if (wanted.script !== '' && !f.scripts.includes(wanted.script)) return false;
    if (wanted.axis !== '' && !f.axes.includes(wanted.axis)) return false;
    if (wanted.color !== '' && f.color !== (wanted.color === 'yes')) return false;
    if (wanted.place !== '' && !f.places.includes(wanted.place)) return false;
    if (wanted.label !== '' && !f.labels.includes(wanted.label)) return false;
    if (wanted.from !== '' && !f.sources.includes(wanted.from)) return false;
    if (wanted.since !== '' && f.addedAt.slice(0, 10) < wanted.since) return false;
    if (wanted.collection !== '' && !(collected?.has(f.id) ?? false)) return false;
    if (!wanted.writes.every((l) => f.languages.includes(l))) return false;
    if (!featureSets.every((set) => set.some((tag) => f.features.includes(tag)))) return false;
    if (words.length === 0) return true;
    const text =
      `${f.name} ${f.also.join(' ')} ${f.labels.join(' ')} ${f.note} ${f.places.join(' ')} ${f.scripts.map((s) => scriptNames.get(s) ?? s).join(' ')}`.toLowerCase();
    return words.every((w) => text.includes(w));
  };
}

const LISTS: readonly (keyof Wanted)[] = ['writes', 'features'];

/** The sentence as query parameters, leaving out what asks for nothing. */
export function wantedToQuery(wanted: Wanted): Record<string, string> {
  const out: Record<string, string> = {};
  for (const [key, value] of Object.entries(wanted)) {
    const text = Array.isArray(value) ? value.join(',') : value;
    if (text !== '') out[key] = text;
  }
  return out;
}

/** Query parameters as raw values for the `wanted` schema; parameters of other things are passed over. */
export function queryToWanted(query: Readonly<Record<string, unknown>>): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  for (const [key, value] of Object.entries(query)) {
    if (typeof value !== 'string' || value === '') continue;
    out[key] = LISTS.includes(key as keyof Wanted) ? value.split(',').filter(Boolean) : value;
  }
  return out;
}
