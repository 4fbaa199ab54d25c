import { randomUUID } from 'node:crypto';
import { nameKey } from '@orderly-glyph/core';
import type { Change, ChangeDone, LibraryAct } from '@orderly-glyph/schema';
import { KEEP_RULE } from '@orderly-glyph/schema';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { conflict, invalid, notFound, stale } from '../../platform/http/problem.js';
import { Workspace } from '../accounts/index.js';
import { FaceEntity, FaceFile, type FaceRow, FamilyEntity, familyKey, type FamilyRow, newFamily } from '../faces/index.js';
import { planResolution } from './doubles.js';
import { holdsOf } from './holds.js';
import { type ChangeStep, CollectionEntity, type CollectionRow, LibraryChange } from './rows.js';

const REPOSITORIES = {
  family: FamilyEntity,
  face: FaceEntity,
  face_file: FaceFile,
  collection: CollectionEntity,
  workspace: Workspace,
} as const;

type Row = Record<string, unknown>;
const plain = (value: unknown): unknown => (value instanceof Date ? value.toISOString() : (value ?? null));
const same = (a: unknown, b: unknown): boolean => JSON.stringify(plain(a)) === JSON.stringify(plain(b));
const counted = (n: number, one: string, many = `${one}s`): string => `${n.toLocaleString('en-US')} ${n === 1 ? one : many}`;

/** Gathers what one change does to rows, so that it can be carried out, recorded and taken back as a whole. */
class Steps {
  readonly list: ChangeStep[] = [];

  /** Only what really differs becomes a step. */
  set<T extends { id: string }>(table: ChangeStep['table'], row: T, after: Partial<T>): boolean {
    const changed = Object.entries(after).filter(([key, value]) => !same(value, (row as unknown as Row)[key]));
    if (changed.length === 0) return false;
    const before = Object.fromEntries(changed.map(([key]) => [key, plain((row as unknown as Row)[key])]));
    this.list.push({ table, id: row.id, before, after: Object.fromEntries(changed.map(([key, value]) => [key, plain(value)])) });
    return true;
  }

  add<T extends { id: string }>(table: ChangeStep['table'], row: T): void {
    this.list.push({ table, id: row.id, before: null, after: Object.fromEntries(Object.entries(row).map(([k, v]) => [k, plain(v)])) });
  }
}

/** Dates travel through the record as text. */
function revive(values: Row): Row {
  return Object.fromEntries(
    Object.entries(values).map(([key, value]) => [key, key.endsWith('At') && typeof value === 'string' ? new Date(value) : value]),
  );
}

async function carryOut(manager: EntityManager, steps: readonly ChangeStep[]): Promise<void> {
  for (const step of steps) {
    const repository = manager.getRepository<Row & { id: string }>(REPOSITORIES[step.table] as never);
    if (step.before === null) await repository.insert(revive(step.after) as never);
    else await repository.update({ id: step.id } as never, revive(step.after) as never);
    if (step.table === 'family') await manager.query('UPDATE family SET version = version + 1 WHERE id = ?', [step.id]);
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

async function familiesOf(manager: EntityManager, workspaceId: string, ids: readonly string[]): Promise<FamilyRow[]> {
  const wanted = [...new Set(ids)];
  const rows = await manager.getRepository(FamilyEntity).findBy({ workspaceId, id: In(wanted) });
  if (rows.length < wanted.length) throw notFound('A family of these');
  return rows;
}
async function facesOf(manager: EntityManager, workspaceId: string, ids: readonly string[]): Promise<FaceRow[]> {
  const wanted = [...new Set(ids)];
  const rows = wanted.length === 0 ? [] : await manager.getRepository(FaceEntity).findBy({ workspaceId, id: In(wanted) });
  if (rows.length < wanted.length) throw notFound('A face of these');
  return rows;
}
async function collectionOf(manager: EntityManager, workspaceId: string, id: string): Promise<CollectionRow> {
  const row = await manager.getRepository(CollectionEntity).findOneBy({ workspaceId, id });
  if (!row || row.removedAt) throw notFound('This collection');
  return row;
}

/** What a person typed over an older state would undo what somebody else wrote meanwhile. */
function refuseStale(rows: readonly FamilyRow[], version: number | undefined): void {
  const [row] = rows;
  if (version !== undefined && rows.length === 1 && row!.version !== version)
    throw stale(`Somebody changed “${row!.name}” while you worked on it`);
}

/** Carries out what a person asked for, all of it or nothing, and says how it went. @throws HttpProblem */
export async function changeLibrary(db: DataSource, who: Who, act: LibraryAct): Promise<ChangeDone> {
  return db.transaction(async (manager) => {
    await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [who.workspaceId]);
    const steps = new Steps();
    const { summary, left = [] } = await plan(manager, who.workspaceId, act, steps);
    const changeId = await record(manager, who, summary, steps.list);
    return { changeId, summary: changeId === null && left.length === 0 ? 'Nothing had to be changed.' : summary, left };
  });
}

type Planned = { summary: string; left?: string[] };

async function plan(manager: EntityManager, workspaceId: string, act: LibraryAct, steps: Steps): Promise<Planned> {
  const families = (ids: readonly string[]): Promise<FamilyRow[]> => familiesOf(manager, workspaceId, ids);
  const faces = (ids: readonly string[]): Promise<FaceRow[]> => facesOf(manager, workspaceId, ids);
  switch (act.act) {
    case 'favorite': {
      const rows = await families(act.familyIds);
      rows.forEach((f) => steps.set('family', f, { favorite: act.on }));
      return { summary: `${nameOf(rows)} ${act.on ? 'made a favorite' : 'no longer a favorite'}` };
    }
    case 'archive': {
      const rows = await families(act.familyIds);
      rows.forEach((f) => steps.set('family', f, { archivedAt: act.on ? (f.archivedAt ?? new Date()) : null }));
      return { summary: `${nameOf(rows)} ${act.on ? 'archived' : 'back from the archive'}` };
    }
    case 'label': {
      const rows = await families(act.familyIds);
      for (const f of rows) {
        const kept = (f.labels ?? []).filter((l) => !act.remove.includes(l));
        const labels = [...kept, ...act.add.filter((l) => !kept.includes(l))].slice(0, 40);
        if (!same(labels, f.labels ?? [])) steps.set('family', f, { labels });
      }
      const words = [
        act.add.length > 0 ? `labeled ${act.add.join(', ')}` : '',
        act.remove.length > 0 ? `no longer ${act.remove.join(', ')}` : '',
      ];
      return { summary: `${nameOf(rows)} ${words.filter(Boolean).join(', ') || 'looked at'}` };
    }
    case 'note': {
      const rows = await families(act.familyIds);
      refuseStale(rows, act.version);
      rows.forEach((f) => steps.set('family', f, { note: act.note || null }));
      return { summary: `Note on ${nameOf(rows)} ${act.note ? 'written' : 'removed'}` };
    }
    case 'rename-family': {
      const [family] = (await families([act.familyId])) as [FamilyRow];
      refuseStale([family], act.version);
      await refuseTakenName(manager, workspaceId, act.name, [family.id]);
      // The key stays that of the files' own name, so that new faces of it still find their family.
      steps.set('family', family, { name: act.name, ownName: true });
      return { summary: `${family.name} is now called ${act.name}` };
    }
    case 'rename-style': {
      const [face] = (await faces([act.faceId])) as [FaceRow];
      steps.set('face', face, { style: act.style, ownStyle: true });
      return { summary: `The style ${face.style} is now called ${act.style}` };
    }
    case 'merge': {
      const rows = await families([...act.familyIds, act.into]);
      const into = rows.find((f) => f.id === act.into)!;
      const others = rows.filter((f) => f.id !== into.id);
      if (others.length === 0) throw invalid('Choose at least two families to put together.');
      const moved = await manager.getRepository(FaceEntity).findBy({ workspaceId, familyId: In(others.map((f) => f.id)) });
      moved.forEach((f) => steps.set('face', f, { familyId: into.id, ownFamily: true }));
      // What was merged into one of these before follows along.
      const earlier = await manager.getRepository(FamilyEntity).findBy({ workspaceId, mergedInto: In(others.map((f) => f.id)) });
      [...others, ...earlier].forEach((f) => steps.set('family', f, { mergedInto: into.id }));
      steps.set('family', into, { ownName: true, mergedInto: null });
      return { summary: `${nameOf(others)} put into ${into.name}` };
    }
    case 'split': {
      const rows = await faces(act.faceIds);
      const known = await manager.getRepository(FamilyEntity).findOneBy({ workspaceId, nameKey: familyKey(act.name) });
      const occupied = known !== null && (await manager.getRepository(FaceEntity).countBy({ workspaceId, familyId: known.id })) > 0;
      if (occupied)
        throw conflict(`There is a family called ${known.name} already. Choose another name, or merge the two. Nothing was changed.`);
      await refuseTakenName(manager, workspaceId, act.name, known ? [known.id] : []);
      let id = known?.id;
      if (known) steps.set('family', known, { name: act.name, ownName: true, mergedInto: null });
      else {
        id = randomUUID();
        steps.add('family', { ...newFamily(id, workspaceId, act.name), ownName: true });
      }
      rows.forEach((f) => steps.set('face', f, { familyId: id!, ownFamily: true }));
      return { summary: `${counted(rows.length, 'face')} made a family of their own, ${act.name}` };
    }
    case 'kind': {
      const rows = await faces(act.faceIds);
      rows.forEach((f) => steps.set('face', f, { kind: act.kind }));
      return {
        summary: act.kind
          ? `${counted(rows.length, 'face')} called ${act.kind}`
          : `The computed kind of ${counted(rows.length, 'face')} holds again`,
      };
    }
    case 'collect': {
      const rows = await families(act.familyIds);
      const ids = rows.map((f) => f.id);
      if (act.collectionId === null) {
        if (!act.name) throw invalid('Give the collection a name.', 'name');
        const named = await manager.getRepository(CollectionEntity).findBy({ workspaceId });
        if (named.some((c) => !c.removedAt && c.name.toLowerCase() === act.name!.toLowerCase()))
          throw conflict(`There is a collection called ${act.name} already. Nothing was changed.`);
        steps.add('collection', {
          id: randomUUID(),
          workspaceId,
          name: act.name,
          familyIds: ids,
          createdAt: new Date(),
          removedAt: null,
        } as CollectionRow);
        return { summary: `${nameOf(rows)} put into the new collection ${act.name}` };
      }
      const collection = await collectionOf(manager, workspaceId, act.collectionId);
      const before = collection.familyIds ?? [];
      const familyIds = act.on ? [...before, ...ids.filter((i) => !before.includes(i))] : before.filter((i) => !ids.includes(i));
      steps.set('collection', collection, { familyIds });
      return { summary: `${nameOf(rows)} ${act.on ? 'put into' : 'taken out of'} the collection ${collection.name}` };
    }
    case 'rename-collection': {
      const collection = await collectionOf(manager, workspaceId, act.collectionId);
      steps.set('collection', collection, { name: act.name });
      return { summary: `The collection ${collection.name} is now called ${act.name}` };
    }
    case 'remove-collection': {
      const collection = await collectionOf(manager, workspaceId, act.collectionId);
      steps.set('collection', collection, { removedAt: new Date() });
      return { summary: `The collection ${collection.name} removed; its families stay` };
    }
    case 'resolve': {
      const resolution = await planResolution(manager, workspaceId, act.rule);
      const byId = new Map((await faces([...resolution.folds.keys(), ...resolution.leads.keys()])).map((f) => [f.id, f]));
      for (const [id, into] of resolution.folds) steps.set('face', byId.get(id)!, { foldedInto: into });
      for (const [id, leadId] of resolution.leads) steps.set('face', byId.get(id)!, { leadId });
      const workspace = await manager.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
      if (!same(workspace.keepRule ?? KEEP_RULE, act.rule)) steps.set('workspace', workspace, { keepRule: act.rule });
      const did = [
        resolution.folds.size > 0 ? `${counted(resolution.folds.size, 'double')} folded` : '',
        resolution.leads.size > 0 ? `${counted(resolution.leads.size, 'face')} led by another file` : '',
      ].filter(Boolean);
      return { summary: did.length > 0 ? did.join(', ') : 'The rule was kept; nothing had to be folded', left: resolution.left };
    }
    case 'unfold': {
      const rows = await faces(act.faceIds);
      rows.forEach((f) => steps.set('face', f, { foldedInto: null }));
      return { summary: `${counted(rows.length, 'face stands', 'faces stand')} on their own again` };
    }
    case 'remove':
      return planRemoval(manager, workspaceId, act.faceIds, act.fileIds, steps);
  }
}

/** Takes faces and spare files out; what a license, an install or a statement rests on stays, with the reason. */
async function planRemoval(
  manager: EntityManager,
  workspaceId: string,
  faceIds: readonly string[],
  fileIds: readonly string[],
  steps: Steps,
): Promise<Planned> {
  const left: string[] = [];
  const rows = await facesOf(manager, workspaceId, faceIds);
  const holds = await holdsOf(manager, workspaceId, faceIds);
  const now = new Date();
  let gone = 0;
  for (const face of rows) {
    const hold = holds.get(face.id);
    if (hold) left.push(`${hold.face} stays: ${hold.reason}.`);
    else if (steps.set('face', face, { removedAt: face.removedAt ?? now })) gone++;
  }
  // What stood behind a face that goes stands on its own again, or it would be seen nowhere.
  const going = steps.list.filter((s) => s.table === 'face').map((s) => s.id);
  const behind = going.length === 0 ? [] : await manager.getRepository(FaceEntity).findBy({ workspaceId, foldedInto: In(going) });
  for (const face of behind) if (!going.includes(face.id)) steps.set('face', face, { foldedInto: null });
  const spare =
    fileIds.length === 0 ? [] : await manager.getRepository(FaceFile).findBy({ workspaceId, fileId: In([...new Set(fileIds)]) });
  if (spare.length === 0 && fileIds.length > 0) throw notFound('A file of these');
  let files = 0;
  const leading = new Set(
    spare.length === 0
      ? []
      : (await manager.getRepository(FaceEntity).findBy({ workspaceId, leadId: In(spare.map((s) => s.id)) })).map((f) => f.leadId),
  );
  const leadingFiles = new Set(spare.filter((s) => leading.has(s.id)).map((s) => s.fileId));
  for (const row of spare) {
    if (leadingFiles.has(row.fileId)) continue;
    if (steps.set('face_file', row, { removedAt: row.removedAt ?? now })) files++;
  }
  if (leadingFiles.size > 0) left.push(`${counted(leadingFiles.size, 'file stays', 'files stay')}: a face is led by it.`);
  const what = [gone > 0 ? counted(gone, 'face') : '', files > 0 ? counted(files, 'spare file') : ''].filter(Boolean).join(' and ');
  return { summary: what ? `${what} removed; the space is freed when you say so` : 'Nothing was removed', left };
}

async function refuseTakenName(manager: EntityManager, workspaceId: string, name: string, except: readonly string[]): Promise<void> {
  const rows = (await manager.query(
    'SELECT id, name FROM family WHERE workspace_id = ? AND merged_into IS NULL AND EXISTS (SELECT 1 FROM face WHERE face.family_id = family.id)',
    [workspaceId],
  )) as { id: string; name: string }[];
  const taken = rows.find((r) => !except.includes(r.id) && nameKey(r.name) === nameKey(name));
  if (taken) throw conflict(`There is a family called ${taken.name} already. Choose another name, or merge the two. Nothing was changed.`);
}

const nameOf = (rows: readonly FamilyRow[]): string => (rows.length === 1 ? rows[0]!.name : counted(rows.length, 'family', 'families'));

/** Takes a change back where nothing else was done to the same rows since; says what had to stay. @throws HttpProblem 404, 409 */
export async function undoChange(db: DataSource, who: Who, changeId: string): Promise<ChangeDone> {
  return db.transaction(async (manager) => {
    await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [who.workspaceId]);
    const change = await manager.getRepository(LibraryChange).findOneBy({ id: changeId, workspaceId: who.workspaceId });
    if (!change) throw notFound('This change');
    if (change.undoneAt) throw conflict('This was taken back already.');
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
      if (back.length > 0) await repository.update({ id: step.id } as never, revive(Object.fromEntries(back)) as never);
    }
    await manager.getRepository(LibraryChange).update({ id: changeId }, { undoneAt: new Date() });
    return {
      changeId,
      summary: `Taken back: ${change.summary}`,
      left: kept > 0 ? [`${counted(kept, 'thing')} had been changed again since, or is gone, and stays as it is.`] : [],
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
