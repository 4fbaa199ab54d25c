import { statfs } from 'node:fs/promises';
import type { Storage } from '@orderly-glyph/schema';
import { In, IsNull, Not, type DataSource, type EntityManager } from 'typeorm';
import { freeBytes, type BytesColumn, type RemovedRows } from '../../platform/blobs/refs.js';
import { heldBytes, quotaOf, type Space } from '../../platform/blobs/space.js';
import { FaceEntity, FileEntity, Rendition } from '../faces/index.js';
import { holdsOf } from './holds.js';
import { CollectionEntity } from './rows.js';

const WORDS: Record<string, string> = {
  otf: 'OTF',
  ttf: 'TTF',
  ttc: 'Collections (TTC)',
  woff: 'WOFF',
  woff2: 'WOFF2',
  terms: 'Terms',
  receipt: 'Receipts',
  readme: 'Notes from makers',
  picture: 'Pictures',
  document: 'Documents',
  other: 'Other companions',
};

/** What is stored, by kind of file. Bytes shared by several rows count once, since they are kept once. */
export async function describeStorage(db: DataSource, workspaceId: string, space: Space, rows: readonly RemovedRows[]): Promise<Storage> {
  const fonts = (await db.query(
    'SELECT format AS kind, COUNT(*) AS count, SUM(bytes) AS bytes FROM font_file WHERE workspace_id = ? GROUP BY format',
    [workspaceId],
  )) as { kind: string; count: string; bytes: string }[];
  const companions = (await db.query(
    'SELECT kind, COUNT(*) AS count, SUM(bytes) AS bytes FROM (SELECT sha256, MIN(kind) AS kind, MAX(bytes) AS bytes FROM companion WHERE workspace_id = ? GROUP BY sha256) AS kept GROUP BY kind',
    [workspaceId],
  )) as { kind: string; count: string; bytes: string }[];
  const [{ made }] = (await db.query(
    `SELECT COALESCE(SUM(b.bytes), 0) AS made FROM blob_head b WHERE b.workspace_id = ?
       AND NOT EXISTS (SELECT 1 FROM font_file f WHERE f.workspace_id = b.workspace_id AND f.sha256 = b.sha256)
       AND NOT EXISTS (SELECT 1 FROM companion c WHERE c.workspace_id = b.workspace_id AND c.sha256 = b.sha256)`,
    [workspaceId],
  )) as [{ made: string }];
  const gone = await removable(db.manager, workspaceId);
  const [{ families, faces }] = (await db.query(
    'SELECT COUNT(DISTINCT family_id) AS families, COUNT(*) AS faces FROM face WHERE workspace_id = ? AND removed_at IS NULL AND folded_into IS NULL',
    [workspaceId],
  )) as [{ families: string; faces: string }];
  const kinds = [...fonts, ...companions].map((k) => ({ kind: WORDS[k.kind] ?? k.kind, count: Number(k.count), bytes: Number(k.bytes) }));
  const disk = await statfs(space.dataDir).catch(() => null);
  return {
    kinds: kinds.sort((a, b) => b.bytes - a.bytes),
    total: kinds.reduce((sum, k) => sum + k.bytes, 0),
    made: Number(made),
    removed: {
      files: gone.length,
      bytes: gone.reduce((sum, f) => sum + f.bytes, 0),
      others: await removedRows(db.manager, workspaceId, rows),
    },
    ...(await quotaOf(db, space, workspaceId)),
    free: disk ? disk.bavail * disk.bsize : null,
    families: Number(families),
    faces: Number(faces),
    neverUsed: await neverUsed(db, workspaceId),
  };
}

async function removedRows(manager: EntityManager, workspaceId: string, rows: readonly RemovedRows[]): Promise<number> {
  let count = 0;
  for (const { table, where } of rows) {
    const [row] = (await manager.query(`SELECT COUNT(*) AS n FROM \`${table}\` r WHERE r.workspace_id = ? AND ${where}`, [
      workspaceId,
    ])) as {
      n: string;
    }[];
    count += Number(row?.n ?? 0);
  }
  return count;
}

/** How long a face must be here before not having been used says anything. */
const UNUSED_DAYS = 90;

/** Faces nothing was ever done with: no license on record, no delivery, no favorite, collection, label or note. */
async function neverUsed(db: DataSource, workspaceId: string): Promise<Storage['neverUsed']> {
  const holds = await holdsOf(db.manager, workspaceId, null);
  const collections = await db.getRepository(CollectionEntity).findBy({ workspaceId, removedAt: IsNull() });
  const collected = new Set(collections.flatMap((c) => c.familyIds ?? []));
  const rows = (await db.query(
    `SELECT face.id AS faceId, face.family_id AS familyId, CONCAT(family.name, ' ', face.style) AS face, face.created_at AS addedAt,
       (SELECT SUM(f.bytes) FROM face_file x JOIN font_file f ON f.id = x.file_id WHERE x.face_id = face.id AND x.removed_at IS NULL) AS bytes
     FROM face JOIN family ON family.id = face.family_id
     WHERE face.workspace_id = ? AND face.removed_at IS NULL AND family.favorite = 0 AND family.note IS NULL AND (family.labels IS NULL OR family.labels = '[]')
       AND face.created_at < ?
       AND NOT EXISTS (SELECT 1 FROM delivery_item d WHERE d.face_id = face.id)
     ORDER BY face.created_at, family.name, face.weight_class`,
    [workspaceId, new Date(Date.now() - UNUSED_DAYS * 86_400_000)],
  )) as { faceId: string; familyId: string; face: string; addedAt: Date; bytes: string | null }[];
  return rows
    .filter((r) => !holds.has(r.faceId) && !collected.has(r.familyId))
    .map((r) => ({ faceId: r.faceId, face: r.face, bytes: Number(r.bytes ?? 0), addedAt: r.addedAt.toISOString() }));
}

/** Files of which no face is in use any more: all their faces are removed, or the file was removed beside its leading one. */
async function removable(manager: EntityManager, workspaceId: string): Promise<{ id: string; sha256: string; bytes: number }[]> {
  return (await manager.query(
    `SELECT f.id, f.sha256, f.bytes FROM font_file f WHERE f.workspace_id = ?
       AND NOT EXISTS (SELECT 1 FROM face_file ff JOIN face ON face.id = ff.face_id WHERE ff.file_id = f.id AND ff.removed_at IS NULL AND face.removed_at IS NULL)
       AND NOT EXISTS (SELECT 1 FROM face_file ff JOIN face ON face.lead_id = ff.id WHERE ff.file_id = f.id AND face.removed_at IS NULL)`,
    [workspaceId],
  )) as { id: string; sha256: string; bytes: number }[];
}

/**
 * Deletes for good what was removed, in one transaction: files, faces without files, conversions made of them, and bytes
 * that nothing names any more. Faces that a license, an install or a statement has come to rest on since stay.
 */
export async function freeSpace(
  db: DataSource,
  workspaceId: string,
  columns: readonly BytesColumn[],
  rows: readonly RemovedRows[],
): Promise<{ files: number; others: number; bytes: number; left: string[] }> {
  return db.transaction(async (manager) => {
    await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [workspaceId]);
    const faces = manager.getRepository(FaceEntity);
    const removed = await faces.find({ select: { id: true }, where: { workspaceId, removedAt: Not(IsNull()) } });
    const holds = await holdsOf(
      manager,
      workspaceId,
      removed.map((r) => r.id),
    );
    const left = [...holds.values()].map((h) => `${h.face} stays: ${h.reason}.`);
    if (holds.size > 0) await faces.update({ workspaceId, id: In([...holds.keys()]) }, { removedAt: null });
    const files = await removable(manager, workspaceId);
    const before = await heldBytes(manager, workspaceId);
    let others = 0;
    for (const { table, where } of rows) {
      const { affectedRows } = (await manager.query(`DELETE r FROM \`${table}\` r WHERE r.workspace_id = ? AND ${where}`, [
        workspaceId,
      ])) as {
        affectedRows: number;
      };
      others += affectedRows;
    }
    for (let i = 0; i < files.length; i += 500) {
      const part = files.slice(i, i + 500);
      await manager.getRepository(FileEntity).delete({ id: In(part.map((f) => f.id)) });
      await manager.getRepository(Rendition).delete({ workspaceId, sourceSha256: In(part.map((f) => f.sha256)) });
    }
    // A face behind which others were folded may go only with them in the list again.
    await manager.query(
      `UPDATE face f LEFT JOIN face keeper ON keeper.id = f.folded_into LEFT JOIN face_file ff ON ff.face_id = keeper.id
       SET f.folded_into = NULL WHERE f.workspace_id = ? AND f.folded_into IS NOT NULL AND ff.id IS NULL`,
      [workspaceId],
    );
    await manager.query('DELETE FROM face WHERE workspace_id = ? AND NOT EXISTS (SELECT 1 FROM face_file ff WHERE ff.face_id = face.id)', [
      workspaceId,
    ]);
    await freeBytes(manager, workspaceId, columns);
    return { files: files.length, others, bytes: Math.max(0, before - (await heldBytes(manager, workspaceId))), left };
  });
}
