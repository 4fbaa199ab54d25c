import { randomUUID } from 'node:crypto';
import { decodeEmbedding, openLicense, reservedNames, USES, verdict, type TextFindings } from '@orderly-glyph/core';
import type { License, LicenseFields } from '@orderly-glyph/schema';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { invalid, notFound, stale } from '../../platform/http/problem.js';
import { todayOf } from '../accounts/index.js';
import { FaceEntity } from '../faces/index.js';
import { describeCompanion, EVIDENCE, licenseRecord } from './describe.js';
import { CompanionEntity, LicenseEntity, LicenseEvidence, LicenseFace, type LicenseRow, LicenseVersion } from './rows.js';

/** A file that says nothing against any use (OpenType specification, OS/2, fsType 0). */
const NOTHING_SAID = decodeEmbedding(0, 4);

export async function describeLicenses(db: DataSource, workspaceId: string, rows: readonly LicenseRow[]): Promise<License[]> {
  if (rows.length === 0) return [];
  const ids = rows.map((r) => r.id);
  const faces = (await db.query(
    'SELECT lf.license_id AS licenseId, lf.face_id AS faceId, family.name FROM license_face lf JOIN face ON face.id = lf.face_id JOIN family ON family.id = face.family_id WHERE lf.workspace_id = ? AND lf.license_id IN (?) ORDER BY family.name',
    [workspaceId, ids],
  )) as { licenseId: string; faceId: string; name: string }[];
  const evidence = (await db.query(
    'SELECT le.license_id AS licenseId, c.id, c.name, c.kind, c.bytes, c.content IS NOT NULL AS readable, c.unread, c.findings, b.name AS bundle FROM license_evidence le JOIN companion c ON c.id = le.companion_id LEFT JOIN bundle b ON b.id = c.bundle_id WHERE le.workspace_id = ? AND le.license_id IN (?)',
    [workspaceId, ids],
  )) as {
    licenseId: string;
    id: string;
    name: string;
    kind: never;
    bytes: number;
    readable: number;
    unread: string | null;
    findings: string | null;
    bundle: string | null;
  }[];
  const today = await todayOf(db, workspaceId);
  return rows.map((row) => {
    const own = faces.filter((f) => f.licenseId === row.id);
    const companions = evidence
      .filter((e) => e.licenseId === row.id)
      .map((e) =>
        describeCompanion(
          { ...e, content: e.readable ? '' : null, findings: e.findings === null ? null : (JSON.parse(e.findings) as TextFindings) },
          e.bundle ?? EVIDENCE,
        ),
      );
    return {
      id: row.id,
      name: row.name,
      kind: row.kind,
      spdxId: row.spdxId,
      grantor: row.grantor,
      uses: row.uses,
      startsOn: row.startsOn,
      endsOn: row.endsOn,
      note: row.note,
      quotes: row.quotes ?? {},
      limits: row.limits ?? {},
      counters: row.counters ?? {},
      duties: row.duties ?? [],
      noticeOn: row.noticeOn,
      price: row.price,
      currency: row.currency,
      boughtOn: row.boughtOn,
      orderNumber: row.orderNumber,
      billedTo: row.billedTo,
      source: row.source,
      confirmed: Boolean(row.confirmed),
      confirmedBy: row.confirmedBy,
      confirmedAt: row.confirmedAt?.toISOString() ?? null,
      version: row.version,
      answers: Object.fromEntries(
        USES.map((use) => [use, verdict(use, [licenseRecord(row)], NOTHING_SAID, today).answer]),
      ) as License['answers'],
      faceIds: own.map((f) => f.faceId),
      companionIds: companions.map((c) => c.id),
      families: [...new Set(own.map((f) => f.name))],
      companions,
      reservedNames: row.reservedNames ?? [],
    };
  });
}

export async function listLicenses(db: DataSource, workspaceId: string): Promise<License[]> {
  const rows = await db.getRepository(LicenseEntity).find({ where: { workspaceId }, order: { createdAt: 'DESC' } });
  return describeLicenses(
    db,
    workspaceId,
    rows.filter((r) => r.removedAt === null),
  );
}

/**
 * Told, in the same transaction, that what is on record for some faces may have changed. Answers with the faces whose license
 * it changed in turn.
 */
export type LicenseFollower = (
  manager: EntityManager,
  who: { workspaceId: string; name: string },
  faceIds: readonly string[],
) => Promise<string[]>;
const followers: LicenseFollower[] = [];
/** A later feature whose rights rest on those of other faces says so once, when the server is put together. */
export const followLicenses = (follower: LicenseFollower): void => {
  if (!followers.includes(follower)) followers.push(follower);
};

/** What decides a verdict; a note or a price does not. */
const BEARS: readonly (keyof LicenseRow & keyof LicenseFields)[] = [
  'kind',
  'spdxId',
  'uses',
  'startsOn',
  'endsOn',
  'limits',
  'counters',
  'duties',
  'confirmed',
];
const bearing = (row: LicenseRow): string => JSON.stringify(BEARS.map((key) => (key === 'confirmed' ? Boolean(row[key]) : row[key])));

/** Records a license or a new version of one. Every version stays, so that a statement can name what it rested on. */
export async function saveLicense(
  db: DataSource,
  who: { workspaceId: string; name: string },
  fields: LicenseFields,
  licenseId: string | null,
  madeOn: number | null = null,
): Promise<Touching<License>> {
  const { workspaceId } = who;
  const { id, faceIds } = await db.transaction((manager) => writeLicense(manager, who, fields, licenseId, madeOn));
  const row = await db.getRepository(LicenseEntity).findOneByOrFail({ id, workspaceId });
  return { said: (await describeLicenses(db, workspaceId, [row]))[0]!, faceIds };
}

/** What a change answers, and the faces that may look different after it. */
export interface Touching<T> {
  said: T;
  faceIds: string[];
}

/** Writes a license in the caller's transaction; gives its id and the faces that may look different. @throws HttpProblem when something does not fit */
export async function writeLicense(
  manager: EntityManager,
  who: { workspaceId: string; name: string },
  fields: LicenseFields,
  licenseId: string | null,
  madeOn: number | null = null,
): Promise<{ id: string; faceIds: string[] }> {
  const { workspaceId } = who;
  if (fields.startsOn && fields.endsOn && fields.endsOn < fields.startsOn)
    throw invalid('The license ends before it begins. Correct one of the two dates; nothing was changed.', 'endsOn');
  if (fields.noticeOn && fields.endsOn && fields.noticeOn > fields.endsOn)
    throw invalid('The day to be warned lies after the end. Choose an earlier one; nothing was changed.', 'noticeOn');
  if (fields.price !== null && fields.currency === null)
    throw invalid('Say in which currency the price is. Nothing was changed.', 'currency');
  if (fields.spdxId !== null && !openLicense(fields.spdxId))
    throw invalid('This license identifier is not one we know. Leave it empty for other licenses.', 'spdxId');
  const faceIds = [...new Set(fields.faceIds)];
  const companionIds = [...new Set(fields.companionIds)];
  await ensureAll(manager, FaceEntity, workspaceId, faceIds, 'One of the faces');
  await ensureAll(manager, CompanionEntity, workspaceId, companionIds, 'One of the evidence files');
  const licenses = manager.getRepository(LicenseEntity);
  const old = licenseId ? await licenses.findOne({ where: { id: licenseId, workspaceId }, lock: { mode: 'pessimistic_write' } }) : null;
  if (licenseId && (!old || old.removedAt)) throw notFound('This license');
  if (old && madeOn !== null && old.version !== madeOn) throw stale(`Somebody changed “${old.name}” while you worked on it`);
  const texts = companionIds.length > 0 ? await manager.getRepository(CompanionEntity).findBy({ workspaceId, id: In(companionIds) }) : [];
  const row: LicenseRow = {
    id: old?.id ?? randomUUID(),
    workspaceId,
    name: fields.name,
    kind: fields.kind,
    spdxId: fields.spdxId,
    grantor: fields.grantor,
    uses: fields.uses,
    startsOn: fields.startsOn,
    endsOn: fields.endsOn,
    note: fields.note,
    quotes: fields.quotes,
    limits: fields.limits,
    counters: fields.counters,
    duties: fields.duties,
    noticeOn: fields.noticeOn,
    price: fields.price,
    currency: fields.currency,
    boughtOn: fields.boughtOn,
    orderNumber: fields.orderNumber,
    billedTo: fields.billedTo,
    source: fields.source,
    confirmed: fields.confirmed,
    confirmedBy: fields.confirmed ? who.name : null,
    confirmedAt: fields.confirmed ? new Date() : null,
    reservedNames: [...new Set(texts.flatMap((t) => (t.content ? reservedNames(t.content) : [])))],
    version: (old?.version ?? 0) + 1,
    removedAt: null,
    createdAt: old?.createdAt ?? new Date(),
  };
  await licenses.save(row);
  await manager
    .getRepository(LicenseVersion)
    .insert({ licenseId: row.id, version: row.version, workspaceId, fields, byName: who.name, at: new Date(), act: null });
  const before = old ? (await manager.getRepository(LicenseFace).findBy({ licenseId: row.id })).map((l) => l.faceId) : [];
  await manager.getRepository(LicenseFace).delete({ licenseId: row.id });
  await manager.getRepository(LicenseEvidence).delete({ licenseId: row.id });
  for (let i = 0; i < faceIds.length; i += 500)
    await manager
      .getRepository(LicenseFace)
      .insert(faceIds.slice(i, i + 500).map((faceId) => ({ licenseId: row.id, faceId, workspaceId })));
  if (companionIds.length > 0)
    await manager
      .getRepository(LicenseEvidence)
      .insert(companionIds.map((companionId) => ({ licenseId: row.id, companionId, workspaceId })));
  const had = new Set(before);
  const has = new Set(faceIds);
  const touched =
    old && bearing(old) === bearing(row)
      ? [...before.filter((id) => !has.has(id)), ...faceIds.filter((id) => !had.has(id))]
      : [...new Set([...before, ...faceIds])];
  return { id: row.id, faceIds: [...new Set([...before, ...faceIds, ...(await tellFollowers(manager, who, touched))])] };
}

async function tellFollowers(
  manager: EntityManager,
  who: { workspaceId: string; name: string },
  faceIds: readonly string[],
): Promise<string[]> {
  const out: string[] = [];
  for (const follow of followers) out.push(...(await follow(manager, who, faceIds)));
  return out;
}

/**
 * Takes back that a license was read and found right, with the reason in its note: every use then asks. Nothing is done to one
 * that nobody confirmed, or that is off record. Answers with the faces that may look different.
 */
export async function doubtLicense(
  manager: EntityManager,
  who: { workspaceId: string; name: string },
  licenseId: string,
  reason: string,
): Promise<string[]> {
  const row = await manager.getRepository(LicenseEntity).findOneBy({ id: licenseId, workspaceId: who.workspaceId });
  if (!row || row.removedAt || !row.confirmed) return [];
  const last = await manager.getRepository(LicenseVersion).findOneByOrFail({ licenseId, version: row.version });
  const fields = last.fields as LicenseFields;
  // What was freed since that version was written is no longer there to be named.
  const faces = await manager.getRepository(LicenseFace).findBy({ licenseId });
  const evidence = await manager.getRepository(LicenseEvidence).findBy({ licenseId });
  const written = await writeLicense(
    manager,
    who,
    {
      ...fields,
      faceIds: faces.map((l) => l.faceId),
      companionIds: evidence.map((e) => e.companionId),
      confirmed: false,
      note: `${reason}\n\n${fields.note}`.slice(0, 4000),
    },
    licenseId,
  );
  return written.faceIds;
}

async function ensureAll(
  manager: EntityManager,
  entity: typeof FaceEntity | typeof CompanionEntity,
  workspaceId: string,
  ids: readonly string[],
  what: string,
): Promise<void> {
  if (ids.length === 0) return;
  const count = await manager
    .getRepository<{ id: string; workspaceId: string }>(entity as never)
    .countBy({ workspaceId, id: In([...ids]) });
  if (count !== ids.length) throw notFound(what);
}

/** Takes a license off record, or puts it back; both stand in its history as versions of their own. */
async function setRemoved(
  db: DataSource,
  who: { workspaceId: string; name: string },
  licenseId: string,
  act: 'removed' | 'restored',
): Promise<string[]> {
  const { workspaceId } = who;
  return db.transaction(async (manager) => {
    const row = await manager
      .getRepository(LicenseEntity)
      .findOne({ where: { id: licenseId, workspaceId }, lock: { mode: 'pessimistic_write' } });
    if (!row || (row.removedAt === null) !== (act === 'removed')) throw notFound('This license');
    const last = await manager.getRepository(LicenseVersion).findOneByOrFail({ licenseId, version: row.version });
    const version = row.version + 1;
    await manager.getRepository(LicenseEntity).update({ id: licenseId }, { removedAt: act === 'removed' ? new Date() : null, version });
    await manager
      .getRepository(LicenseVersion)
      .insert({ licenseId, version, workspaceId, fields: last.fields, byName: who.name, at: new Date(), act });
    const faceIds = (await manager.getRepository(LicenseFace).findBy({ licenseId })).map((l) => l.faceId);
    return [...new Set([...faceIds, ...(await tellFollowers(manager, who, faceIds))])];
  });
}

/** Answers with the faces that may look different. */
export const removeLicense = (db: DataSource, who: { workspaceId: string; name: string }, licenseId: string): Promise<string[]> =>
  setRemoved(db, who, licenseId, 'removed');

/** Takes a removal back. @throws HttpProblem 404 for a license that is on record or never was */
export async function restoreLicense(
  db: DataSource,
  who: { workspaceId: string; name: string },
  licenseId: string,
): Promise<Touching<License>> {
  const faceIds = await setRemoved(db, who, licenseId, 'restored');
  const row = await db.getRepository(LicenseEntity).findOneByOrFail({ id: licenseId, workspaceId: who.workspaceId });
  return { said: (await describeLicenses(db, who.workspaceId, [row]))[0]!, faceIds };
}
