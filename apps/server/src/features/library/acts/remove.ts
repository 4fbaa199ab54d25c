import { In } from 'typeorm';
import { notFound } from '../../../platform/http/problem.js';
import { FaceEntity, FaceFile } from '../../faces/index.js';
import { holdsOf } from '../holds.js';
import { type ActOf, counted } from './act.js';

/** Takes faces and spare files out; what a license, an install or a statement rests on stays, with the reason. */
export const REMOVE: ActOf<'remove'> = {
  id: 'remove',
  async plan({ manager, workspaceId, steps, faces }, { faceIds, fileIds }) {
    const left: string[] = [];
    const rows = await faces(faceIds);
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
    let spareFiles = 0;
    const leading = new Set(
      spare.length === 0
        ? []
        : (await manager.getRepository(FaceEntity).findBy({ workspaceId, leadId: In(spare.map((s) => s.id)) })).map((f) => f.leadId),
    );
    const leadingFiles = new Set(spare.filter((s) => leading.has(s.id)).map((s) => s.fileId));
    for (const row of spare) {
      if (leadingFiles.has(row.fileId)) continue;
      if (steps.set('face_file', row, { removedAt: row.removedAt ?? now })) spareFiles++;
    }
    if (leadingFiles.size > 0) left.push(`${counted(leadingFiles.size, 'file stays', 'files stay')}: a face is led by it.`);
    const what = [gone > 0 ? counted(gone, 'face') : '', spareFiles > 0 ? counted(spareFiles, 'spare file') : '']
      .filter(Boolean)
      .join(' and ');
    return { summary: what ? `${what} removed; the space is freed when you say so` : 'Nothing was removed', left };
  },
};
