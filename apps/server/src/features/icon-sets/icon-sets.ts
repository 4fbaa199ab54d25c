import { randomUUID } from 'node:crypto';
import {
  assignCodes,
  BENEATH,
  collisions,
  compareReleases,
  contradictionsOf,
  DEFAULT_FACTS,
  describeStep,
  inRuns,
  LIGATURE,
  readManifest,
  setFindings,
  sizesOf,
  uPlus,
  type IconSet as CoreSet,
  type InkMeasures,
} from '@orderly-glyph/core';
import type { IconFacts, IconSet, IconSetBrief } from '@orderly-glyph/schema';
import { In, IsNull, type DataSource, type EntityManager } from 'typeorm';
import { conflict, invalid, notFound, stale } from '../../platform/http/problem.js';
import { findFaces } from '../faces/index.js';
import {
  DrawingEntity,
  IconCode,
  IconReleaseEntity,
  IconReleaseFile,
  IconSetEntity,
  type DrawingRow,
  type IconCodeRow,
  type IconSetRow,
} from './rows.js';

export interface Who {
  workspaceId: string;
  name: string;
}

export async function findSet(db: DataSource | EntityManager, workspaceId: string, id: string): Promise<IconSetRow> {
  const set = await db.getRepository(IconSetEntity).findOneBy({ id, workspaceId });
  if (!set || set.removedAt) throw notFound('This icon set');
  return set;
}

/** Takes a forgotten set back. @throws HttpProblem when another one has its name, prefix or base class by now */
export async function returnSet(db: DataSource, workspaceId: string, id: string): Promise<void> {
  const set = await db.getRepository(IconSetEntity).findOneBy({ id, workspaceId });
  if (!set) throw notFound('This icon set');
  await db.transaction(async (manager) => {
    await ensureFree(manager, workspaceId, set.facts, id);
    await manager.getRepository(IconSetEntity).update({ id }, { removedAt: null });
  });
}

export const drawingsOf = (db: DataSource | EntityManager, setId: string): Promise<DrawingRow[]> =>
  db.getRepository(DrawingEntity).find({ where: { setId, removedAt: IsNull() }, order: { position: 'ASC', id: 'ASC' } });

/** A set as the core makes fonts of it. Code points that are not given yet stay open. */
export const coreSet = (set: IconSetRow, drawings: readonly DrawingRow[], codes: readonly IconCodeRow[]): CoreSet => ({
  facts: set.facts,
  icons: drawings.map((d) => ({ id: d.id, svg: d.svg, ...d.icon })),
  given: codes.map((c) => ({ codePoint: c.codePoint, name: c.drawingId })),
});

export const codesOf = (db: DataSource | EntityManager, setId: string): Promise<IconCodeRow[]> =>
  db.getRepository(IconCode).find({ where: { setId }, order: { codePoint: 'ASC' } });

/** What was drawn anew since the last release, as it was and as it is. */
export const pictured = ({ icon, shape, releasedPath }: DrawingRow): { name: string; before: string; after: string } => ({
  name: icon.name,
  before: releasedPath ?? '',
  after: shape.path,
});

/** How a drawing is painted: in its colors, or over what lies beneath it. */
const layersOf = ({ shape }: DrawingRow, under: DrawingRow | undefined): IconSet['drawings'][number]['layers'] =>
  under && shape.layers.length === 0
    ? [
        { color: 'currentColor', alpha: BENEATH, path: under.shape.path },
        { color: 'currentColor', alpha: 1, path: shape.path },
      ]
    : shape.layers;

/** The set as its last release froze it. */
export async function lastRelease(db: DataSource | EntityManager, setId: string): Promise<{ number: number; set: CoreSet } | null> {
  const [row] = await db.getRepository(IconReleaseEntity).find({ where: { setId }, order: { number: 'DESC' }, take: 1 });
  return row ? { number: row.number, set: readManifest(row.frozen).set } : null;
}

const measuresOf = ({ shape }: DrawingRow): InkMeasures => ({
  area: shape.area,
  width: shape.inkWidth,
  height: shape.inkHeight,
  points: shape.points,
  raster: Float32Array.from(Buffer.from(shape.raster, 'base64'), (v) => v / 255),
});

/** What stands beside the set where it may be used: other sets, and symbol faces at the places that have it. */
async function warningsOf(db: DataSource, set: IconSetRow, core: CoreSet): Promise<string[]> {
  const out: string[] = [];
  const others = (await db.getRepository(IconSetEntity).findBy({ workspaceId: set.workspaceId, removedAt: IsNull() })).filter(
    (s) => s.id !== set.id,
  );
  for (const other of others) {
    if (other.facts.prefix === set.facts.prefix)
      out.push(`“${other.facts.family}” has the same prefix, “${set.facts.prefix}”; on one page their classes would mean both.`);
    if (other.facts.base === set.facts.base) out.push(`“${other.facts.family}” has the same base class, “${set.facts.base}”.`);
    if (other.facts.family.toLowerCase() === set.facts.family.toLowerCase())
      out.push(`Another set here is called “${other.facts.family}”, too.`);
  }
  // Faces of that name which are installed somewhere: a style sheet there would load one for the other.
  const same = (await db.query(
    `SELECT DISTINCT p.name AS place FROM install i JOIN place p ON p.id = i.place_id JOIN face ON face.id = i.face_id JOIN family ON family.id = face.family_id
     WHERE i.workspace_id = ? AND i.removed_at IS NULL AND family.name = ?
       AND i.face_id NOT IN (SELECT f.face_id FROM icon_release_file f JOIN icon_release r ON r.id = f.release_id WHERE r.set_id = ? AND f.face_id IS NOT NULL)`,
    [set.workspaceId, set.facts.family, set.id],
  )) as { place: string }[];
  for (const { place } of same) out.push(`${place} has a face called “${set.facts.family}” that is not of this set.`);
  // Places that show an older release: what they would lose with what the set is now.
  const older = (await db.query(
    `SELECT DISTINCT p.name AS place, r.number FROM install i JOIN place p ON p.id = i.place_id JOIN icon_release_file f ON f.sha256 = i.sha256 JOIN icon_release r ON r.id = f.release_id
     WHERE i.workspace_id = ? AND i.removed_at IS NULL AND r.set_id = ? ORDER BY r.number`,
    [set.workspaceId, set.id],
  )) as { place: string; number: number }[];
  for (const number of [...new Set(older.map((o) => o.number))]) {
    const { frozen } = await db.getRepository(IconReleaseEntity).findOneByOrFail({ setId: set.id, number });
    const { breaks } = compareReleases(readManifest(frozen).set, core);
    if (breaks.length > 0)
      out.push(
        `${older
          .filter((o) => o.number === number)
          .map((o) => o.place)
          .join(', ')} has release ${number}. Put a newer one there, and pages lose something: ${breaks.slice(0, 3).join(' ')}`,
      );
  }
  const places = (await db.query(
    `SELECT DISTINCT i.place_id AS id FROM install i JOIN icon_release_file f ON f.face_id = i.face_id JOIN icon_release r ON r.id = f.release_id WHERE r.set_id = ? AND i.removed_at IS NULL`,
    [set.id],
  )) as { id: string }[];
  const beside =
    places.length === 0
      ? []
      : ((await db.query(
          `SELECT DISTINCT r.set_id AS setId, p.name AS place FROM install i JOIN place p ON p.id = i.place_id JOIN icon_release_file f ON f.face_id = i.face_id JOIN icon_release r ON r.id = f.release_id
           WHERE i.place_id IN (?) AND i.removed_at IS NULL AND r.set_id <> ?`,
          [places.map((p) => p.id), set.id],
        )) as { setId: string; place: string }[]);
  // Faces there that are none of our sets and have drawings or signs at code points of their own.
  const faces =
    places.length === 0
      ? []
      : ((await db.query(
          `SELECT DISTINCT i.face_id AS faceId, p.name AS place FROM install i JOIN place p ON p.id = i.place_id
     WHERE i.place_id IN (?) AND i.removed_at IS NULL AND i.face_id IS NOT NULL AND i.face_id NOT IN (SELECT f.face_id FROM icon_release_file f WHERE f.workspace_id = ? AND f.face_id IS NOT NULL)`,
          [places.map((p) => p.id), set.workspaceId],
        )) as { faceId: string; place: string }[]);
  for (const lead of faces.length > 0 ? await findFaces(db, set.workspaceId, [...new Set(faces.map((f) => f.faceId))]) : []) {
    const both = core.icons.flatMap(({ codePoint }) => (codePoint !== null && inRuns(lead.facts.runs, codePoint) ? [codePoint] : []));
    if (both.length > 0)
      out.push(
        `${lead.familyName} ${lead.style}, at ${[...new Set(faces.filter((f) => f.faceId === lead.faceId).map((f) => f.place))].join(', ')}, has signs of its own at ${both.length === 1 ? uPlus(both[0]!) : `${both.length} of these code points, ${uPlus(both[0]!)} the first`}. Pages that name the wrong family show the other drawing.`,
      );
  }
  if (beside.length > 0) {
    const codes = await db.getRepository(IconCode).findBy({ setId: In([...new Set(beside.map((b) => b.setId))]) });
    const found = collisions(
      core.icons,
      [],
      beside.map(({ setId, place }) => ({
        what: `“${others.find((o) => o.id === setId)?.facts.family ?? 'another set'}” at ${place}`,
        codePoints: codes.filter((c) => c.setId === setId).map((c) => c.codePoint),
      })),
    );
    for (const { codePoint, name, with: other } of found.slice(0, 10))
      out.push(
        `${uPlus(codePoint)} is “${name}” here and has another meaning in ${other}. Pages that name the wrong family show the other drawing.`,
      );
  }
  return out;
}

export async function describeSet(db: DataSource, workspaceId: string, id: string): Promise<IconSet> {
  const set = await findSet(db, workspaceId, id);
  const [drawings, codes, releases, last] = await Promise.all([
    drawingsOf(db, id),
    codesOf(db, id),
    db.getRepository(IconReleaseEntity).find({
      where: { setId: id },
      order: { number: 'DESC' },
      select: { id: true, number: true, day: true, notes: true, note: true, madeBy: true },
    }),
    lastRelease(db, id),
  ]);
  const files =
    releases.length === 0
      ? []
      : await db.getRepository(IconReleaseFile).find({ where: { releaseId: In(releases.map((r) => r.id)) }, order: { name: 'ASC' } });
  const core = coreSet(set, drawings, codes);
  const measures = drawings.map(measuresOf);
  const among = setFindings(
    drawings.map((d, i) => ({
      name: d.icon.name,
      width: d.shape.width,
      height: d.shape.height,
      measures: measures[i]!,
      caps: d.shape.caps,
    })),
  );
  const sizes = sizesOf(measures);
  const points = assignCodes(core.icons, core.given);
  const known = new Set(codes.map((c) => c.codePoint));
  const here = new Set(drawings.map((d) => d.id));
  const { changed, ...next } = compareReleases(last?.set ?? null, core);
  const rowOf = new Map(drawings.map((d) => [d.id, d]));
  const byName = new Map(drawings.map((d) => [d.icon.name, d]));
  return {
    id,
    facts: { ...set.facts, formats: [...set.facts.formats] },
    version: set.version,
    drawings: drawings.map((d, i) => ({
      id: d.id,
      name: d.icon.name,
      original: d.original,
      aliases: [...d.icon.aliases],
      codePoint: points[i]!,
      locked: known.has(points[i]!),
      characters: [...d.icon.characters],
      words: [...d.icon.words],
      inking: d.icon.inking,
      beneath: d.icon.beneath,
      cut: d.icon.cut,
      mirror: d.icon.mirror,
      place: [...d.icon.place],
      steps: d.icon.place.map(describeStep),
      path: d.shape.path,
      layers: layersOf(d, rowOf.get(d.icon.beneath ?? '')),
      source: d.shape.source,
      size: Math.max(d.shape.width, d.shape.height),
      looks: Math.exp(sizes[i]!.off),
      points: d.shape.points,
      findings: [...d.shape.findings, ...(among.get(i) ?? [])].map((f) => ({ ...f, remedies: [...f.remedies] })),
      from: d.fromName,
    })),
    reserved: codes.filter((c) => !here.has(c.drawingId)).map((c) => ({ codePoint: c.codePoint, name: c.name })),
    stops: contradictionsOf(core),
    warnings: await warningsOf(db, set, { ...core, icons: core.icons.map((icon, i) => ({ ...icon, codePoint: points[i]! })) }),
    next: { ...next, changed: changed.map((name) => pictured(byName.get(name)!)), number: (last?.number ?? 0) + 1 },
    releases: releases.map((r) => ({
      number: r.number,
      day: r.day,
      by: r.madeBy,
      notes: r.notes,
      ...r.note,
      files: files
        .filter((f) => f.releaseId === r.id && !f.name.startsWith('kit-'))
        .map((f) => ({ name: f.name, bytes: f.bytes, faceId: f.faceId })),
    })),
  };
}

export async function listSets(db: DataSource, workspaceId: string): Promise<IconSetBrief[]> {
  const sets = await db.getRepository(IconSetEntity).find({ where: { workspaceId, removedAt: IsNull() }, order: { createdAt: 'ASC' } });
  const out: IconSetBrief[] = [];
  for (const set of sets) {
    const drawings = db.getRepository(DrawingEntity);
    const first = await drawings.find({ where: { setId: set.id, removedAt: IsNull() }, order: { position: 'ASC', id: 'ASC' }, take: 16 });
    const [release] = await db
      .getRepository(IconReleaseEntity)
      .find({ where: { setId: set.id }, order: { number: 'DESC' }, take: 1, select: { id: true, number: true } });
    out.push({
      id: set.id,
      family: set.facts.family,
      prefix: set.facts.prefix,
      drawings: await drawings.countBy({ setId: set.id, removedAt: IsNull() }),
      release: release?.number ?? 0,
      changedAt: set.changedAt.toISOString(),
      first: first.map((d) => d.shape.path),
    });
  }
  return out;
}

export async function createSet(db: DataSource, who: Who, facts: Pick<IconFacts, 'family' | 'prefix' | 'maker'>): Promise<string> {
  const row = freshSet(who, { ...DEFAULT_FACTS, ...facts, base: `${facts.prefix}icon` });
  await db.transaction(async (manager) => {
    await ensureFree(manager, who.workspaceId, row.facts, row.id);
    await manager.getRepository(IconSetEntity).insert(row as never);
  });
  return row.id;
}

export const freshSet = (who: Who, facts: IconSetRow['facts']): IconSetRow => ({
  id: randomUUID(),
  workspaceId: who.workspaceId,
  facts,
  licenseId: null,
  version: 1,
  createdBy: who.name,
  createdAt: new Date(),
  changedAt: new Date(),
  removedAt: null,
});

/**
 * Holds the workspace until the transaction ends, so that of two sets of one name made at once the second finds the first.
 * @throws HttpProblem when another set has the name, prefix or base class: pages tell sets apart by them
 */
export async function ensureFree(
  manager: EntityManager,
  workspaceId: string,
  facts: Pick<IconFacts, 'family' | 'prefix' | 'base'>,
  id: string,
): Promise<void> {
  await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [workspaceId]);
  for (const other of await manager.getRepository(IconSetEntity).findBy({ workspaceId, removedAt: IsNull() })) {
    if (other.id === id) continue;
    const same = (['family', 'prefix', 'base'] as const).find((k) => other.facts[k].toLowerCase() === facts[k].toLowerCase());
    if (same)
      throw invalid(
        `“${other.facts.family}” has the ${{ family: 'name', prefix: 'prefix', base: 'base class' }[same]} “${other.facts[same]}” already; on one page the two would be taken for one another. Choose another one; nothing was kept.`,
        same,
      );
  }
}

export async function changeSet(db: DataSource, who: Who, id: string, facts: IconFacts, version: number): Promise<void> {
  const set = await findSet(db, who.workspaceId, id);
  const { affected } = await db.transaction(async (manager) => {
    await ensureFree(manager, who.workspaceId, facts, id);
    return manager
      .getRepository(IconSetEntity)
      .update({ id: set.id, version }, { facts: facts as never, version: version + 1, changedAt: new Date() });
  });
  if (!affected) throw stale(`Somebody changed “${set.facts.family}” while you worked on it`);
}

/** Marks a set as changed within a change of it; who works on what it was before is told. */
export async function touch(manager: EntityManager, set: Pick<IconSetRow, 'id'>): Promise<void> {
  await manager.query('UPDATE icon_set SET version = version + 1, changed_at = ? WHERE id = ?', [new Date(), set.id]);
}

/** @throws HttpProblem with the first thing that contradicts what others of the set have */
export function ensureSound(set: IconSetRow, drawings: readonly DrawingRow[], codes: readonly IconCodeRow[]): void {
  const [wrong] = contradictionsOf(coreSet({ ...set, facts: { ...set.facts } }, drawings, codes)).filter(
    (m) => !/There is no drawing/.test(m),
  );
  if (wrong !== undefined) throw conflict(`${wrong} Nothing was changed.`);
}

/** The word that a drawing's name is, where it can be one. */
export const wordOf = (name: string): string[] => (LIGATURE.test(name) ? [name] : []);
