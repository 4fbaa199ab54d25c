import {
  COVERAGE,
  FACTS,
  KIND,
  NAMING,
  type Coverage,
  type FaceFacts,
  type FontFormat,
  type Kind,
  type KindJudgement,
  type Naming,
} from '@orderly-glyph/core';
import type { DataSource } from 'typeorm';
import { notFound } from '../../platform/http/problem.js';
import { withFact } from './derived.js';

/** A face with its leading file, as most questions need it. */
export interface LeadRow {
  faceId: string;
  familyId: string;
  familyName: string;
  familyAt: Date;
  style: string;
  weightClass: number;
  widthClass: number;
  italic: number;
  fileId: string;
  fileName: string;
  sha256: string;
  format: FontFormat;
  bytes: number;
  faceIndex: number;
  facts: FaceFacts;
  coverage: Coverage | null;
  slope: Naming['slope'];
  optical: string | null;
  ownKind: Kind | null;
  foldedInto: string | null;
  shape: KindJudgement | null;
  naming: Naming | null;
}

export const FACE_COLUMNS = `face.id AS faceId, face.family_id AS familyId, family.name AS familyName, family.created_at AS familyAt, face.style, face.weight_class AS weightClass, face.width_class AS widthClass, face.italic,
  face.slope, face.optical, face.kind AS ownKind, face.folded_into AS foldedInto, f.id AS fileId, f.name AS fileName, f.sha256, f.format, f.bytes, ff.face_index AS faceIndex`;
const LEAD_SQL = `SELECT ${FACE_COLUMNS}, df.value AS facts, dc.value AS coverage, dk.value AS shape, dn.value AS naming
  FROM face JOIN family ON family.id = face.family_id JOIN face_file ff ON ff.id = face.lead_id JOIN font_file f ON f.id = ff.file_id
    ${withFact(FACTS, 'df')} ${withFact(COVERAGE, 'dc')} ${withFact(KIND, 'dk')} ${withFact(NAMING, 'dn')} WHERE face.workspace_id = ?`;

async function leads(db: DataSource, sql: string, values: unknown[]): Promise<LeadRow[]> {
  const rows = (await db.query(sql, values)) as (Omit<LeadRow, 'facts' | 'coverage' | 'shape' | 'naming'> &
    Record<'facts', string> &
    Record<'coverage' | 'shape' | 'naming', string | null>)[];
  const parse = <T>(text: string | null): T | null => (text === null ? null : (JSON.parse(text) as T));
  return rows.map((row) => ({
    ...row,
    facts: JSON.parse(row.facts) as FaceFacts,
    coverage: parse<Coverage>(row.coverage),
    shape: parse<KindJudgement>(row.shape),
    naming: parse<Naming>(row.naming),
  }));
}

/** @throws HttpProblem 404 when one of the faces is not in the workspace. */
export async function findFaces(db: DataSource, workspaceId: string, faceIds: readonly string[]): Promise<LeadRow[]> {
  if (faceIds.length === 0) return [];
  const rows = await leads(db, `${LEAD_SQL} AND face.id IN (?)`, [workspaceId, faceIds]);
  const byId = new Map(rows.map((r) => [r.faceId, r]));
  return faceIds.map((id) => {
    const row = byId.get(id);
    if (!row) throw notFound('This face');
    return row;
  });
}
