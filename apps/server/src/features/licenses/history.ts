import { KIND_WORDS, LIMITS, USE_WORDS, type LicenseKind, type Limit, type Use } from '@orderly-glyph/core';
import type { Answer, LicenseFields, routes } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { notFound } from '../../platform/http/problem.js';
import { LicenseVersion } from './rows.js';

type Fields = Partial<LicenseFields>;
const ANSWERS = { yes: 'Yes', ask: 'Ask first', no: 'No' } as const;
const PLAIN: readonly [keyof Fields, string][] = [
  ['name', 'Name'],
  ['grantor', 'Who grants it'],
  ['spdxId', 'SPDX identifier'],
  ['startsOn', 'From'],
  ['endsOn', 'Until'],
  ['noticeOn', 'Warning from'],
  ['price', 'Price'],
  ['currency', 'Currency'],
  ['boughtOn', 'Bought on'],
  ['orderNumber', 'Order number'],
  ['billedTo', 'Billed to'],
  ['source', 'Where it is from'],
  ['note', 'Note'],
];

/** What became different from one version to the next, in sentences. */
function differences(before: Fields | null, after: Fields): string[] {
  if (before === null) return ['Recorded.'];
  const out: string[] = [];
  const show = (v: unknown): string => (v === null || v === undefined || v === '' ? 'nothing' : `“${String(v)}”`);
  for (const [key, word] of PLAIN)
    if ((before[key] ?? '') !== (after[key] ?? '')) out.push(`${word}: ${show(before[key])} became ${show(after[key])}.`);
  if (before.kind !== after.kind)
    out.push(`Kind: ${KIND_WORDS[before.kind as LicenseKind]} became ${KIND_WORDS[after.kind as LicenseKind]}.`);
  if (before.confirmed !== after.confirmed) out.push(after.confirmed ? 'Confirmed.' : 'No longer confirmed.');
  const word = (a: string | undefined): string => (a ? ANSWERS[a as keyof typeof ANSWERS] : 'open');
  for (const [use, { label }] of Object.entries(USE_WORDS) as [Use, { label: string }][]) {
    if (before.uses?.[use] !== after.uses?.[use]) out.push(`${label}: ${word(before.uses?.[use])} became ${word(after.uses?.[use])}.`);
    if ((before.quotes?.[use] ?? '') !== (after.quotes?.[use] ?? '')) out.push(`${label}, sentence: ${show(after.quotes?.[use])}.`);
  }
  for (const [key, { use, unit }] of Object.entries(LIMITS) as [Limit, { use: Use; unit: string }][]) {
    const about = `${USE_WORDS[use].label}, ${unit}`;
    if (before.limits?.[key] !== after.limits?.[key])
      out.push(`${about}, limit: ${show(before.limits?.[key])} became ${show(after.limits?.[key])}.`);
    if (before.counters?.[key] !== after.counters?.[key])
      out.push(`${about}, used: ${show(before.counters?.[key])} became ${show(after.counters?.[key])}.`);
  }
  const duties = (list: readonly string[] | undefined): string => (list ?? []).join(' ');
  if (duties(before.duties) !== duties(after.duties))
    out.push(`In return: ${show(duties(before.duties))} became ${show(duties(after.duties))}.`);
  const counted = (list: readonly string[] | undefined): Set<string> => new Set(list ?? []);
  for (const [key, word_] of [
    ['faceIds', 'face'],
    ['companionIds', 'evidence file'],
  ] as const) {
    const [a, b] = [counted(before[key]), counted(after[key])];
    const added = [...b].filter((x) => !a.has(x)).length;
    const gone = [...a].filter((x) => !b.has(x)).length;
    if (added > 0) out.push(`${added} ${word_}${added === 1 ? '' : 's'} added.`);
    if (gone > 0) out.push(`${gone} ${word_}${gone === 1 ? '' : 's'} taken off.`);
  }
  return out.length > 0 ? out : ['Looked over; nothing changed.'];
}

/** Every version of a license, newest first; nothing can edit them. */
export async function licenseHistory(
  db: DataSource,
  workspaceId: string,
  licenseId: string,
): Promise<Answer<typeof routes.getLicenseHistory>> {
  const rows = await db.getRepository(LicenseVersion).find({ where: { workspaceId, licenseId }, order: { version: 'ASC' } });
  if (rows.length === 0) throw notFound('This license');
  return rows
    .map((row, i) => ({
      version: row.version,
      by: row.byName,
      at: row.at.toISOString(),
      changes: row.act
        ? [row.act === 'removed' ? 'Taken off record.' : 'Put back on record.']
        : differences(i === 0 ? null : (rows[i - 1]!.fields as Fields), row.fields as Fields),
    }))
    .reverse();
}
