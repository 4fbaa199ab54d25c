import type { EntityManager } from 'typeorm';

/** Why a face must stay: a license or an install rests on it, or a statement was made for it. */
export interface Hold {
  face: string;
  reason: string;
  licensed: boolean;
  installed: boolean;
}

/** Faces of a workspace that something rests on, by id; `null` asks for all faces. */
export async function holdsOf(manager: EntityManager, workspaceId: string, faceIds: readonly string[] | null): Promise<Map<string, Hold>> {
  if (faceIds?.length === 0) return new Map();
  const rows = (await manager.query(
    `SELECT face.id, CONCAT(family.name, ' ', face.style) AS name,
       (SELECT l.name FROM license_face lf JOIN license l ON l.id = lf.license_id AND l.removed_at IS NULL WHERE lf.face_id = face.id LIMIT 1) AS license,
       (SELECT p.name FROM install i JOIN place p ON p.id = i.place_id WHERE i.face_id = face.id AND i.removed_at IS NULL LIMIT 1) AS place,
       EXISTS (SELECT 1 FROM statement s WHERE s.face_id = face.id) AS stated
     FROM face JOIN family ON family.id = face.family_id WHERE face.workspace_id = ?${faceIds ? ' AND face.id IN (?)' : ''}`,
    faceIds ? [workspaceId, faceIds] : [workspaceId],
  )) as { id: string; name: string; license: string | null; place: string | null; stated: number }[];
  const out = new Map<string, Hold>();
  for (const row of rows) {
    const reason = row.place
      ? `it is installed at ${row.place}`
      : row.license
        ? `the license “${row.license}” rests on it`
        : row.stated
          ? 'a statement was made when it was delivered, and that is kept'
          : null;
    if (reason) out.set(row.id, { face: row.name, reason, licensed: row.license !== null, installed: row.place !== null });
  }
  return out;
}
