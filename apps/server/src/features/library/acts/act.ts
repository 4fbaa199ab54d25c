import type { LibraryAct } from '@orderly-glyph/schema';
import { nameKey } from '@orderly-glyph/core';
import { In, type EntityManager } from 'typeorm';
import { conflict, notFound, stale } from '../../../platform/http/problem.js';
import { FaceEntity, type FaceRow, FamilyEntity, type FamilyRow } from '../../faces/index.js';
import { type ChangeStep, CollectionEntity, type CollectionRow } from '../rows.js';

type Row = Record<string, unknown>;
/** Values as the record of changes keeps them: dates as text, nothing as null. */
export const plain = (value: unknown): unknown => (value instanceof Date ? value.toISOString() : (value ?? null));
export const same = (a: unknown, b: unknown): boolean => JSON.stringify(plain(a)) === JSON.stringify(plain(b));
export const counted = (n: number, one: string, many = `${one}s`): string => `${n.toLocaleString('en-US')} ${n === 1 ? one : many}`;

/** Gathers what one change does to rows, so that it can be carried out, recorded and taken back as a whole. */
export class Steps {
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

/** What an act did, in words, and what it had to leave, each with the reason. */
export interface Planned {
  summary: string;
  left?: string[];
}

/** What an act works with. It changes nothing itself: it says into `steps` what is to be changed, so that it can be taken back. */
export interface ActContext {
  manager: EntityManager;
  workspaceId: string;
  steps: Steps;
  /** @throws HttpProblem 404 when one is not here */
  families(ids: readonly string[]): Promise<FamilyRow[]>;
  /** @throws HttpProblem 404 when one is not here */
  faces(ids: readonly string[]): Promise<FaceRow[]>;
  /** @throws HttpProblem 404 when it is not here */
  collection(id: string): Promise<CollectionRow>;
}

/** One thing a person can do to the order of the library. One file, and a line in the index; its fields stand in the schema. */
export interface Act<A extends { act: string }> {
  id: string;
  /** @throws HttpProblem when it cannot be done; nothing has happened then */
  plan(context: ActContext, act: A): Promise<Planned>;
}
export type ActOf<K extends LibraryAct['act']> = Act<Extract<LibraryAct, { act: K }>>;

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

export const actContext = (manager: EntityManager, workspaceId: string, steps: Steps): ActContext => ({
  manager,
  workspaceId,
  steps,
  families: (ids) => familiesOf(manager, workspaceId, ids),
  faces: (ids) => facesOf(manager, workspaceId, ids),
  collection: (id) => collectionOf(manager, workspaceId, id),
});

/** What a person typed over an older state would undo what somebody else wrote meanwhile. */
export function refuseStale(rows: readonly FamilyRow[], version: number | undefined): void {
  const [row] = rows;
  if (version !== undefined && rows.length === 1 && row!.version !== version)
    throw stale(`Somebody changed “${row!.name}” while you worked on it`);
}

/** @throws HttpProblem when another family has the name */
export async function refuseTakenName(manager: EntityManager, workspaceId: string, name: string, except: readonly string[]): Promise<void> {
  const rows = (await manager.query(
    'SELECT id, name FROM family WHERE workspace_id = ? AND merged_into IS NULL AND EXISTS (SELECT 1 FROM face WHERE face.family_id = family.id)',
    [workspaceId],
  )) as { id: string; name: string }[];
  const taken = rows.find((r) => !except.includes(r.id) && nameKey(r.name) === nameKey(name));
  if (taken) throw conflict(`There is a family called ${taken.name} already. Choose another name, or merge the two. Nothing was changed.`);
}

export const nameOf = (rows: readonly FamilyRow[]): string =>
  rows.length === 1 ? rows[0]!.name : counted(rows.length, 'family', 'families');
/** An act of the registry; which fields it takes the schema has checked before. */
export type AnyAct = Act<{ act: string } & Record<string, never>>;
