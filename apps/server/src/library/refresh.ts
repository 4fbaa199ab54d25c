import { FACTS_VERSION } from '@orderly-glyph/core';
import { LessThan, type DataSource } from 'typeorm';
import { ComputeError, type Compute } from '../compute/pool.js';
import { getBlob } from '../db/blobs.js';
import { FaceFile, FileEntity } from '../db/entities.js';
import { derivedColumns } from '../intake/store.js';
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
        const { facts, coverage } = await compute.run('inspect', [await getBlob(db.manager, workspaceId, file.sha256)]);
        for (const face of facts.faces)
          await db.getRepository(FaceFile).update({ fileId, faceIndex: face.index }, derivedColumns(face, coverage[face.index] ?? null));
      } catch (error) {
        if (!(error instanceof ComputeError)) throw error;
        // A file that was read once and is refused now keeps its former facts, and is not tried for ever.
        console.error(`Reading ${file.name} again failed:`, error.failure.message);
        await db.getRepository(FaceFile).update({ fileId }, { factsVersion: FACTS_VERSION });
      }
    }
    return 'Every face was read again.';
  };
}
