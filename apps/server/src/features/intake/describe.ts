import type { BundleSuggestion, Intake, IntakeItem } from '@orderly-glyph/schema';
import { In, type DataSource } from 'typeorm';
import { notFound } from '../../platform/http/problem.js';
import { Account } from '../accounts/index.js';
import { CompanionEntity, type CompanionRow, suggestionsOf } from '../licenses/index.js';
import { MOST_TRIES } from './job.js';
import { Bundle, IntakeEntity, type IntakeRow, type ItemRow } from './rows.js';

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
  const accounts = await db.getRepository(Account).findBy({ id: In(rows.map((r) => r.createdBy)) });
  const people = new Map(accounts.map((a) => [a.id, a.name]));
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
    'SELECT i.id, i.path, b.name AS bundle, b.upload_id AS bundleUpload, i.bytes, i.state, i.reason, i.face_id AS faceId, i.companion_id AS companionId, i.state = "set-aside" AND i.tries >= ? AND u.id IS NOT NULL AS again FROM item i JOIN bundle b ON b.id = i.bundle_id LEFT JOIN upload u ON u.id = i.upload_id WHERE i.workspace_id = ? AND i.intake_id = ? ORDER BY i.seq',
    [MOST_TRIES, workspaceId, intakeId],
  )) as (Omit<IntakeItem, 'again'> & { bundleUpload: string | null; again: number })[];
  return rows.map(({ bundleUpload, ...row }) => ({ ...row, again: Number(row.again) > 0, bundle: bundleUpload ? row.bundle : null }));
}

/** What the texts of the intake's bundles say of rights, each with the faces it counts for and those it leaves out. */
export async function intakeSuggestions(db: DataSource, workspaceId: string, intakeId: string): Promise<BundleSuggestion[]> {
  const companions = (await db
    .getRepository(CompanionEntity)
    .createQueryBuilder('c')
    .innerJoin('bundle', 'b', 'b.id = c.bundleId')
    .where('c.workspaceId = :workspaceId AND b.intakeId = :intakeId', { workspaceId, intakeId })
    .orderBy('c.name')
    .getMany()) as CompanionRow[];
  const told = companions.filter((c) => c.findings?.terms || (c.findings?.mentions.length ?? 0) > 0);
  if (told.length === 0) return [];
  const bundles = new Map((await db.getRepository(Bundle).findBy({ intakeId, workspaceId })).map((b) => [b.id, b.name]));
  const links = (await db.query(
    `SELECT cf.companion_id AS companionId, cf.face_id AS faceId, cf.reason, family.name AS family,
       EXISTS (SELECT 1 FROM license_face lf JOIN license l ON l.id = lf.license_id WHERE lf.face_id = face.id AND l.removed_at IS NULL) AS licensed
     FROM companion_face cf JOIN face ON face.id = cf.face_id JOIN family ON family.id = face.family_id
     WHERE cf.workspace_id = ? AND cf.companion_id IN (?) AND face.removed_at IS NULL ORDER BY family.name, face.weight_class`,
    [workspaceId, told.map((c) => c.id)],
  )) as { companionId: string; faceId: string; reason: string | null; family: string; licensed: number }[];
  const linksOf = new Map<string, typeof links>();
  for (const link of links) linksOf.set(link.companionId, [...(linksOf.get(link.companionId) ?? []), link]);
  const out = told.map((c): BundleSuggestion => {
    const own = linksOf.get(c.id) ?? [];
    const covered = own.filter((l) => l.reason === null);
    const open = covered.filter((l) => !l.licensed);
    const left = new Map<string, BundleSuggestion['left'][number]>();
    for (const l of own.filter((x) => x.reason !== null)) {
      const key = `${l.family} ${l.reason}`;
      const known = left.get(key);
      if (known) known.faces++;
      else left.set(key, { family: l.family, faces: 1, reason: l.reason! });
    }
    return {
      bundleId: c.bundleId!,
      bundle: bundles.get(c.bundleId!) ?? '',
      companionId: c.id,
      companionName: c.name,
      suggestion: suggestionsOf(c)[0] ?? null,
      faceIds: open.map((l) => l.faceId),
      families: [...new Set(open.map((l) => l.family))],
      left: [...left.values()].slice(0, 40),
      settled: covered.length - open.length,
    };
  });
  // What can be acted on comes first; a known license tells more than terms in somebody's own words.
  const rank = (s: BundleSuggestion): number =>
    (s.faceIds.length > 0 ? 0 : 4) + (s.suggestion?.basis === 'text' ? 0 : s.suggestion ? 1 : 2);
  return out.sort((a, b) => rank(a) - rank(b)).slice(0, 60);
}
