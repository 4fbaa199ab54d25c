import {
  language,
  reach,
  scriptName,
  type Coverage,
  formatRuns,
  offeredAnswers,
  readFileMentions,
  verdictTable,
  type Embedding,
  type FaceFacts,
  type LicenseRecord,
  type Mention,
  type Verdict,
} from '@orderly-glyph/core';
import type { Companion, Face, Suggestion } from '@orderly-glyph/schema';
import type { CompanionRow, LicenseRow } from './rows.js';

/** What a text that came with a face says about counting for it. */
export interface Belongs {
  belongs: boolean | null;
  why: string | null;
}

/** Where a file came from that was added to a license by itself. */
export const EVIDENCE = 'Added as evidence';

export function describeCompanion(
  row: Pick<CompanionRow, 'id' | 'name' | 'kind' | 'bytes' | 'content' | 'unread' | 'findings'>,
  bundle: string,
  { belongs, why }: Belongs = { belongs: null, why: null },
): Companion {
  return {
    id: row.id,
    name: row.name,
    kind: row.kind,
    bytes: row.bytes,
    bundle,
    readable: row.content !== null,
    unread: row.unread,
    belongs,
    why,
    receipt: row.findings?.receipt ?? row.kind === 'receipt',
    hints: [...new Set((row.findings?.mentions ?? []).map((m) => m.name))],
  };
}

export function licenseRecord(row: LicenseRow & { joinedComputers?: number }): LicenseRecord {
  return {
    id: row.id,
    name: row.name,
    kind: row.kind,
    spdxId: row.spdxId,
    confirmed: Boolean(row.confirmed),
    uses: row.uses,
    startsOn: row.startsOn,
    endsOn: row.endsOn,
    noticeOn: row.noticeOn,
    limits: row.limits ?? {},
    // Seats that joined computers take count by themselves, beside those that a person counts.
    counters: row.joinedComputers
      ? { ...row.counters, 'design-work': (row.counters?.['design-work'] ?? 0) + row.joinedComputers }
      : (row.counters ?? {}),
    quotes: row.quotes ?? {},
    reservedNames: row.reservedNames ?? [],
    duties: row.duties ?? [],
  };
}

export function allVerdicts(licenses: readonly LicenseRow[], embedding: Embedding, today: string): Verdict[] {
  return [...verdictTable([{ licenses: licenses.map(licenseRecord), embedding }], today)[0]!];
}

type From = Pick<Suggestion, 'companionId' | 'companionName'>;

/** A license that is named, with what it offers to answer: nothing unless a sentence plainly puts the font under it. */
const hintOf = (m: Mention, from: From): Suggestion => ({
  spdxId: m.spdxId,
  name: m.name,
  score: 1,
  basis: 'mention',
  reservedNames: m.reservedNames,
  ...from,
  answers: offeredAnswers(m),
  sentence: m.sentence,
  doubt: m.doubt,
});

/** What a companion's own text offers: the licenses it holds, then those it names. */
export function suggestionsOf(c: Pick<CompanionRow, 'id' | 'name' | 'recognition' | 'findings'>): Suggestion[] {
  const from = { companionId: c.id, companionName: c.name };
  const known = c.recognition ? [c.recognition, ...(c.recognition.others ?? [])] : [];
  const doubt = c.findings?.doubt ?? null;
  const several = known.length > 1 ? 'The text holds several licenses, and not which of them counts for this font.' : null;
  return [
    ...known.map((r): Suggestion => ({
      spdxId: r.spdxId,
      name: r.name,
      score: r.score,
      basis: 'text',
      reservedNames: r.reservedNames,
      ...from,
      answers: offeredAnswers(r, { doubt: doubt ?? several, narrowed: c.findings?.narrowed ?? [] }),
      sentence: null,
      doubt: doubt ?? several ?? c.findings?.narrowing ?? null,
    })),
    ...(c.findings?.mentions ?? []).map((m) => hintOf(m, from)),
  ];
}

/** Opens with the texts that count for a face, which are stronger than what the font says of itself. */
export function suggestionsFor(companions: readonly CompanionRow[], facts: FaceFacts): Suggestion[] {
  const out: Suggestion[] = [];
  const add = (s: Suggestion): void => {
    const known = out.find((o) => o.name === s.name || (o.spdxId !== null && o.spdxId === s.spdxId));
    if (!known) out.push(s);
  };
  for (const basis of ['text', 'mention'] as const)
    for (const c of companions) for (const s of suggestionsOf(c)) if (s.basis === basis) add(s);
  for (const m of readFileMentions(facts)) add(hintOf(m, { companionId: null, companionName: null }));
  return out;
}

/** Names as the margin lists them, in words of the specification. */
export function nameList(facts: FaceFacts): Record<string, string> {
  const list: [string, string | null][] = [
    ['Full name', facts.fullName],
    ['PostScript name', facts.postScriptName],
    ['Designer', facts.designer],
    ['Manufacturer', facts.manufacturer],
    ['Copyright', facts.copyright],
    ['Trademark', facts.trademark],
    ['Description', facts.description],
    ['License', facts.license],
    ['License address', facts.licenseUrl],
    ['Vendor address', facts.vendorUrl],
    ['Designer address', facts.designerUrl],
  ];
  return Object.fromEntries(list.filter((entry): entry is [string, string] => entry[1] !== null).map(([k, v]) => [k, v.slice(0, 40_000)]));
}

/** What a face's record takes from its file as it stands. */
export function faceFields(
  facts: FaceFacts,
): Pick<
  Face,
  'names' | 'version' | 'vendor' | 'italicAngle' | 'monospaced' | 'outlines' | 'unitsPerEm' | 'ascender' | 'descender' | 'lineGap'
> &
  Pick<
    Face,
    'xHeight' | 'capHeight' | 'heightsMeasured' | 'glyphCount' | 'codePoints' | 'ranges' | 'embedding' | 'color' | 'axes' | 'instances'
  > &
  Pick<Face, 'features' | 'layoutScripts' | 'findings'> {
  return {
    names: nameList(facts),
    version: facts.version,
    vendor: facts.vendor,
    italicAngle: facts.italicAngle,
    monospaced: facts.monospaced,
    outlines: facts.outlines,
    unitsPerEm: facts.unitsPerEm,
    ascender: facts.ascender,
    descender: facts.descender,
    lineGap: facts.lineGap,
    xHeight: facts.xHeight,
    capHeight: facts.capHeight,
    heightsMeasured: facts.heightsMeasured,
    glyphCount: facts.glyphCount,
    codePoints: facts.codePoints,
    ranges: formatRuns(facts.runs),
    embedding: facts.embedding,
    color: facts.color,
    axes: facts.axes,
    instances: facts.instances,
    features: facts.features,
    layoutScripts: facts.layoutScripts,
    findings: facts.findings,
  };
}

export function describeCoverage(c: Coverage): NonNullable<Face['coverage']> {
  return {
    languages: c.languages
      .map((l) => ({
        tag: l.tag,
        name: language(l.tag)?.name ?? l.tag,
        level: l.level,
        missing: l.missing,
        browsersOnly: l.browsersOnly,
        complete: l.complete,
        missingMarks: [...new Set([...l.missingNumbers, ...l.missingPunctuation, ...l.missingCurrency])],
        missingRare: l.missingRare,
      }))
      .sort((a, b) => a.name.localeCompare(b.name, 'en')),
    scripts: c.scripts.map((s) => ({ script: s.script, name: scriptName(s.script), level: s.level })),
    broken: c.broken.map((b) => ({ name: scriptName(b.script), sample: b.sample })),
    reach: reach(c.languages.filter((l) => l.level === 'full').map((l) => l.tag)),
  };
}
