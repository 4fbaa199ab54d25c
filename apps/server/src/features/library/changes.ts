import { randomUUID } from 'node:crypto';
import type { Change, ChangeDone, LibraryAct } from '@orderly-glyph/schema';
import { type DataSource, type EntityManager } from 'typeorm';
import { conflict, invalid, notFound } from '../../platform/http/problem.js';
import { Workspace } from '../accounts/index.js';
import { FaceEntity, FaceFile, FamilyEntity } from '../faces/index.js';
import { type Act, type AnyAct, actContext, ACTS, counted, same, Steps } from './acts/index.js';
import { type ChangeStep, CollectionEntity, LibraryChange } from './rows.js';

const REPOSITORIES = {
  family: FamilyEntity,
  face: FaceEntity,
  face_file: FaceFile,
  collection: CollectionEntity,
  workspace: Workspace,
} as const;

type Row = Record<string, unknown>;

/** The type of a column as its table declares it. */
const typeOf = (table: ChangeStep['table'], key: string): unknown =>
  (REPOSITORIES[table].options.columns as Record<string, { type?: unknown } | undefined>)[key]?.type;

/** Dates travel through the record as text. */
function revive(table: ChangeStep['table'], values: Row): Row {
  return Object.fromEntries(
    Object.entries(values).map(([key, value]) => [
      key,
      typeof value === 'string' && typeOf(table, key) === 'datetime' ? new Date(value) : value,
    ]),
  );
}

/** So that whoever has the family open as it was does not write over it. */
const newVersion = (manager: EntityManager, familyId: string): Promise<unknown> =>
  manager.query('UPDATE family SET version = version + 1 WHERE id = ?', [familyId]);

async function carryOut(manager: EntityManager, steps: readonly ChangeStep[]): Promise<void> {
  for (const step of steps) {
    const repository = manager.getRepository<Row & { id: string }>(REPOSITORIES[step.table] as never);
    if (step.before === null) await repository.insert(revive(step.table, step.after) as never);
    else await repository.update({ id: step.id } as never, revive(step.table, step.after) as never);
    if (step.table === 'family') await newVersion(manager, step.id);
  }
}

/** Keeps the record of changes short; older ones can no longer be taken back. */
const MOST_CHANGES = 200;

async function record(manager: EntityManager, who: Who, summary: string, steps: readonly ChangeStep[]): Promise<string | null> {
  if (steps.length === 0) return null;
  await carryOut(manager, steps);
  const id = randomUUID();
  await manager.getRepository(LibraryChange).insert({
    id,
    workspaceId: who.workspaceId,
    byName: who.name,
    at: new Date(),
    summary: summary.slice(0, 500),
    steps: [...steps] as never,
    undoneAt: null,
  });
  await manager.query(
    'DELETE FROM library_change WHERE workspace_id = ? AND id NOT IN (SELECT id FROM (SELECT id FROM library_change WHERE workspace_id = ? ORDER BY at DESC LIMIT ?) AS recent)',
    [who.workspaceId, who.workspaceId, MOST_CHANGES],
  );
  return id;
}

interface Who {
  workspaceId: string;
  name: string;
}

/** Carries out what a person asked for, all of it or nothing, and says how it went. @throws HttpProblem */
export async function changeLibrary(db: DataSource, who: Who, act: LibraryAct, acts: readonly AnyAct[] = ACTS): Promise<Changed> {
  const kind = acts.find((a) => a.id === act.act) as unknown as Act<LibraryAct> | undefined;
  if (!kind) throw invalid('There is no such change of the library.', 'act');
  return db.transaction(async (manager) => {
    await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [who.workspaceId]);
    const steps = new Steps();
    const { summary, left = [] } = await kind.plan(actContext(manager, who.workspaceId, steps), act);
    const changeId = await record(manager, who, summary, steps.list);
    return {
      changeId,
      summary: changeId === null && left.length === 0 ? 'Nothing had to be changed.' : summary,
      left,
      familyIds: await touched(manager, steps.list),
      revision: await revisionOf(manager, who.workspaceId),
    };
  });
}

/** A change with the families that may look different after it, and the count of changes it was made at. */
export interface Changed extends Omit<ChangeDone, 'changed'> {
  familyIds: string[];
  revision: number;
}

async function revisionOf(manager: EntityManager, workspaceId: string): Promise<number> {
  const [row] = (await manager.query('SELECT revision FROM workspace WHERE id = ?', [workspaceId])) as { revision: string }[];
  return Number(row?.revision ?? 0);
}

/** Families whose lines steps may change: their own, those of faces that moved, and those that other faces stand behind. */
async function touched(manager: EntityManager, steps: readonly ChangeStep[]): Promise<string[]> {
  const families = new Set<string>();
  const faces = new Set<string>();
  const fileLinks = new Set<string>();
  for (const { table, id, before, after } of steps) {
    if (table === 'family') families.add(id);
    if (table === 'face') faces.add(id);
    if (table === 'face_file') fileLinks.add(id);
    for (const values of [before, after]) {
      if (typeof values?.familyId === 'string') families.add(values.familyId);
      if (typeof values?.foldedInto === 'string') faces.add(values.foldedInto);
    }
  }
  const add = async (sql: string, ids: ReadonlySet<string>): Promise<void> => {
    if (ids.size === 0) return;
    for (const row of (await manager.query(sql, [[...ids]])) as { id: string }[]) families.add(row.id);
  };
  await add('SELECT DISTINCT family_id AS id FROM face WHERE id IN (?)', faces);
  await add(
    'SELECT DISTINCT keeper.family_id AS id FROM face JOIN face keeper ON keeper.id = face.folded_into WHERE face.id IN (?)',
    faces,
  );
  await add('SELECT DISTINCT face.family_id AS id FROM face_file ff JOIN face ON face.id = ff.face_id WHERE ff.id IN (?)', fileLinks);
  // Renaming a family shows in the lines of faces that its own stand behind.
  await add(
    'SELECT DISTINCT keeper.family_id AS id FROM face JOIN face keeper ON keeper.id = face.folded_into WHERE face.family_id IN (?)',
    families,
  );
  return [...families];
}

/** Takes a change back where nothing else was done to the same rows since; says what had to stay. @throws HttpProblem 404, 409 */
export async function undoChange(db: DataSource, who: Who, changeId: string): Promise<Changed> {
  return db.transaction(async (manager) => {
    await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [who.workspaceId]);
    const change = await manager.getRepository(LibraryChange).findOneBy({ id: changeId, workspaceId: who.workspaceId });
    if (!change) throw notFound('This change');
    if (change.undoneAt) throw conflict('This was taken back already.');
    const before = await touched(manager, change.steps);
    let kept = 0;
    for (const step of [...change.steps].reverse()) {
      const repository = manager.getRepository<Row & { id: string }>(REPOSITORIES[step.table] as never);
      const row = await repository.findOneBy({ id: step.id } as never);
      if (!row) {
        kept++;
        continue;
      }
      if (step.before === null) {
        await removeFounded(manager, who.workspaceId, step);
        continue;
      }
      // A later change of the same thing is not overwritten; what it left alone goes back.
      const back: [string, unknown][] = [];
      for (const [key, value] of Object.entries(step.before))
        if (same(normal(row[key]), normal(step.after[key])) && (await pointsSomewhere(manager, key, value))) back.push([key, value]);
      if (back.length < Object.keys(step.before).length) kept++;
      if (back.length > 0) await repository.update({ id: step.id } as never, revive(step.table, Object.fromEntries(back)) as never);
      if (back.length > 0 && step.table === 'family') await newVersion(manager, step.id);
    }
    await manager.getRepository(LibraryChange).update({ id: changeId }, { undoneAt: new Date() });
    return {
      changeId,
      summary: `Taken back: ${change.summary}`,
      left: kept > 0 ? [`${counted(kept, 'thing')} had been changed again since, or is gone, and stays as it is.`] : [],
      familyIds: [...new Set([...before, ...(await touched(manager, change.steps))])],
      revision: await revisionOf(manager, who.workspaceId),
    };
  });
}

/** Whether what a value names is still here; a face must never be led by a file, or lie in a family, that is gone. */
async function pointsSomewhere(manager: EntityManager, key: string, value: unknown): Promise<boolean> {
  const table = { leadId: 'face_file', foldedInto: 'face', familyId: 'family', mergedInto: 'family' }[key];
  if (!table || value === null) return true;
  const removable = table === 'family' ? '' : ' AND removed_at IS NULL';
  return ((await manager.query(`SELECT id FROM ${table} WHERE id = ?${removable}`, [value])) as unknown[]).length > 0;
}

/** Flags come out of the database as 0 and 1. */
const normal = (value: unknown): unknown => (typeof value === 'boolean' ? Number(value) : value);

/** A family or collection founded by a change goes again, unless something stands in it now. */
async function removeFounded(manager: EntityManager, workspaceId: string, step: ChangeStep): Promise<void> {
  if (step.table === 'collection') await manager.getRepository(CollectionEntity).update({ id: step.id }, { removedAt: new Date() });
  if (step.table === 'family' && (await manager.getRepository(FaceEntity).countBy({ workspaceId, familyId: step.id })) === 0)
    await manager.getRepository(FamilyEntity).delete({ id: step.id });
}

export async function listChanges(db: DataSource, workspaceId: string): Promise<Change[]> {
  const rows = (await db.query(
    'SELECT id, summary, by_name AS byName, at, undone_at AS undoneAt FROM library_change WHERE workspace_id = ? ORDER BY at DESC LIMIT 30',
    [workspaceId],
  )) as { id: string; summary: string; byName: string; at: Date; undoneAt: Date | null }[];
  return rows.map((r) => ({ id: r.id, summary: r.summary, by: r.byName, at: r.at.toISOString(), undone: r.undoneAt !== null }));
}
