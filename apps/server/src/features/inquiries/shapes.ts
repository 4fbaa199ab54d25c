import { SHAPES } from '@orderly-glyph/core';
import type { DataSource } from 'typeorm';
import { withFact } from '../faces/index.js';

/** Faces of one answer. */
const PART = 200;

interface ShapeRow {
  faceId: string;
  familyId: string;
  shapes: string;
}

/** Shapes of the faces of a workspace, in an order that stays. @param since faces that came in later; all where it is left out */
export async function shapesOf(
  db: DataSource,
  workspaceId: string,
  { from = 0, most = PART, since = null }: { from?: number; most?: number; since?: Date | null } = {},
): Promise<ShapeRow[]> {
  const rows = (await db.query(
    `SELECT face.id AS faceId, face.family_id AS familyId, d.value AS shapes FROM face JOIN face_file ff ON ff.id = face.lead_id JOIN font_file f ON f.id = ff.file_id ${withFact(SHAPES, 'd')}
     WHERE face.workspace_id = ? AND face.removed_at IS NULL AND face.folded_into IS NULL AND d.value IS NOT NULL AND d.value <> 'null' AND (? IS NULL OR f.created_at > ?)
     ORDER BY face.id LIMIT ? OFFSET ?`,
    [workspaceId, since, since, most, from],
  )) as ShapeRow[];
  return rows.map((r) => ({ ...r, shapes: JSON.parse(r.shapes) as string }));
}

/**
 * A part of all shapes as bytes: how many faces there are in it (four bytes), then for each the length of its id, its family's and its
 * shapes (four bytes each), and these three.
 */
export async function shapePack(db: DataSource, workspaceId: string, from: number): Promise<Uint8Array> {
  const rows = await shapesOf(db, workspaceId, { from });
  const parts: Buffer[] = [];
  const number = (v: number): Buffer => {
    const b = Buffer.alloc(4);
    b.writeUInt32BE(v);
    return b;
  };
  parts.push(number(rows.length));
  for (const { faceId, familyId, shapes } of rows) {
    const bytes = Buffer.from(shapes, 'base64');
    parts.push(number(faceId.length), number(familyId.length), number(bytes.length), Buffer.from(faceId), Buffer.from(familyId), bytes);
  }
  return Buffer.concat(parts);
}
