import { type LineFacts } from '@orderly-glyph/core';
import {
  ATTENTION,
  FACTS,
  fileAddress,
  LIMIT_KEYS,
  LINE,
  profile,
  PROFILES,
  newerFirst,
  verdictTable,
  type Answer,
  type FontFormat,
  type LicenseRecord,
  type Use,
  type Verdict,
} from '@orderly-glyph/core';
import type { Face, Install, Library } from '@orderly-glyph/schema';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { todayOf } from '../accounts/index.js';
import { FACE_COLUMNS, findFaces, KeptFact, withFact, type DerivedRow, type LeadRow } from '../faces/index.js';
import {
  allVerdicts,
  type Belongs,
  CompanionEntity,
  type CompanionRow,
  describeCompanion,
  describeCoverage,
  describeLicenses,
  faceFields,
  LicenseEntity,
  LicenseFace,
  licenseRecord,
  type LicenseRow,
  suggestionsFor,
} from '../licenses/index.js';

/** How many joined computers have a face under each license: seats that count by themselves. */
export async function joinedComputers(db: DataSource | EntityManager, workspaceId: string): Promise<Map<string, number>> {
  const rows = (await db.query(
    `SELECT lf.license_id AS id, COUNT(DISTINCT i.place_id) AS n FROM install i JOIN computer c ON c.place_id = i.place_id JOIN license_face lf ON lf.face_id = i.face_id
     WHERE i.workspace_id = ? AND i.removed_at IS NULL GROUP BY lf.license_id`,
    [workspaceId],
  )) as { id: string; n: number | string }[];
  return new Map(rows.map((r) => [r.id, Number(r.n)]));
}

/** Licenses by face; `null` asks for all faces. */
export async function licensesOf(
  db: DataSource,
  workspaceId: string,
  faceIds: readonly string[] | null,
): Promise<Map<string, LicenseRow[]>> {
  const out = new Map<string, LicenseRow[]>();
  if (faceIds?.length === 0) return out;
  const links = await db.getRepository(LicenseFace).findBy({ workspaceId, ...(faceIds ? { faceId: In([...faceIds]) } : {}) });
  const licenses = (await db.getRepository(LicenseEntity).findBy({ workspaceId })).filter((l) => l.removedAt === null);
  const joined = await joinedComputers(db, workspaceId);
  const byId = new Map(licenses.map((l) => [l.id, { ...l, joinedComputers: joined.get(l.id) ?? 0 }]));
  for (const link of links) {
    const license = byId.get(link.licenseId);
    if (license) out.set(link.faceId, [...(out.get(link.faceId) ?? []), license]);
  }
  return out;
}

export interface CameWith extends Belongs {
  row: CompanionRow;
  bundle: string;
}

/** Companions of the bundles that brought any file of the faces, those whose terms count for the face first. */
export async function companionsOf(db: DataSource, workspaceId: string, faceIds: readonly string[]): Promise<Map<string, CameWith[]>> {
  const out = new Map<string, CameWith[]>();
  if (faceIds.length === 0) return out;
  const links = (await db.query(
    `SELECT DISTINCT ff.face_id AS faceId, c.id, b.name AS bundle, cf.companion_id IS NOT NULL AS judged, cf.reason
     FROM face_file ff JOIN bundle_file bf ON bf.file_id = ff.file_id JOIN bundle b ON b.id = bf.bundle_id JOIN companion c ON c.bundle_id = b.id
       LEFT JOIN companion_face cf ON cf.companion_id = c.id AND cf.face_id = ff.face_id
     WHERE ff.workspace_id = ? AND ff.face_id IN (?) AND ff.removed_at IS NULL ORDER BY cf.companion_id IS NULL, cf.reason IS NOT NULL, c.kind = 'terms' DESC, c.name`,
    [workspaceId, faceIds],
  )) as { faceId: string; id: string; bundle: string; judged: number; reason: string | null }[];
  const rows =
    links.length === 0 ? [] : await db.getRepository(CompanionEntity).findBy({ workspaceId, id: In([...new Set(links.map((l) => l.id))]) });
  const byId = new Map(rows.map((r) => [r.id, r]));
  for (const link of links) {
    const row = byId.get(link.id)!;
    const terms = row.findings?.terms || (row.findings?.mentions.length ?? 0) > 0;
    const belongs = link.judged ? link.reason === null : terms ? false : null;
    const why = link.reason ?? (belongs === false ? 'It lies in another folder of the bundle.' : null);
    out.set(link.faceId, [...(out.get(link.faceId) ?? []), { row, bundle: link.bundle, belongs, why }]);
  }
  return out;
}

/** Kinds of places with a list from which customers choose: what came last stands last there. */
const LISTS = PROFILES.filter((p) => p.roles.some((r) => r.many)).map((p) => p.id);
/** Kinds of places whose computers fetch their faces themselves. */
const FETCHING = PROFILES.filter((p) => p.connector === 'joined').map((p) => p.id);

export async function installsWhere(
  db: DataSource,
  workspaceId: string,
  column: 'place_id' | 'face_id',
  ids: readonly string[],
): Promise<Install[]> {
  if (ids.length === 0) return [];
  const rows = (await db.query(
    `SELECT i.id, i.face_id AS faceId, CONCAT(family.name, ' ', face.style) AS face, i.place_id AS placeId, p.name AS place, i.format, i.bytes, i.version, p.address, p.profile_id AS profileId, i.remote_name AS remoteName, i.installed_at AS installedAt, i.installed_by AS installedBy,
       i.role, i.by_hand AS byHand, (p.profile_id IN (?) AND (i.seen = 'unknown' OR i.leaving = 1)) AS waits, i.seen, i.seen_at AS seenAt, i.source_sha256 IS NOT NULL AND i.source_sha256 <> lf.sha256 AS outdated
     FROM install i JOIN place p ON p.id = i.place_id JOIN face ON face.id = i.face_id JOIN family ON family.id = face.family_id JOIN face_file ff ON ff.id = face.lead_id JOIN font_file lf ON lf.id = ff.file_id
     WHERE i.workspace_id = ? AND i.removed_at IS NULL AND i.${column} IN (?) ORDER BY i.list_position IS NULL, i.list_position, IF(p.profile_id IN (?), 1, -1) * UNIX_TIMESTAMP(i.installed_at)`,
    [FETCHING, workspaceId, ids, LISTS],
  )) as (Omit<Install, 'installedAt' | 'link' | 'seenAt'> & {
    installedAt: Date;
    seenAt: Date | null;
    profileId: string;
    remoteName: string;
  })[];
  return rows.map(({ profileId, remoteName, ...r }) => {
    const kind = profile(profileId);
    const link = kind && fileAddress(kind, r.address, remoteName);
    return {
      ...r,
      address: link ?? remoteName,
      link,
      byHand: Boolean(r.byHand),
      waits: Boolean(r.waits),
      outdated: Boolean(r.outdated),
      seenAt: r.seenAt?.toISOString() ?? null,
      installedAt: r.installedAt.toISOString(),
    };
  });
}

/**
 * Which face stands for its family: upright, nearest to regular weight and normal width. Of faces alike in that the one
 * with a license, then the newer, then the one here longest: what comes later never takes the lead by itself.
 */
function standsFor(a: Styled, b: Styled): number {
  const distance = (r: Styled): number =>
    (r.italic ? 10_000 : 0) +
    Math.abs(r.weightClass - 400) +
    200 * Math.abs(r.widthClass - 5) +
    (/caption|display|subhead|smtext/i.test(r.style) ? 1 : 0);
  return (
    distance(a) - distance(b) ||
    Number(b.licensed ?? 0) - Number(a.licensed ?? 0) ||
    newerFirst(a.version ?? null, b.version ?? null) ||
    a.style.localeCompare(b.style) ||
    (a.addedAt?.getTime() ?? 0) - (b.addedAt?.getTime() ?? 0)
  );
}

interface Styled extends Pick<LeadRow, 'italic' | 'weightClass' | 'widthClass' | 'style'> {
  /** Whether a confirmed license covers it. */
  licensed?: number;
  version?: string | null;
  addedAt?: Date;
}

/** Whether a face has a confirmed license, as SQL over the table of faces. */
const LICENSED = `EXISTS (SELECT 1 FROM license_face lf JOIN license l ON l.id = lf.license_id WHERE lf.face_id = face.id AND l.removed_at IS NULL AND l.confirmed = 1) AS licensed, face.created_at AS addedAt`;

function byFamily<T extends { familyId: string }>(rows: readonly T[]): T[][] {
  const families = new Map<string, T[]>();
  for (const row of rows) {
    const members = families.get(row.familyId);
    if (members) members.push(row);
    else families.set(row.familyId, [row]);
  }
  return [...families.values()];
}

/** The face that stands for each family. */
export async function allLeads(db: DataSource, workspaceId: string): Promise<LeadRow[]> {
  const rows = (await db.query(
    `SELECT face.id AS faceId, face.family_id AS familyId, face.style, face.weight_class AS weightClass, face.width_class AS widthClass, face.italic, ${LICENSED}, JSON_VALUE(dl.value, '$.version') AS version
     FROM face JOIN family ON family.id = face.family_id JOIN face_file ff ON ff.id = face.lead_id ${withFact(LINE, 'dl')} WHERE face.workspace_id = ? AND face.removed_at IS NULL AND face.folded_into IS NULL AND family.archived_at IS NULL`,
    [workspaceId],
  )) as (Styled & { faceId: string; familyId: string })[];
  return findFaces(
    db,
    workspaceId,
    byFamily(rows).map((members) => members.sort(standsFor)[0]!.faceId),
  );
}

interface LineRow extends Omit<LeadRow, 'facts' | 'coverage' | 'shape' | 'naming'> {
  line: LineFacts;
  licensed: number;
  addedAt: Date;
  favorite: number;
  labels: string | null;
  note: string | null;
  archivedAt: Date | null;
}

/** Every face with only what a line needs; faces whose line is still to be computed are left to the refreshing job. */
export async function faceLines(
  db: DataSource,
  workspaceId: string,
  { folded = false, familyIds = null }: { folded?: boolean; familyIds?: readonly string[] | null } = {},
): Promise<LineRow[]> {
  const rows = (await db.query(
    `SELECT ${FACE_COLUMNS}, ${LICENSED}, ff.file_id AS fileId, dl.version AS derivedVersion, family.favorite, family.labels, family.note, family.archived_at AS archivedAt
     FROM face JOIN family ON family.id = face.family_id JOIN face_file ff ON ff.id = face.lead_id JOIN font_file f ON f.id = ff.file_id ${withFact(LINE, 'dl')}
     WHERE face.workspace_id = ? AND face.removed_at IS NULL ${folded ? '' : 'AND face.folded_into IS NULL '}${familyIds ? 'AND face.family_id IN (?) ' : ''}ORDER BY face.id`,
    familyIds ? [workspaceId, familyIds] : [workspaceId],
  )) as (Omit<LineRow, 'line'> & DerivedRow)[];
  const lines = await knownLines.of(db, rows);
  return rows.flatMap((row, i) => (lines[i] ? [{ ...row, line: lines[i] }] : []));
}

/** Lines kept by an older version lack what was added since, until they are computed anew. */
const completeLine = (line: LineFacts): LineFacts => ({
  ...line,
  axes: line.axes ?? [],
  ranges: line.ranges ?? {},
  near: line.near ?? [],
  kind: line.kind ?? null,
  confidence: line.confidence ?? 0,
  color: line.color ?? false,
  version: line.version ?? null,
});
const knownLines = new KeptFact<LineFacts>(LINE, (text) => completeLine(JSON.parse(text) as LineFacts));

/** Languages that each face nearly writes, by face. */
export async function nearLanguages(db: DataSource, workspaceId: string): Promise<Map<string, readonly string[]>> {
  return new Map((await faceLines(db, workspaceId)).map((row) => [row.faceId, row.line.near]));
}

/** Families by name, as a list shows them. */
export const byName = (() => {
  const collator = new Intl.Collator('en', { numeric: true });
  return (a: { name: string }, b: { name: string }): number => collator.compare(a.name, b.name);
})();

/**
 * The library, a family a line, by name; the whole of it, or only some families. Faces share their lists of characters,
 * most being alike in a family.
 */
export async function listLibrary(db: DataSource, workspaceId: string, familyIds: readonly string[] | null = null): Promise<Library> {
  if (familyIds?.length === 0) return { runSets: [], families: [] };
  const rows = await faceLines(db, workspaceId, { familyIds });
  const faceIds = familyIds ? rows.map((r) => r.faceId) : null;
  const fileIds = familyIds ? rows.map((r) => r.fileId) : null;
  const licenses = await licensesOf(db, workspaceId, faceIds);
  /** Adds the limit to some faces or files, where only some are wanted; nobody is in an empty list. */
  const only = (column: string, ids: readonly string[] | null): { sql: string; values: unknown[] } =>
    ids ? { sql: ` AND ${column} IN (?)`, values: [workspaceId, ids.length > 0 ? ids : ['-']] } : { sql: '', values: [workspaceId] };
  const gather = async <T>(sql: string, values: unknown[]): Promise<Map<string, Set<T>>> => {
    const out = new Map<string, Set<T>>();
    for (const { id, value } of (await db.query(sql, values)) as { id: string; value: T }[])
      out.set(id, (out.get(id) ?? new Set<T>()).add(value));
    return out;
  };
  const byFace = only('ff.face_id', faceIds);
  const formats = await gather<FontFormat>(
    `SELECT ff.face_id AS id, f.format AS value FROM face_file ff JOIN font_file f ON f.id = ff.file_id WHERE ff.workspace_id = ? AND ff.removed_at IS NULL${byFace.sql}`,
    byFace.values,
  );
  const byInstall = only('i.face_id', faceIds);
  const places = await gather<string>(
    `SELECT DISTINCT i.face_id AS id, p.name AS value FROM install i JOIN place p ON p.id = i.place_id WHERE i.workspace_id = ? AND i.removed_at IS NULL${byInstall.sql}`,
    byInstall.values,
  );
  const byFile = only('bf.file_id', fileIds);
  const sources = await gather<string>(
    `SELECT DISTINCT bf.file_id AS id, b.name AS value FROM bundle_file bf JOIN bundle b ON b.id = bf.bundle_id WHERE bf.workspace_id = ?${byFile.sql}`,
    byFile.values,
  );
  const runSets: string[] = [];
  const runIndex = new Map<string, number>();
  const indexOf = (runs: string): number => {
    let index = runIndex.get(runs);
    if (index === undefined) runIndex.set(runs, (index = runSets.push(runs) - 1));
    return index;
  };
  const collator = new Intl.Collator('en', { numeric: true });
  const records = new Map<string, LicenseRecord>();
  for (const row of [...licenses.values()].flat()) if (!records.has(row.id)) records.set(row.id, licenseRecord(row));
  const table = verdictTable(
    rows.map((r) => ({ licenses: (licenses.get(r.faceId) ?? []).map((l) => records.get(l.id)!), embedding: r.line.embedding })),
    await todayOf(db, workspaceId),
  );
  const keepers = only('face.folded_into', faceIds);
  const behind = await gather<string>(
    `SELECT face.folded_into AS id, family.name AS value FROM face JOIN family ON family.id = face.family_id WHERE face.workspace_id = ? AND face.folded_into IS NOT NULL AND face.removed_at IS NULL${keepers.sql}`,
    keepers.values,
  );
  const verdictsOf = new Map(rows.map((r, i) => [r.faceId, table[i]!]));
  const used = await usesOfInstalls(db, workspaceId);
  const order = (a: LineRow, b: LineRow): number =>
    a.widthClass - b.widthClass || a.weightClass - b.weightClass || a.italic - b.italic || collator.compare(a.style, b.style);
  const families = byFamily(rows).map((unsorted) => {
    const members = unsorted.sort(order);
    const lead = [...members].map((m) => ({ ...m, version: m.line.version })).sort(standsFor)[0]!;
    const styles = new Map<string, number>();
    for (const m of members) styles.set(m.style, (styles.get(m.style) ?? 0) + 1);
    const of = [...new Map(members.flatMap((m) => licenses.get(m.faceId) ?? []).map((l) => [l.id, l])).values()];
    const rights = familyRights(lead, members, verdictsOf, licenses);
    return {
      id: lead.familyId,
      name: lead.familyName,
      leadFaceId: lead.faceId,
      faces: members.map((m) => ({
        id: m.faceId,
        familyId: m.familyId,
        style: m.style,
        weightClass: m.weightClass,
        widthClass: m.widthClass,
        italic: Boolean(m.italic),
        formats: [...(formats.get(m.faceId) ?? [])],
        revision: m.sha256.slice(0, 16) + m.faceIndex,
        runs: indexOf(m.line.runs),
        ascender: m.line.ascender,
        descender: m.line.descender,
        unitsPerEm: m.line.unitsPerEm,
        variable: m.line.variable,
        ranges: m.line.ranges,
        blocked: m.line.blocked,
        version: styles.get(m.style)! > 1 ? (m.line.version ?? 'no version') : null,
      })),
      scripts: lead.line.scripts,
      languages: lead.line.languages,
      features: lead.line.features,
      ...rights,
      licenseName: (licenses.get(lead.faceId) ?? of)[0]?.name ?? null,
      limit: limitState(of),
      withoutRight: members.some((m) =>
        (used.get(m.faceId) ?? []).some((use) => verdictsOf.get(m.faceId)!.find((v) => v.use === use)!.answer !== 'yes'),
      ),
      licenseEndsOn: of.flatMap((l) => l.endsOn ?? []).sort()[0] ?? null,
      places: [...new Set(members.flatMap((m) => [...(places.get(m.faceId) ?? [])]))],
      addedAt: lead.familyAt.toISOString(),
      kind: lead.ownKind ?? lead.line.kind,
      confidence: lead.ownKind ? 1 : lead.line.confidence,
      axes: [...new Set(members.flatMap((m) => m.line.axes))],
      color: members.some((m) => m.line.color),
      favorite: Boolean(lead.favorite),
      archived: lead.archivedAt !== null,
      labels: lead.labels === null ? [] : (JSON.parse(lead.labels) as string[]),
      note: lead.note ?? '',
      also: [...new Set(members.flatMap((m) => [...(behind.get(m.faceId) ?? [])]))].filter((name) => name !== lead.familyName),
      sources: [...(sources.get(lead.fileId) ?? [])],
    };
  });
  return { runSets, families: families.sort(byName) };
}

/** The answers of a family, which are those of its leading face, and, where its faces differ, each group of them. */
function familyRights(
  lead: { faceId: string },
  members: readonly { faceId: string }[],
  verdictsOf: ReadonlyMap<string, readonly Verdict[]>,
  licenses: ReadonlyMap<string, readonly LicenseRow[]>,
): Pick<Library['families'][number], 'verdicts' | 'groups'> {
  const groups = new Map<string, Library['families'][number]['groups'][number]>();
  const answers = (verdicts: readonly Verdict[]) => Object.fromEntries(verdicts.map((v) => [v.use, v.answer])) as Record<Use, Answer>;
  for (const { faceId } of members) {
    const verdicts = verdictsOf.get(faceId)!;
    const key = verdicts.map((v) => v.answer + (v.licenseId ?? '')).join();
    const group = groups.get(key);
    if (group) group.faceIds.push(faceId);
    else groups.set(key, { faceIds: [faceId], licenseName: licenses.get(faceId)?.[0]?.name ?? null, verdicts: answers(verdicts) });
  }
  return { verdicts: answers(verdictsOf.get(lead.faceId)!), groups: groups.size > 1 ? [...groups.values()] : [] };
}

function limitState(licenses: readonly LicenseRow[]): 'near' | 'over' | null {
  let state: 'near' | 'over' | null = null;
  for (const { limits, counters } of licenses)
    for (const key of LIMIT_KEYS) {
      const limit = limits?.[key];
      const used = counters?.[key];
      if (limit === undefined || used === undefined) continue;
      if (used > limit) return 'over';
      if (used >= limit * ATTENTION) state = 'near';
    }
  return state;
}

/** What each face is used for by being at its places. */
export async function usesOfInstalls(db: DataSource, workspaceId: string): Promise<Map<string, Use[]>> {
  const out = new Map<string, Use[]>();
  for (const row of (await db.query(
    'SELECT DISTINCT i.face_id AS faceId, p.profile_id AS profileId FROM install i JOIN place p ON p.id = i.place_id WHERE i.workspace_id = ? AND i.removed_at IS NULL',
    [workspaceId],
  )) as { faceId: string; profileId: string }[]) {
    const use = profile(row.profileId)?.use;
    if (use) out.set(row.faceId, [...(out.get(row.faceId) ?? []), use]);
  }
  return out;
}

export async function getFace(db: DataSource, workspaceId: string, faceId: string): Promise<Face> {
  const [lead] = (await findFaces(db, workspaceId, [faceId])) as [LeadRow];
  const files = (await db.query(
    'SELECT f.id, f.name, f.format, f.bytes, f.sha256, ff.face_index AS faceIndex, f.created_at AS createdAt FROM face_file ff JOIN font_file f ON f.id = ff.file_id WHERE ff.workspace_id = ? AND ff.face_id = ? AND ff.removed_at IS NULL ORDER BY f.created_at',
    [workspaceId, faceId],
  )) as { id: string; name: string; format: FontFormat; bytes: number; sha256: string; faceIndex: number; createdAt: Date }[];
  const companions = (await companionsOf(db, workspaceId, [faceId])).get(faceId) ?? [];
  const licenses = (await licensesOf(db, workspaceId, [faceId])).get(faceId) ?? [];
  const folded = (await db.query(
    `SELECT face.id, CONCAT(family.name, ' ', face.style) AS name, JSON_VALUE(df.value, '$.version') AS version, face.created_at AS addedAt
     FROM face JOIN family ON family.id = face.family_id JOIN face_file ff ON ff.id = face.lead_id ${withFact(FACTS, 'df')}
     WHERE face.workspace_id = ? AND face.folded_into = ? AND face.removed_at IS NULL ORDER BY face.created_at`,
    [workspaceId, faceId],
  )) as { id: string; name: string; version: string | null; addedAt: Date }[];
  return {
    id: faceId,
    familyId: lead.familyId,
    ...faceFields(lead.facts),
    style: lead.style,
    weightClass: lead.weightClass,
    widthClass: lead.widthClass,
    slope: lead.slope,
    shape: lead.shape && {
      value: lead.shape.value,
      confidence: lead.shape.confidence,
      decorative: lead.shape.decorative,
      own: lead.ownKind,
      ...lead.shape.numbers,
    },
    repairs: lead.naming?.repairs ?? [],
    folded: folded.map((f) => ({ ...f, addedAt: f.addedAt.toISOString() })),
    foldedInto: lead.foldedInto,
    coverage: lead.coverage ? describeCoverage(lead.coverage) : null,
    family: lead.familyName,
    files: files
      .map((f) => ({
        id: f.id,
        name: f.name,
        format: f.format,
        bytes: f.bytes,
        sha256: f.sha256,
        leading: f.id === lead.fileId,
        index: f.faceIndex,
        addedAt: f.createdAt.toISOString(),
      }))
      .sort((a, b) => Number(b.leading) - Number(a.leading)),
    companions: companions.map((c) => describeCompanion(c.row, c.bundle, c)),
    licenses: await describeLicenses(db, workspaceId, licenses),
    suggestions: suggestionsFor(
      companions.filter((c) => c.belongs).map((c) => c.row),
      lead.facts,
    ),
    verdicts: allVerdicts(licenses, lead.facts.embedding, await todayOf(db, workspaceId)),
    installs: await installsWhere(db, workspaceId, 'face_id', [faceId]),
  };
}
