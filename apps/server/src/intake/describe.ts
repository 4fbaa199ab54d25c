import type { BundleSuggestion, Intake, IntakeItem } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { CompanionEntity, IntakeEntity, type IntakeRow, type ItemRow } from '../db/entities.js';
import { notFound } from '../http/problem.js';

export async function describeIntake(db: DataSource, workspaceId: string, id: string): Promise<Intake> {
  const row = await db.getRepository(IntakeEntity).findOneBy({ id, workspaceId });
  if (!row) throw notFound('This intake');
  return (await describeIntakes(db, workspaceId, [row]))[0]!;
}

export async function describeIntakes(db: DataSource, workspaceId: string, rows: readonly IntakeRow[]): Promise<Intake[]> {
  if (rows.length === 0) return [];
  const ids = rows.map((r) => r.id);
  const counts = (await db.query(
    'SELECT intake_id AS intakeId, state, COUNT(*) AS count, SUM(bytes) AS bytes FROM item WHERE workspace_id = ? AND intake_id IN (?) GROUP BY intake_id, state',
    [workspaceId, ids],
  )) as { intakeId: string; state: ItemRow['state']; count: number; bytes: number }[];
  const uploads = (await db.query(
    "SELECT id, intake_id AS intakeId, name, bytes FROM upload WHERE workspace_id = ? AND intake_id IN (?) AND state <> 'receiving' ORDER BY touched_at",
    [workspaceId, ids],
  )) as { id: string; intakeId: string; name: string; bytes: number }[];
  const families = (await db.query(
    'SELECT b.intake_id AS intakeId, COUNT(DISTINCT face.family_id) AS count FROM bundle b JOIN bundle_file bf ON bf.bundle_id = b.id JOIN face_file ff ON ff.file_id = bf.file_id JOIN face ON face.id = ff.face_id WHERE b.workspace_id = ? AND b.intake_id IN (?) GROUP BY b.intake_id',
    [workspaceId, ids],
  )) as { intakeId: string; count: number }[];
  const people = new Map(
    (
      (await db.query('SELECT id, name FROM account WHERE id IN (?)', [rows.map((r) => r.createdBy)])) as { id: string; name: string }[]
    ).map((a) => [a.id, a.name]),
  );
  return rows.map((row) => {
    const own = counts.filter((c) => c.intakeId === row.id);
    const of = (state: ItemRow['state']): number => Number(own.find((c) => c.state === state)?.count ?? 0);
    const sent = uploads.filter((u) => u.intakeId === row.id);
    return {
      id: row.id,
      label: row.label,
      state: row.state,
      by: people.get(row.createdBy) ?? 'somebody who left',
      createdAt: row.createdAt.toISOString(),
      bytes: own.length > 0 ? own.reduce((sum, c) => sum + Number(c.bytes), 0) : sent.reduce((sum, u) => sum + u.bytes, 0),
      uploads: sent.map((u) => ({ id: u.id, name: u.name, bytes: u.bytes })),
      counts: {
        waiting: of('waiting'),
        added: of('added'),
        'already-here': of('already-here'),
        companion: of('companion'),
        'set-aside': of('set-aside'),
        refused: of('refused'),
      },
      familyCount: Number(families.find((f) => f.intakeId === row.id)?.count ?? 0),
      jobId: row.jobId,
    };
  });
}

export async function intakeItems(db: DataSource, workspaceId: string, intakeId: string): Promise<IntakeItem[]> {
  const rows = (await db.query(
    'SELECT i.id, i.path, b.name AS bundle, b.upload_id AS bundleUpload, i.bytes, i.state, i.reason, i.face_id AS faceId, i.companion_id AS companionId FROM item i JOIN bundle b ON b.id = i.bundle_id WHERE i.workspace_id = ? AND i.intake_id = ? ORDER BY i.seq',
    [workspaceId, intakeId],
  )) as (IntakeItem & { bundleUpload: string | null })[];
  return rows.map(({ bundleUpload, ...row }) => ({ ...row, bundle: bundleUpload ? row.bundle : null }));
}

/** What the texts of the intake's bundles are or seem to be, for faces that have no license on record. */
export async function intakeSuggestions(db: DataSource, workspaceId: string, intakeId: string): Promise<BundleSuggestion[]> {
  const companions = await db
    .getRepository(CompanionEntity)
    .createQueryBuilder('c')
    .innerJoin('bundle', 'b', 'b.id = c.bundleId')
    .where('c.workspaceId = :workspaceId AND b.intakeId = :intakeId AND (c.recognition IS NOT NULL OR c.kind = :terms)', {
      terms: 'terms',
      workspaceId,
      intakeId,
    })
    .getMany();
  const out: BundleSuggestion[] = [];
  // A known license tells more than terms in somebody's own words.
  for (const c of companions.sort((a, b) => Number(a.recognition === null) - Number(b.recognition === null))) {
    if (out.some((s) => s.bundleId === c.bundleId && (!c.recognition || s.suggestion?.spdxId === c.recognition.spdxId))) continue;
    const faces = (await db.query(
      `SELECT DISTINCT face.id, family.name, b.name AS bundle FROM bundle_file bf JOIN bundle b ON b.id = bf.bundle_id JOIN face_file ff ON ff.file_id = bf.file_id JOIN face ON face.id = ff.face_id JOIN family ON family.id = face.family_id
       WHERE bf.workspace_id = ? AND bf.bundle_id = ? AND NOT EXISTS (SELECT 1 FROM license_face lf JOIN license l ON l.id = lf.license_id WHERE lf.face_id = face.id AND l.removed_at IS NULL) ORDER BY family.name`,
      [workspaceId, c.bundleId],
    )) as { id: string; name: string; bundle: string }[];
    if (faces.length === 0) continue;
    out.push({
      bundleId: c.bundleId,
      bundle: faces[0]!.bundle,
      faceIds: faces.map((f) => f.id),
      families: [...new Set(faces.map((f) => f.name))],
      suggestion: c.recognition && { ...c.recognition, companionId: c.id, companionName: c.name },
      terms: c.recognition ? null : { companionId: c.id, name: c.name },
    });
  }
  return out;
}
