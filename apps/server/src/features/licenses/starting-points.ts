import { randomUUID } from 'node:crypto';
import type { StartingPoint } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { conflict, notFound } from '../../platform/http/problem.js';
import { StartingPointEntity } from './rows.js';

/** A list a person can look through. */
const MOST = 50;

export async function listStartingPoints(db: DataSource, workspaceId: string): Promise<StartingPoint[]> {
  const rows = await db.getRepository(StartingPointEntity).find({ where: { workspaceId }, order: { name: 'ASC' } });
  return rows.map((r) => ({ id: r.id, name: r.name, ...r.fields }));
}

/** Keeps answers under a name; one of the same name is replaced. */
export async function keepStartingPoint(
  db: DataSource,
  workspaceId: string,
  { name, ...fields }: Omit<StartingPoint, 'id'>,
): Promise<StartingPoint[]> {
  await db.transaction(async (manager) => {
    const points = manager.getRepository(StartingPointEntity);
    const known = await points.findBy({ workspaceId });
    const same = known.find((p) => p.name.toLowerCase() === name.toLowerCase());
    if (same) await points.update({ id: same.id }, { name, fields });
    else if (known.length >= MOST) throw conflict(`${MOST} starting points are kept already. Forget one first.`);
    else await points.insert({ id: randomUUID(), workspaceId, name, fields });
  });
  return listStartingPoints(db, workspaceId);
}

export async function dropStartingPoint(db: DataSource, workspaceId: string, id: string): Promise<void> {
  const { affected } = await db.getRepository(StartingPointEntity).delete({ id, workspaceId });
  if (!affected) throw notFound('This starting point');
}
