import { NAMING, valueOf, type Naming } from '@orderly-glyph/core';
import { IsNull, Not, type DataSource, type EntityManager } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import { type Compute, ComputeError } from '../../platform/compute/pool.js';
import { type JobControl, queueJob } from '../../platform/jobs/runner.js';
import { Workspace } from '../accounts/index.js';
import { acceptFacts, FaceEntity, familyFor, familyKey, FileEntity, keepFacts, styleColumns, staleFacts } from '../faces/index.js';
import { Bundle } from '../intake/index.js';
import { CompanionEntity, judgeText, settleBelongings } from '../licenses/index.js';

/** Queues a recomputation for every workspace that lacks a fact or has one of an older version; one at a time each. */
export async function queueRefresh(db: DataSource): Promise<void> {
  const workspaces: { id: string }[] = await db.getRepository(Workspace).find({ select: { id: true } });
  const stale: { id: string }[] = [];
  for (const w of workspaces) if ((await staleFacts(db, w.id)).size > 0) stale.push(w);
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
    const stale = [...(await staleFacts(db, workspaceId))];
    for (const [done, [fileId, ids]] of stale.entries()) {
      await control.progress(done, stale.length, 'Reading faces again');
      const file = await db.getRepository(FileEntity).findOneBy({ id: fileId });
      if (!file) continue;
      try {
        const { faces } = await compute.run('inspect', [await getBlob(db.manager, workspaceId, file.sha256), file.name, ids]);
        await db.transaction(async (manager) => {
          for (const [faceIndex, values] of faces.entries()) {
            await keepFacts(manager, [{ workspaceId, fileId, faceIndex, values }]);
            const naming = valueOf(values, NAMING);
            if (naming) await replace(manager, workspaceId, fileId, faceIndex, naming);
          }
        });
      } catch (error) {
        if (!(error instanceof ComputeError)) throw error;
        // A file that was read once and is refused now keeps its former facts, and is not tried for ever.
        console.error(`Reading ${file.name} again failed:`, error.failure.message);
        await acceptFacts(db, workspaceId, fileId, ids);
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
    const bundles = await db.getRepository(Bundle).find({ select: { id: true }, where: { workspaceId } });
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
  const { style, ...rest } = styleColumns(naming);
  const moved = !row.ownFamily && !row.ownName && row.nameKey !== familyKey(naming.family);
  await manager.getRepository(FaceEntity).update(
    { id: row.id },
    {
      ...rest,
      ...(row.ownStyle ? {} : { style }),
      ...(moved ? { familyId: await familyFor(manager, workspaceId, naming.family) } : {}),
    },
  );
}
