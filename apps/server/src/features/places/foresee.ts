import {
  batchOf,
  changesOf,
  chosenRemedies,
  contextFor,
  estimateBytes,
  fitOf,
  hardStop,
  isClear,
  isOverridable,
  isSure,
  mendAll,
  missingFrom,
  preflight,
  runsOfLanguages,
  runsOfText,
  sayRecipe,
  toRuns,
  verdict,
  writesOf,
  type Change,
  type CheckContext,
  type FaceThere,
  type PlaceFinding,
  type PlaceState,
  type Profile,
  type Recipe,
  type Use,
  type Verdict,
} from '@orderly-glyph/core';
import type { PreflightFace } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { ComputeError, type Compute } from '../../platform/compute/pool.js';
import { todayOf, Workspace } from '../accounts/index.js';
import { findFaces, type LeadRow } from '../faces/index.js';
import { licensesOf, ReadyTextEntity } from '../library/index.js';
import { licenseRecord } from '../licenses/index.js';
import { connectorOf, PlaceError, type Allowed } from './connectors/index.js';
import { chooseSending, filesOfAll, known, profileOf, statementFor, strictest, type FileOfFace, type Sending } from './places.js';
import { installsAt } from './ledger.js';
import type { PlaceRow } from './rows.js';

/** Looks for cleared look-alikes of a face that write its texts; given by whoever keeps the library at hand. */
export type FindAlike = (workspaceId: string, faceId: string, use: Use) => Promise<{ faceId: string }[]>;

export interface Foresight {
  db: DataSource;
  compute: Compute;
  allowed: Allowed;
  findAlike?: FindAlike;
}

/** What a person chose for a face at a place. */
export interface Choice {
  remedies: (faceId: string, placeId: string) => readonly string[];
  role: (placeId: string) => string | null;
  /** Whether what mends all that stops a face is chosen by itself. */
  mendAll: boolean;
  /** Whether files are made already, so that their size and their proof are known. */
  prepare: boolean;
}

/** A face as checked, with what nobody may override, and what carrying it out takes. */
export type CheckedFace = PreflightFace & { stop: string | null; recipe: Recipe; removes: string[] };

/** Scripts whose letters join. Source: The Unicode Standard, chapters 9 and 13 (cursive joining); headlines: common practice. */
const JOINED: Readonly<Record<string, string>> = {
  Arab: 'Arabic',
  Syrc: 'Syriac',
  Nkoo: 'N’Ko',
  Mong: 'Mongolian',
  Adlm: 'Adlam',
  Mand: 'Mandaic',
  Rohg: 'Hanifi Rohingya',
  Deva: 'Devanagari, whose letters hang from one line',
  Beng: 'Bangla, whose letters hang from one line',
  Guru: 'Gurmukhi, whose letters hang from one line',
};

/** Milliseconds for the lists of all places together, before the ledger alone has to do. */
const LIST_MS = 8000;
/** So many faces are looked for among the look-alikes; each takes a while. */
const MOST_ALIKE = 20;

function joinedOf(lead: LeadRow): string | null {
  const kind = lead.ownKind ?? (lead.shape && isSure(lead.shape.confidence) ? lead.shape.value : null);
  if (kind === 'handwriting') return 'handwriting';
  const scripts = (lead.coverage?.scripts ?? []).filter((s) => s.level === 'full').map((s) => s.script);
  // A face of many scripts that also has Latin is judged by what joins as well: its words may be set there.
  const joined = scripts.find((s) => s in JOINED);
  return joined ? JOINED[joined]! : null;
}

/** How a place is: what it tells, joined with what we know to have put there. */
export async function stateOf(db: DataSource, allowed: Allowed, place: PlaceRow): Promise<{ state: PlaceState; unseen: string | null }> {
  const installs = (await db.query(
    `SELECT i.id, i.remote_name AS remoteName, i.sha256, i.role, i.installed_at AS installedAt, family.name AS family, face.style FROM install i JOIN face ON face.id = i.face_id JOIN family ON family.id = face.family_id
     WHERE i.place_id = ? AND i.removed_at IS NULL`,
    [place.id],
  )) as { id: string; remoteName: string; sha256: string; role: string | null; installedAt: Date; family: string; style: string }[];
  const byName = new Map(installs.map((i) => [i.remoteName, i]));
  // What has a role is in use today; the rest since the day it was put there.
  const used = (i: (typeof installs)[number]): string => (i.role ? new Date() : i.installedAt).toISOString().slice(0, 10);
  const ours = (i: (typeof installs)[number], family = i.family, style = i.style): FaceThere => ({
    name: i.remoteName,
    family,
    style,
    sha256: i.sha256,
    installId: i.id,
    lastUsed: used(i),
  });
  let unseen: string | null = null;
  try {
    if (!place.byHand && profileOf(place).connector !== 'joined') {
      const there = await inTime(connectorOf(profileOf(place)).list(place, allowed), place.name);
      const faces = there.files.map((f): FaceThere => {
        const known = byName.get(f.name);
        return known
          ? ours(known, f.family ?? known.family, f.style ?? known.style)
          : { name: f.name, family: f.family ?? f.name, style: f.style ?? '', sha256: f.sha256, installId: null, lastUsed: null };
      });
      return { state: { faces, types: there.types }, unseen };
    }
  } catch (error) {
    if (!(error instanceof PlaceError)) throw error;
    unseen = error.message;
  }
  return { state: { faces: installs.map((i) => ours(i)), types: null }, unseen };
}

const inTime = <T>(answer: Promise<T>, name: string): Promise<T> =>
  new Promise((resolve, reject) => {
    const timer = setTimeout(() => reject(new PlaceError('unreachable', `${name} did not answer in time.`)), LIST_MS);
    answer.then(resolve, reject).finally(() => clearTimeout(timer));
  });

interface Material {
  workspace: string;
  today: string;
  leads: LeadRow[];
  files: Map<string, FileOfFace[]>;
  licenses: Awaited<ReturnType<typeof licensesOf>>;
  texts: { label: string; text: string }[];
  keep: number[] | null;
}

async function gather(db: DataSource, workspaceId: string, faceIds: readonly string[]): Promise<Material> {
  const leads = await findFaces(db, workspaceId, faceIds);
  const texts = await db.getRepository(ReadyTextEntity).find({ where: { workspaceId }, order: { position: 'ASC' } });
  const points = new Set<number>();
  for (const runs of [runsOfLanguages([...new Set(texts.flatMap((t) => t.language || []))]), ...texts.map((t) => runsOfText(t.text))])
    for (let i = 0; i < runs.length; i += 2) for (let c = runs[i]!; c <= runs[i + 1]!; c++) points.add(c);
  return {
    workspace: (await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId })).name,
    today: await todayOf(db, workspaceId),
    leads,
    files: await filesOfAll(db, workspaceId, leads),
    licenses: await licensesOf(db, workspaceId, faceIds),
    texts,
    keep: texts.length > 0 ? toRuns([...points].sort((a, b) => a - b)) : null,
  };
}

/** What does not depend on the place, worked out once a face. */
function ofFace(material: Material, lead: LeadRow) {
  const records = (material.licenses.get(lead.faceId) ?? []).map(licenseRecord);
  const writes = writesOf(lead.coverage?.writes?.runs ?? [], lead.coverage?.writes?.loose ?? []);
  const lacking = (text: string): string[] => missingFrom(text, writes).map((m) => String.fromCodePoint(m.codePoint));
  const changing = new Map<Change, Verdict>();
  return {
    lead,
    records,
    lacking,
    texts: material.texts.map(({ label, text }) => ({ label, missing: lacking(text) })),
    files: material.files.get(lead.faceId) ?? [],
    joined: joinedOf(lead),
    mayChange(change: Change): Verdict {
      let found = changing.get(change);
      if (!found) changing.set(change, (found = verdict('changing', records, lead.facts.embedding, material.today, { change })));
      return found;
    },
  };
}
type OfFace = ReturnType<typeof ofFace>;

/** Foresees what places will say to faces. @throws HttpProblem 404 for a face that is not there */
export async function foresee(
  deps: Foresight,
  workspaceId: string,
  places: readonly PlaceRow[],
  faceIds: readonly string[],
  choice: Choice,
): Promise<{ cells: CheckedFace[]; unseen: { placeId: string; why: string }[] }> {
  const { db, compute, allowed } = deps;
  const material = await gather(db, workspaceId, faceIds);
  const states = await Promise.all(places.map((p) => stateOf(db, allowed, p)));
  const faces = material.leads.map((lead) => ofFace(material, lead));
  const batch = batchOf(faces.map(({ lead }) => ({ family: fileFamily(lead), style: fileStyle(lead) })));
  const cells: CheckedFace[] = [];
  let looked = 0;
  for (const [p, place] of places.entries()) {
    const kind = profileOf(place);
    const role = kind.roles.find((r) => r.id === choice.role(place.id))?.id ?? null;
    for (const [i, face] of faces.entries()) {
      const context = contextAt(material, kind, place, face, states[p]!.state, batch[i]!, role);
      let ids = choice.remedies(face.lead.faceId, place.id);
      if (choice.mendAll && ids.length === 0) ids = mendAll(preflight(context)) ?? [];
      let { recipe, removes } = chosenRemedies(context, ids);
      let cell = await judge(deps, workspaceId, material, place, face, context, ids, recipe, removes, choice.prepare);
      // What was made may show that it is still too large; what mends that is chosen as well.
      if (choice.mendAll && cell.fit === 'fits-after-remedy' && cell.mend) {
        const more = [...new Set([...ids, ...cell.mend])];
        ({ recipe, removes } = chosenRemedies(context, more));
        cell = await judge(deps, workspaceId, material, place, face, context, more, recipe, removes, choice.prepare);
      }
      if (deps.findAlike && cell.fit === 'does-not-fit' && looked < MOST_ALIKE) {
        looked++;
        const alike = await cleared(deps, workspaceId, face, kind.use, material);
        if (alike.length > 0)
          cell = await judge(
            { db, compute, allowed },
            workspaceId,
            material,
            place,
            face,
            { ...context, alike },
            ids,
            recipe,
            removes,
            choice.prepare,
          );
      }
      cells.push(cell);
    }
  }
  return { cells, unseen: states.flatMap(({ unseen }, i) => (unseen === null ? [] : { placeId: places[i]!.id, why: unseen })) };
}

/** The names that programs read in the file itself. */
const fileFamily = (lead: LeadRow): string => lead.facts.typographicFamily ?? lead.facts.family ?? lead.familyName;
const fileStyle = (lead: LeadRow): string => lead.facts.typographicSubfamily ?? lead.facts.subfamily ?? lead.style;

function contextAt(
  { keep, today }: Material,
  kind: Profile,
  place: PlaceRow,
  { lead, records, files, texts, lacking, joined, mayChange }: OfFace,
  there: PlaceState,
  batch: CheckContext['batch'],
  role: string | null,
): CheckContext {
  const own = verdict(kind.use, records, lead.facts.embedding, today, { place: kind });
  const { outlines, runs, axes } = lead.facts;
  return {
    ...contextFor(kind, {
      family: fileFamily(lead),
      style: fileStyle(lead),
      format: lead.format,
      facts: lead.facts,
      files: files.map((f) => ({ format: f.format, bytes: f.bytes })),
      // The file that goes out as it is, so that one that lies there already is known.
      sha256: kind.accepts.formats.map((format) => files.find((f) => f.format === format)).find((f) => f !== undefined)?.sha256 ?? null,
    }),
    faceName: `${lead.familyName} ${lead.style}`,
    placeName: place.name,
    verdicts: [own],
    notes: strictest([own]).notes,
    mayChange,
    keep,
    estimate: (recipe) => estimateBytes({ outlineKind: outlines, runs, axisCount: axes.length }, lead.format, lead.bytes, recipe),
    there,
    batch,
    texts: [...texts, ...(kind.shows.text === '' ? [] : [{ label: 'what is set there', missing: lacking(kind.shows.text) }])],
    joined,
    role,
    // Display sizes are told in the name; nothing else is sure enough.
    forDisplay: lead.optical === 'display' || /\b(display|poster|headline|titling)\b/i.test(`${lead.familyName} ${lead.style}`),
  };
}

async function judge(
  { db, compute }: Foresight,
  workspaceId: string,
  material: Material,
  place: PlaceRow,
  { lead, files, mayChange }: OfFace,
  context: CheckContext,
  chosen: readonly string[],
  recipe: Recipe,
  removes: string[],
  prepare: boolean,
): Promise<CheckedFace> {
  const kind = context.profile;
  const blocked = lead.facts.findings.some((f) => f.severity === 'blocks');
  let sending: Sending | null = null;
  let failure: PlaceFinding | null = null;
  if (!blocked && (prepare || recipe.length === 0))
    try {
      sending = await chooseSending(db, compute, workspaceId, lead, files, kind, recipe);
    } catch (error) {
      if (!(error instanceof ComputeError)) throw error;
      failure = { code: 'cannot-be-made', severity: 'stops', message: error.message, remedies: [], overridable: false };
    }
  const verdicts = [...context.verdicts, ...changesOf(recipe).map(mayChange)];
  const { deciding, notes } = strictest(verdicts);
  const expected =
    recipe.length > 0 && !prepare ? { format: formatOf(recipe, lead), bytes: context.estimate!(recipe), sha256: null } : null;
  const findings = preflight({
    ...context,
    verdicts,
    notes,
    recipe,
    sha256: recipe.length === 0 ? (sending?.sha256 ?? context.sha256) : null,
    made: recipe.length > 0 ? (sending ? { format: sending.format, bytes: sending.bytes, sha256: sending.sha256 } : expected) : null,
    // What comes off first is no longer in the way.
    there: context.there && {
      ...context.there,
      faces: context.there.faces.filter((f) => f.installId === null || !removes.includes(f.installId)),
    },
  });
  if (failure) findings.unshift(failure);
  const face = context.faceName;
  const { workspace, licenses } = material;
  return {
    faceId: lead.faceId,
    face,
    placeId: place.id,
    place: place.name,
    fit: fitOf(findings),
    chosen: [...chosen],
    mend: mendAll(findings),
    findings: findings.map(described),
    clear: isClear(findings),
    overrideStatement: `I know that nothing on record gives ${workspace} the right to put “${face}” on ${place.name}. I put it there all the same and answer for that.`,
    overridable: deciding.answer === 'no' && isOverridable(findings),
    stop: hardStop(findings),
    verdict: deciding,
    statement: `${statementFor(kind, { workspace, face, place: place.name })}${
      recipe.length > 0 ? ` The file is ${sayRecipe(recipe)} for that, and ${workspace} may change it so.` : ''
    }${known(notes)}`,
    licenseName: (licenses.get(lead.faceId) ?? []).find((l) => l.id === deciding.licenseId)?.name ?? null,
    sending: sending ? { format: sending.format, bytes: sending.bytes, fromBytes: lead.bytes, comparison: sending.comparison } : null,
    recipe,
    removes,
  };
}

/** The format that a recipe ends in. */
function formatOf(recipe: Recipe, lead: LeadRow): Sending['format'] {
  let outlines = lead.facts.outlines;
  for (const { step, options } of recipe) if (step === 'outlines') outlines = options.to === 'CFF' ? 'CFF' : 'glyf';
  const last = recipe[recipe.length - 1];
  return last?.step === 'container' ? (last.options.to as Sending['format']) : outlines === 'glyf' ? 'ttf' : 'otf';
}

/** What looks like a face, may go there, and writes every text that the face itself writes. */
async function cleared(
  { db, findAlike }: Foresight,
  workspaceId: string,
  face: OfFace,
  use: Use,
  { texts }: Material,
): Promise<{ faceId: string; name: string }[]> {
  const found = await findAlike!(workspaceId, face.lead.faceId, use);
  if (found.length === 0) return [];
  const leads = await findFaces(
    db,
    workspaceId,
    found.map((f) => f.faceId),
  );
  const wanted = texts.filter((_, i) => face.texts[i]!.missing.length === 0);
  return leads
    .filter((lead) => {
      const writes = writesOf(lead.coverage?.writes?.runs ?? [], lead.coverage?.writes?.loose ?? []);
      return wanted.every((t) => missingFrom(t.text, writes).length === 0) && !lead.facts.findings.some((f) => f.severity === 'blocks');
    })
    .slice(0, 3)
    .map((lead) => ({ faceId: lead.faceId, name: `${lead.familyName} ${lead.style}` }));
}

/** A finding as the answer has it. */
const described = ({ code, severity, message, remedies, overridable }: PlaceFinding): PreflightFace['findings'][number] => ({
  code,
  severity,
  message,
  overridable,
  remedies: remedies.map(({ id, label, will, steps, goTo, forbidden, removes, faces }) => ({
    id,
    label,
    will,
    goTo,
    doable: forbidden === null && (steps.length > 0 || removes.length > 0),
    forbidden,
    faces: [...faces],
  })),
});

/** What faces lie at a place as of the ledger; for the check of its rules. */
export const installedFaces = async (db: DataSource, placeId: string): Promise<string[]> => [
  ...new Set((await installsAt(db, placeId)).map((i) => i.faceId)),
];
