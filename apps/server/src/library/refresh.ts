import { FACTS_VERSION, type Naming } from '@orderly-glyph/core';
import { IsNull, LessThan, Not, type DataSource, type EntityManager } from 'typeorm';
import { ComputeError, type Compute } from '../compute/pool.js';
import { getBlob } from '../db/blobs.js';
import { CompanionEntity, FaceEntity, FaceFile, FileEntity } from '../db/entities.js';
import { judgeText } from '../intake/companion.js';
import { settleBelongings } from '../licenses/belonging.js';
import { derivedColumns, familyFor, familyKey, placeColumns } from '../intake/store.js';
import { queueJob, type JobControl } from '../jobs/runner.js';

/** Queues a recomputation for every workspace that has facts of an older version; one at a time each. */
export async function queueRefresh(db: DataSource): Promise<void> {
  const stale = (await db.query('SELECT DISTINCT workspace_id AS id FROM face_file WHERE facts_version < ?', [FACTS_VERSION])) as {
    id: string;
  }[];
  for (const { id: workspaceId } of stale)
    await db.transaction(async (manager) => {
      await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [workspaceId]);
      const [open] = (await manager.query(
        "SELECT id FROM job WHERE workspace_id = ? AND kind = 'facts' AND state IN ('queued', 'running')",
        [workspaceId],
      )) as { id: string }[];
      if (open) return;
      await queueJob(manager, { workspaceId, kind: 'facts', subjectId: workspaceId });
    });
}

/** Computes the facts of all stale faces anew, file by file; what is done stays done. */
export function refreshWork({ db, compute }: { db: DataSource; compute: Compute }) {
  return async (control: JobControl): Promise<string> => {
    const { workspaceId } = control.row;
    const stale = await db
      .getRepository(FaceFile)
      .find({ select: { id: true, fileId: true }, where: { workspaceId, factsVersion: LessThan(FACTS_VERSION) } });
    const files = [...new Set(stale.map((s) => s.fileId))];
    for (const [done, fileId] of files.entries()) {
      await control.progress(done, files.length, 'Reading faces again');
      const file = await db.getRepository(FileEntity).findOneBy({ id: fileId });
      if (!file) continue;
      try {
        const { facts, coverage, shapes } = await compute.run('inspect', [await getBlob(db.manager, workspaceId, file.sha256)]);
        await db.transaction(async (manager) => {
          for (const face of facts.faces) {
            const derived = derivedColumns(face, coverage[face.index] ?? null, shapes[face.index] ?? null, file.name);
            await manager.getRepository(FaceFile).update({ fileId, faceIndex: face.index }, derived);
            await replace(manager, workspaceId, fileId, face.index, derived.naming!);
          }
        });
      } catch (error) {
        if (!(error instanceof ComputeError)) throw error;
        // A file that was read once and is refused now keeps its former facts, and is not tried for ever.
        console.error(`Reading ${file.name} again failed:`, error.failure.message);
        await db.getRepository(FaceFile).update({ fileId }, { factsVersion: FACTS_VERSION });
      }
    }
    // Texts read by an older version are read anew, and which of them count for which faces.
    const unread = await db.getRepository(CompanionEntity).findBy({ workspaceId, findings: IsNull(), content: Not(IsNull()) });
    for (const c of unread) {
      await control.checkpoint();
      try {
        const { kind, recognition, findings } = await judgeText(compute, c.content!, c.name, c.kind);
        await db.getRepository(CompanionEntity).update({ id: c.id }, { kind, recognition, findings } as never);
      } catch (error) {
        if (!(error instanceof ComputeError)) throw error;
        console.error(`Reading ${c.name} again failed: ${error.message}`);
      }
    }
    const bundles = (await db.query('SELECT id FROM bundle WHERE workspace_id = ?', [workspaceId])) as { id: string }[];
    await settleBelongings(
      db,
      compute,
      workspaceId,
      bundles.map((b) => b.id),
    );
    // Families that all faces left for a better name.
    await db.query(
      'DELETE FROM family WHERE workspace_id = ? AND own_name = 0 AND merged_into IS NULL AND favorite = 0 AND note IS NULL AND labels IS NULL AND NOT EXISTS (SELECT 1 FROM face WHERE face.family_id = family.id)',
      [workspaceId],
    );
    return 'Every face was read again.';
  };
}

/** Puts a face where its leading file's names say now, except where a person has put it. */
async function replace(manager: EntityManager, workspaceId: string, fileId: string, faceIndex: number, naming: Naming): Promise<void> {
  const [row] = (await manager.query(
    `SELECT face.id, face.own_style AS ownStyle, face.own_family AS ownFamily, family.own_name AS ownName, family.name_key AS nameKey
     FROM face_file ff JOIN face ON face.lead_id = ff.id JOIN family ON family.id = face.family_id WHERE ff.file_id = ? AND ff.face_index = ?`,
    [fileId, faceIndex],
  )) as { id: string; ownStyle: number; ownFamily: number; ownName: number; nameKey: string }[];
  if (!row) return;
  const { style, ...place } = placeColumns(naming);
  const moved = !row.ownFamily && !row.ownName && row.nameKey !== familyKey(naming.family);
  await manager.getRepository(FaceEntity).update(
    { id: row.id },
    {
      ...place,
      ...(row.ownStyle ? {} : { style }),
      ...(moved ? { familyId: await familyFor(manager, workspaceId, naming.family) } : {}),
    },
  );
}
