import type { LicenseFields } from '@orderly-glyph/schema';
import { LIMITS, USE_WORDS } from '@orderly-glyph/schema';

/** A field of which two people made something else. Values as a person reads them. */
export interface Clash {
  path: string;
  label: string;
  mine: string;
  theirs: string;
}

type Flat = Map<string, unknown>;
const MAPS = ['uses', 'quotes', 'limits', 'counters'] as const;
const LABELS: Partial<Record<keyof LicenseFields, string>> = {
  name: 'Name',
  kind: 'Kind',
  spdxId: 'SPDX identifier',
  grantor: 'Who grants it',
  startsOn: 'From',
  endsOn: 'Until',
  noticeOn: 'Warn us from',
  note: 'Note',
  price: 'Price',
  currency: 'Currency',
  boughtOn: 'Bought on',
  orderNumber: 'Order number',
  billedTo: 'Billed to',
  source: 'Where it is from',
  duties: 'In return',
  faceIds: 'Faces it covers',
  companionIds: 'Evidence',
  confirmed: 'Read and confirmed',
};

function flatten(fields: LicenseFields): Flat {
  const out: Flat = new Map();
  for (const [key, value] of Object.entries(fields)) {
    if (!(MAPS as readonly string[]).includes(key)) out.set(key, Array.isArray(value) ? [...(value as string[])].sort() : value);
    else for (const [sub, v] of Object.entries(value as object)) out.set(`${key}.${sub}`, v);
  }
  return out;
}
const same = (a: unknown, b: unknown): boolean => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

function labelOf(path: string): string {
  const [key, sub] = path.split('.') as [keyof LicenseFields, string | undefined];
  if (!sub) return LABELS[key] ?? key;
  const about = key === 'limits' || key === 'counters' ? LIMITS[sub as keyof typeof LIMITS] : null;
  if (about) return `${USE_WORDS[about.use].label}, ${key === 'limits' ? 'at most' : 'used'}, ${about.unit}`;
  return `${USE_WORDS[sub as keyof typeof USE_WORDS].label}${key === 'quotes' ? ', sentence' : ''}`;
}
const shown = (value: unknown): string =>
  value === null || value === undefined || value === ''
    ? 'nothing'
    : Array.isArray(value)
      ? `${value.length} ${value.length === 1 ? 'entry' : 'entries'}`
      : typeof value === 'boolean'
        ? value
          ? 'yes'
          : 'no'
        : String(value);

/** Puts a value at a path of the fields, or takes it away. */
export function put(fields: LicenseFields, path: string, from: LicenseFields): LicenseFields {
  const [key, sub] = path.split('.') as [keyof LicenseFields, string | undefined];
  if (!sub) return { ...fields, [key]: from[key] };
  const next = { ...(fields[key] as Record<string, unknown>) };
  const value = (from[key] as Record<string, unknown>)[sub];
  if (value === undefined) delete next[sub];
  else next[sub] = value;
  return { ...fields, [key]: next };
}

/**
 * Joins what two people made of one record: what only one of them changed is taken; of what both changed mine stands until I
 * choose, and is listed.
 */
export function merge(base: LicenseFields, mine: LicenseFields, theirs: LicenseFields): { merged: LicenseFields; clashes: Clash[] } {
  const [b, m, t] = [flatten(base), flatten(mine), flatten(theirs)];
  let merged = mine;
  const clashes: Clash[] = [];
  for (const path of new Set([...b.keys(), ...m.keys(), ...t.keys()])) {
    if (same(m.get(path), t.get(path)) || same(b.get(path), t.get(path))) continue;
    if (same(b.get(path), m.get(path))) merged = put(merged, path, theirs);
    else clashes.push({ path, label: labelOf(path), mine: shown(m.get(path)), theirs: shown(t.get(path)) });
  }
  return { merged, clashes };
}
