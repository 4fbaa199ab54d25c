import { LINE, NAMING, styleTable, type Naming } from '@orderly-glyph/core';
import type { FamilyDetail } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { notFound } from '../../platform/http/problem.js';
import { FamilyEntity, withFact } from '../faces/index.js';

interface Row {
  id: string;
  style: string;
  ownStyle: number;
  weightClass: number;
  widthClass: number;
  slope: Naming['slope'];
  opticalSize: string | null;
  foldedInto: string | null;
  version: string | null;
  axes: string | null;
  naming: string | null;
  files: string;
}

/** One family: its styles in a regular table, its names as they were read, and what stands behind them. */
export async function getFamily(db: DataSource, workspaceId: string, familyId: string): Promise<FamilyDetail> {
  const family = await db.getRepository(FamilyEntity).findOneBy({ workspaceId, id: familyId });
  if (!family) throw notFound('This family');
  const rows = (await db.query(
    `SELECT face.id, face.style, face.own_style AS ownStyle, face.weight_class AS weightClass, face.width_class AS widthClass, face.slope, face.optical AS opticalSize,
       face.folded_into AS foldedInto, JSON_VALUE(dl.value, '$.version') AS version, CAST(JSON_QUERY(dl.value, '$.axes') AS CHAR) AS axes, dn.value AS naming,
       (SELECT GROUP_CONCAT(DISTINCT f.format) FROM face_file x JOIN font_file f ON f.id = x.file_id WHERE x.face_id = face.id AND x.removed_at IS NULL) AS files
     FROM face JOIN face_file ff ON ff.id = face.lead_id ${withFact(LINE, 'dl')} ${withFact(NAMING, 'dn')} WHERE face.workspace_id = ? AND face.family_id = ? AND face.removed_at IS NULL
     ORDER BY face.width_class, face.weight_class, face.italic, face.style`,
    [workspaceId, familyId],
  )) as Row[];
  const faces = rows.filter((r) => r.foldedInto === null);
  const taken = await db.getRepository(FamilyEntity).findBy({ workspaceId, mergedInto: familyId });
  return {
    id: family.id,
    version: family.version,
    name: family.name,
    ownName: Boolean(family.ownName),
    favorite: Boolean(family.favorite),
    labels: family.labels ?? [],
    note: family.note ?? '',
    archived: family.archivedAt !== null,
    table: styleTable(faces.map((f) => ({ ...f, variable: f.axes !== null && f.axes !== '[]' }))),
    faces: faces.map((f) => ({
      id: f.id,
      style: f.style,
      ownStyle: Boolean(f.ownStyle),
      version: f.version,
      repairs: f.naming ? (JSON.parse(f.naming) as Naming).repairs : [],
      files: (f.files ?? '').split(',').filter(Boolean),
    })),
    folded: rows.filter((r) => r.foldedInto !== null).map((r) => ({ id: r.id, name: r.style, version: r.version, into: r.foldedInto! })),
    taken: taken.map((t) => ({ id: t.id, name: t.name })),
  };
}
