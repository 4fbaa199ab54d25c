import { randomUUID } from 'node:crypto';
import {
  KEEP_RULE,
  type Color,
  type KeptSearch as KeptSearchAnswer,
  type KeptText as KeptTextAnswer,
  type Shelf,
} from '@orderly-glyph/schema';
import { IsNull, type DataSource } from 'typeorm';
import { conflict, notFound } from '../../platform/http/problem.js';
import { Workspace } from '../accounts/index.js';
import { FamilyEntity, staleFacts } from '../faces/index.js';
import { CollectionEntity, KeptSearch, KeptText } from './rows.js';

/** Kept searches and texts are lists a person can look through. */
const MOST_KEPT = 200;

export async function describeShelf(db: DataSource, workspaceId: string): Promise<Shelf> {
  const workspace = await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
  const collections = await db
    .getRepository(CollectionEntity)
    .find({ where: { workspaceId, removedAt: IsNull() }, order: { name: 'ASC' } });
  const searches = await db.getRepository(KeptSearch).find({ where: { workspaceId }, order: { name: 'ASC' } });
  const labeled = await db
    .getRepository(FamilyEntity)
    .find({ select: { id: true, labels: true, archivedAt: true }, where: { workspaceId } });
  const stale = (await staleFacts(db, workspaceId)).size;
  const [job] = (await db.query("SELECT id FROM job WHERE workspace_id = ? AND kind = 'facts' AND state IN ('queued', 'running') LIMIT 1", [
    workspaceId,
  ])) as { id: string }[];
  return {
    collections: collections.map((c) => ({ id: c.id, name: c.name, familyIds: c.familyIds ?? [] })),
    searches: searches.map(({ id, name, query }) => ({ id, name, query })),
    labels: [...new Set(labeled.flatMap((f) => f.labels ?? []))].sort((a, b) => a.localeCompare(b, 'en')),
    palette: workspace.palette ?? [],
    rule: workspace.keepRule ?? KEEP_RULE,
    archived: labeled.filter((f) => f.archivedAt !== null).length,
    stale: Number(stale),
    refreshJobId: job?.id ?? null,
  };
}

export async function keepSearch(db: DataSource, workspaceId: string, name: string, query: string): Promise<KeptSearchAnswer> {
  const searches = db.getRepository(KeptSearch);
  const known = (await searches.findBy({ workspaceId })).find((s) => s.name.toLowerCase() === name.toLowerCase());
  if (known) {
    await searches.update({ id: known.id }, { name, query });
    return { id: known.id, name, query };
  }
  if ((await searches.countBy({ workspaceId })) >= MOST_KEPT) throw conflict(`${MOST_KEPT} sentences are kept already. Forget one first.`);
  const id = randomUUID();
  await searches.insert({ id, workspaceId, name, query, createdAt: new Date() });
  return { id, name, query };
}

export async function dropSearch(db: DataSource, workspaceId: string, id: string): Promise<void> {
  const { affected } = await db.getRepository(KeptSearch).delete({ id, workspaceId });
  if (!affected) throw notFound('This kept sentence');
}

export async function listTexts(db: DataSource, workspaceId: string): Promise<KeptTextAnswer[]> {
  const rows = await db.getRepository(KeptText).find({ where: { workspaceId }, order: { name: 'ASC' } });
  return rows.map(({ id, name, text, createdAt }) => ({ id, name, text, createdAt: createdAt.toISOString() }));
}

export async function keepText(db: DataSource, workspaceId: string, name: string, text: string): Promise<KeptTextAnswer> {
  const texts = db.getRepository(KeptText);
  const createdAt = new Date();
  const known = (await texts.findBy({ workspaceId })).find((t) => t.name.toLowerCase() === name.toLowerCase());
  if (!known && (await texts.countBy({ workspaceId })) >= MOST_KEPT)
    throw conflict(`${MOST_KEPT} texts are kept already. Forget one first.`);
  const id = known?.id ?? randomUUID();
  if (known) await texts.update({ id }, { name, text, createdAt });
  else await texts.insert({ id, workspaceId, name, text, createdAt });
  return { id, name, text, createdAt: createdAt.toISOString() };
}

export async function dropText(db: DataSource, workspaceId: string, id: string): Promise<void> {
  const { affected } = await db.getRepository(KeptText).delete({ id, workspaceId });
  if (!affected) throw notFound('This kept text');
}

export async function setPalette(db: DataSource, workspaceId: string, palette: Color[]): Promise<Color[]> {
  await db.getRepository(Workspace).update({ id: workspaceId }, { palette: palette as never });
  return palette;
}
