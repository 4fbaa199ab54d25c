import {
  language,
  reach,
  scriptName,
  type Coverage,
  formatRuns,
  recogniseMention,
  verdictTable,
  type Embedding,
  type FaceFacts,
  type LicenseRecord,
  type Verdict,
} from '@orderly-glyph/core';
import type { Companion, Face, Suggestion } from '@orderly-glyph/schema';
import type { CompanionRow, LicenseRow } from '../db/entities.js';

/** Today as an ISO day, where the server stands. */
export const today = (): string => new Date().toLocaleDateString('sv-SE');

export function describeCompanion(
  row: Pick<CompanionRow, 'id' | 'name' | 'kind' | 'bytes' | 'content' | 'unread'>,
  bundle: string,
): Companion {
  return { id: row.id, name: row.name, kind: row.kind, bytes: row.bytes, bundle, readable: row.content !== null, unread: row.unread };
}

export function licenseRecord(row: LicenseRow): LicenseRecord {
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
    counters: row.counters ?? {},
    quotes: row.quotes ?? {},
    reservedNames: row.reservedNames ?? [],
    duties: row.duties ?? [],
  };
}

export function allVerdicts(licenses: readonly LicenseRow[], embedding: Embedding): Verdict[] {
  return [...verdictTable([{ licenses: licenses.map(licenseRecord), embedding }], today())[0]!];
}

/** Opens with the companion texts, which are stronger than what the font says of itself. */
export function suggestionsFor(companions: readonly CompanionRow[], facts: FaceFacts): Suggestion[] {
  const out = new Map<string, Suggestion>();
  for (const c of companions) {
    for (const r of c.recognition ? [c.recognition, ...(c.recognition.others ?? [])] : [])
      if (!out.has(r.spdxId)) out.set(r.spdxId, { ...r, companionId: c.id, companionName: c.name });
  }
  const mention = recogniseMention([facts.license, facts.licenseUrl, facts.copyright]);
  if (mention && !out.has(mention.spdxId)) out.set(mention.spdxId, { ...mention, companionId: null, companionName: null });
  return [...out.values()];
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
        missingMarks: [...new Set([...l.missingNumbers, ...l.missingPunctuation, ...l.missingCurrency])],
        missingRare: l.missingRare,
      }))
      .sort((a, b) => a.name.localeCompare(b.name, 'en')),
    scripts: c.scripts.map((s) => ({ script: s.script, name: scriptName(s.script), level: s.level })),
    broken: c.broken.map((b) => ({ name: scriptName(b.script), sample: b.sample })),
    reach: reach(c.languages.filter((l) => l.level === 'full').map((l) => l.tag)),
  };
}
