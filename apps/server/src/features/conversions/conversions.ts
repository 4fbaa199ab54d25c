import { once } from 'node:events';
import type { Writable } from 'node:stream';
import {
  canMend,
  changesOf,
  cssPath,
  cssString,
  estimateBytes,
  fileBase,
  FORMAT_INFO,
  recipeFor,
  runsOfLanguages,
  runsOfRanges,
  runsOfText,
  sayRecipe,
  toRuns,
  unicodeRangeOf,
  verdict,
  type Comparison,
  type FilePart,
  type Options,
  type Recipe,
  type Verdict,
} from '@orderly-glyph/core';
import { wish as wishSchema, type ConversionPlan, type Converted, type GlyphDifference, type Wish } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import yazl from 'yazl';
import { getBlob } from '../../platform/blobs/blobs.js';
import type { Compute } from '../../platform/compute/pool.js';
import { conflict, invalid, notFound } from '../../platform/http/problem.js';
import { todayOf } from '../accounts/index.js';
import { findFaces, render, type LeadRow } from '../faces/index.js';
import { licensesOf } from '../library/index.js';
import { licenseRecord } from '../licenses/index.js';

/** A wish out of an address. @throws HttpProblem when it is none */
export function readWish(text: string): Wish {
  try {
    return wishSchema.parse(JSON.parse(text));
  } catch {
    throw invalid('What is wanted of the faces cannot be read from this address.', 'wish');
  }
}

/** Characters that a wish keeps; null keeps all. @throws HttpProblem for ranges that are none */
function runsOf(wish: Wish): number[] | null {
  const ranges = wish.ranges === '' ? [] : runsOfRanges(wish.ranges);
  if (!ranges) throw invalid('Ranges are written like U+0020-007E, U+20AC.', 'ranges');
  if (wish.languages.length === 0 && wish.text === '' && ranges.length === 0) return null;
  const points = new Set<number>();
  for (const runs of [wish.languages.length > 0 ? runsOfLanguages(wish.languages) : [], runsOfText(wish.text), ranges])
    for (let i = 0; i < runs.length; i += 2) for (let c = runs[i]!; c <= runs[i + 1]!; c++) points.add(c);
  return toRuns([...points].sort((a, b) => a - b));
}

/** The recipe of a wish for a face. @throws HttpProblem when the wish makes no sense */
function recipeOf({ facts, format }: LeadRow, wish: Wish, runs = runsOf(wish)): Recipe {
  if (wish.keep !== null && wish.drop !== null) throw invalid('Features can be kept by name or dropped by name, not both.', 'keep');
  return recipeFor({ outlineKind: facts.outlines, runs: facts.runs }, format, {
    to: wish.to,
    tolerance: wish.tolerance,
    ...(wish.axes === null || facts.axes.length === 0 ? {} : { axes: wish.axes }),
    ...(wish.plain && facts.color.length > 0 ? { plain: true } : {}),
    ...(wish.unite ? { unite: true } : {}),
    ...(wish.mend ? { mend: true } : {}),
    names: Object.fromEntries(Object.entries(wish.names).filter(([, value]) => value !== undefined)) as Options,
    ...(runs ? { runs } : {}),
    ...(wish.keep === null ? {} : { keep: wish.keep }),
    ...(wish.drop === null ? {} : { drop: wish.drop }),
    ...(wish.at === null || facts.axes.length === 0 ? {} : { at: wish.at }),
  });
}

const ORDER = { no: 0, ask: 1, yes: 2 };

interface Planned {
  lead: LeadRow;
  recipe: Recipe;
  verdict: Verdict;
  renameSettles: boolean;
  stop: string | null;
}

async function planAll(db: DataSource, workspaceId: string, faceIds: readonly string[], wish: Wish): Promise<Planned[]> {
  const leads = await findFaces(db, workspaceId, faceIds);
  const licenses = await licensesOf(db, workspaceId, faceIds);
  const today = await todayOf(db, workspaceId);
  return leads.map((lead) => {
    const recipe = recipeOf(lead, wish);
    const records = (licenses.get(lead.faceId) ?? []).map(licenseRecord);
    // Each kind of change is asked for; the strictest answer counts. A file that stays as it is is no change.
    const strictestFor = (newName: string | undefined): Verdict =>
      (recipe.length > 0 ? changesOf(recipe) : (['container'] as const))
        .map((change) =>
          verdict('changing', records, lead.facts.embedding, today, { change, ...(newName === undefined ? {} : { newName }) }),
        )
        .reduce((a, b) => (ORDER[b.answer] < ORDER[a.answer] ? b : a));
    const strictest = strictestFor(wish.names.family);
    // A name that no other name is part of shows what any other name would come to.
    const renameSettles = strictest.answer !== 'yes' && strictestFor('\u2400').answer === 'yes';
    const blocked = lead.facts.findings.find((f) => f.severity === 'blocks' && !(wish.mend && canMend(f)))?.message ?? null;
    // Only cubic outlines can become quadratic ones with all their axes.
    const still = recipe.some(
      (r) => r.step === 'overlaps' || (r.step === 'outlines' && !(r.options.to === 'glyf' && lead.facts.outlines === 'CFF2')),
    );
    const variable = lead.facts.axes.length > 0 && wish.at === null && still;
    return {
      lead,
      recipe,
      verdict: strictest,
      renameSettles,
      stop: blocked ?? (variable ? 'It is variable, and only an instance can have other outlines. Choose where its axes stand.' : null),
    };
  });
}

/** The style that a file is named by: that of the instance, where one is named. */
function styleOf({ style, facts }: LeadRow, { at }: Wish): string {
  if (!at || facts.axes.length === 0) return style;
  return at.includes('=') ? `${style} ${at}` : at;
}

const nameOf = (lead: LeadRow): string => `${lead.familyName} ${lead.style}`;

/** What a wish would do to some faces. @throws HttpProblem when it makes no sense */
export async function planConversion(
  db: DataSource,
  workspaceId: string,
  faceIds: readonly string[],
  wish: Wish,
): Promise<ConversionPlan[]> {
  return (await planAll(db, workspaceId, faceIds, wish)).map(({ lead, recipe, verdict: v, stop, renameSettles }) => ({
    faceId: lead.faceId,
    face: nameOf(lead),
    steps: sayRecipe(recipe),
    verdict: v,
    stop,
    mendable: lead.facts.findings.filter(canMend).map((f) => f.message),
    estimate: estimateBytes(
      { outlineKind: lead.facts.outlines, runs: lead.facts.runs, axisCount: lead.facts.axes.length },
      lead.format,
      lead.bytes,
      recipe,
    ),
    renameSettles,
  }));
}

/** @throws HttpProblem when the license does not allow it, or it cannot be done */
function cleared({ lead, verdict: v, stop }: Planned): void {
  if (stop) throw conflict(`${nameOf(lead)} stays as it is. ${stop}`);
  if (v.answer !== 'yes') throw conflict(`${nameOf(lead)} stays as it is. ${v.reasons[0] ?? ''} ${v.remedy ?? ''}`.trim());
}

interface MadeFile {
  about: Converted;
  bytes: Uint8Array;
}

/** Whether a wish asks for several files: by languages, and by nothing else that says what stays. */
const isSplit = (wish: Wish): boolean => wish.split && wish.languages.length > 0 && wish.text === '' && wish.ranges === '';

/** What of a face goes into which file. */
async function partsOf(db: DataSource, compute: Compute, workspaceId: string, { lead }: Planned, wish: Wish): Promise<FilePart[]> {
  if (!isSplit(wish)) return [];
  const parts = await compute.run('splitFace', [await getBlob(db.manager, workspaceId, lead.sha256), lead.faceIndex, wish.languages], true);
  return parts.length > 1 ? parts : [];
}

async function makeOne(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  { lead, recipe: whole }: Planned,
  wish: Wish,
  part: FilePart | null,
): Promise<MadeFile> {
  const recipe = part ? recipeOf(lead, wish, part.runs) : whole;
  const made =
    recipe.length > 0
      ? await render(db, compute, workspaceId, lead, recipe)
      : { sha256: lead.sha256, bytes: lead.bytes, format: lead.format, comparison: UNCHANGED };
  const { comparison } = made;
  return {
    about: {
      faceId: lead.faceId,
      part: part?.name ?? '',
      unicodeRange: part ? unicodeRangeOf(part.runs) : null,
      languages: part?.languages ?? [],
      fileName: `${fileBase(wish.names.family ?? lead.familyName, wish.names.style ?? styleOf(lead, wish))}${part ? `-${part.name}` : ''}.${FORMAT_INFO[made.format].extension}`,
      format: made.format,
      sha256: made.sha256,
      bytes: made.bytes,
      sourceBytes: lead.bytes,
      steps: sayRecipe(recipe),
      glyphsCompared: comparison.glyphsCompared,
      changes: comparison.changes ?? [],
      farthest: comparison.farthest ?? null,
      worstGlyph: comparison.worstGlyph ?? null,
      unitsPerEm: lead.facts.unitsPerEm,
    },
    bytes: await getBlob(db.manager, workspaceId, made.sha256),
  };
}
const UNCHANGED: Comparison = { equal: true, differences: [], glyphsCompared: 0 };

async function make(db: DataSource, compute: Compute, workspaceId: string, planned: Planned, wish: Wish): Promise<MadeFile[]> {
  cleared(planned);
  const parts = await partsOf(db, compute, workspaceId, planned, wish);
  const files: MadeFile[] = [];
  for (const part of parts.length > 0 ? parts : [null]) files.push(await makeOne(db, compute, workspaceId, planned, wish, part));
  return files;
}

/**
 * Converts one face; what is made is kept, so that it is made once.
 * @throws HttpProblem when the license does not allow it; ComputeError when it cannot be made or would not be the same face
 */
export async function convertFace(db: DataSource, compute: Compute, workspaceId: string, faceId: string, wish: Wish): Promise<MadeFile[]> {
  const [planned] = await planAll(db, workspaceId, [faceId], wish);
  return make(db, compute, workspaceId, planned!, wish);
}

/** One of the files of a face. @throws HttpProblem when there is no such part, and as `convertFace` does */
export async function convertedPart(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  faceId: string,
  wish: Wish,
  part: string,
): Promise<MadeFile> {
  const found = (await convertFace(db, compute, workspaceId, faceId, wish)).find((f) => f.about.part === part);
  if (!found) throw notFound('This part of the face');
  return found;
}

/** A glyph of a converted face beside the one it was made of. @throws HttpProblem, ComputeError as `convertFace` does */
export async function compareGlyph(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  faceId: string,
  wish: Wish,
  { part, glyph, character }: { part: string; glyph: number | null; character: string },
): Promise<GlyphDifference> {
  const { bytes } = await convertedPart(db, compute, workspaceId, faceId, wish, part);
  const [lead] = await findFaces(db, workspaceId, [faceId]);
  const before = await getBlob(db.manager, workspaceId, lead!.sha256);
  return compute.run('glyphPair', [before, lead!.faceIndex, bytes, { glyph, character }, wish.at], true);
}

const faceRule = (lead: LeadRow, file: string, range: string): string => {
  const weight = lead.facts.axes.find((a) => a.tag === 'wght');
  return `@font-face {
  font-family: ${cssString(lead.familyName)};
  font-style: ${lead.italic ? 'italic' : 'normal'};
  font-weight: ${weight ? `${weight.min} ${weight.max}` : lead.weightClass};
  font-display: swap;
  src: url("${cssPath(file)}");
  unicode-range: ${range};
}
`;
};

/** Writes several converted faces as a ZIP, with a report on each; those that cannot be made are told in it. */
export async function writeConversions(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  faceIds: readonly string[],
  wish: Wish,
  out: Writable,
): Promise<void> {
  const zip = new yazl.ZipFile();
  const options = { mtime: new Date() };
  const taken = new Set<string>();
  const report: object[] = [];
  const sheet: string[] = [];
  for (const planned of await planAll(db, workspaceId, faceIds, wish)) {
    const face = nameOf(planned.lead);
    try {
      for (const { about, bytes } of await make(db, compute, workspaceId, planned, wish)) {
        const dot = about.fileName.lastIndexOf('.');
        let name = about.fileName;
        for (let n = 2; taken.has(name); n++) name = `${about.fileName.slice(0, dot)}-${n}${about.fileName.slice(dot)}`;
        taken.add(name);
        zip.addBuffer(Buffer.from(bytes), name, { ...options, compress: !name.endsWith('.woff2') });
        report.push({ face, file: name, source: planned.lead.sha256, ...about, fileName: undefined });
        if (about.unicodeRange !== null) sheet.push(faceRule(planned.lead, name, about.unicodeRange));
      }
    } catch (error) {
      report.push({ face, file: null, why: (error as Error).message });
    }
  }
  // Several files of one face need a style sheet that says which of them has which characters.
  if (sheet.length > 0) zip.addBuffer(Buffer.from(sheet.join('\n')), 'fonts.css', options);
  zip.addBuffer(
    Buffer.from(`${JSON.stringify({ wish, made: new Date().toISOString(), faces: report }, null, 2)}\n`),
    'REPORT.json',
    options,
  );
  zip.end();
  zip.outputStream.pipe(out);
  await once(zip.outputStream, 'end');
}
