import { randomUUID } from 'node:crypto';
import { fileBase, FORMAT_INFO, PROFILES, verdict } from '@orderly-glyph/core';
import type { Answer, routes } from '@orderly-glyph/schema';
import { In, IsNull, type DataSource } from 'typeorm';
import { conflict, invalid, notFound } from '../../platform/http/problem.js';
import { queueJob, type JobControl } from '../../platform/jobs/runner.js';
import { todayOf } from '../accounts/index.js';
import { findFaces } from '../faces/index.js';
import { installsWhere, licensesOf } from '../library/index.js';
import { licenseRecord } from '../licenses/index.js';
import { giveRole, lookAt, visited, writeSheet } from './carry-out.js';
import { connectorOf, PlaceError, type Allowed } from './connectors/index.js';
import { foresee, type Foresight } from './foresee.js';
import { checkSeats } from './computers.js';
import { installingOf, record, withdrawPlan } from './ledger.js';
import { chooseSending, filesOf, findPlace, profileOf } from './places.js';
import { InstallEntity, InstallEvent, PlaceEntity, type InstallRow, type PlaceRow, type Seen } from './rows.js';
import { keepStatements, settle, type Said } from './statements.js';

/** Queues a look at every place of a workspace, or at one. */
export async function queueCheck(db: DataSource, workspaceId: string, placeId: string | null): Promise<string> {
  const id = randomUUID();
  const total = await db.getRepository(InstallEntity).countBy({ workspaceId, removedAt: IsNull(), ...(placeId ? { placeId } : {}) });
  await db.transaction((manager) =>
    // The subject is the place, or the workspace for all of them.
    queueJob(manager, { id, workspaceId, kind: 'installs', subjectId: placeId ?? workspaceId, total }),
  );
  return id;
}

/** Looks at one install, and says what it found. */
async function look(place: PlaceRow, allowed: Allowed, install: InstallRow): Promise<{ seen: Seen; note: string }> {
  try {
    const seen = await lookAt(place, allowed, install);
    if (seen === 'same' && visited(place) && (install.role || (connectorOf(profileOf(place)).sheet && place.page !== ''))) {
      const hindered = (await connectorOf(profileOf(place)).asVisitor?.(place, allowed, install.remoteName, install.sha256)) ?? null;
      return { seen, note: hindered ?? '' };
    }
    return {
      seen,
      note: seen === 'other' ? 'Other bytes lie there under this name.' : seen === 'absent' ? 'It is not there any more.' : '',
    };
  } catch (error) {
    if (!(error instanceof PlaceError)) throw error;
    return { seen: 'unknown', note: error.message };
  }
}

/**
 * Looks at what we put at places and keeps what was found. Nothing is sent or removed: what is missing stays on the list as missing
 * until a person puts it there again or strikes it off.
 */
export function installsWork({ db, allowed }: Pick<Foresight, 'db' | 'allowed'>) {
  return async (control: JobControl): Promise<string> => {
    const { workspaceId, subjectId } = control.row;
    const installs = await db.getRepository(InstallEntity).find({
      where: { workspaceId, removedAt: IsNull(), ...(subjectId === workspaceId ? {} : { placeId: subjectId }) },
      order: { placeId: 'ASC', installedAt: 'ASC' },
    });
    const places = new Map((await db.getRepository(PlaceEntity).findBy({ workspaceId })).map((p) => [p.id, p]));
    // One place that does not answer is not asked for each of its faces.
    const silent = new Map<string, string>();
    let wrong = 0;
    for (const [i, install] of installs.entries()) {
      await control.progress(i, installs.length, 'Looking');
      const place = places.get(install.placeId)!;
      if (place.byHand || profileOf(place).connector === 'joined') continue;
      const known = silent.get(place.id);
      const { seen, note } = known === undefined ? await look(place, allowed, install) : { seen: 'unknown' as const, note: known };
      if (seen === 'unknown') silent.set(place.id, note);
      if (seen !== 'same' || note !== '') wrong++;
      await db
        .getRepository(InstallEntity)
        .update({ id: install.id, removedAt: IsNull() }, { seen, seenNote: note.slice(0, 500), seenAt: new Date() });
    }
    await control.progress(installs.length, installs.length, 'Done');
    return wrong === 0 ? 'Everything is where it was put.' : `${wrong} of ${installs.length} need a look.`;
  };
}

/** Kinds of places that tell by themselves what lies there. */
const FETCHING = PROFILES.filter((p) => p.connector === 'joined').map((p) => p.id);

/** Milliseconds between two looks at everything by itself. */
const NIGHTLY_MS = 24 * 3_600_000;

/** Queues the nightly look for workspaces where something is installed and nobody looked for a day. */
export async function queueNightly(db: DataSource): Promise<void> {
  const rows = (await db.query(
    `SELECT DISTINCT i.workspace_id AS id FROM install i JOIN place p ON p.id = i.place_id AND p.by_hand = 0 AND p.profile_id NOT IN (?)
     WHERE i.removed_at IS NULL AND (i.seen_at IS NULL OR i.seen_at < ?) AND NOT EXISTS (SELECT 1 FROM job j WHERE j.workspace_id = i.workspace_id AND j.kind = 'installs' AND j.created_at > ?)`,
    [FETCHING, new Date(Date.now() - NIGHTLY_MS), new Date(Date.now() - NIGHTLY_MS / 2)],
  )) as { id: string }[];
  for (const { id } of rows) await queueCheck(db, id, null);
}

/** What of some faces, a license or a place must come off where. */
export async function planWithdrawal(
  db: DataSource,
  workspaceId: string,
  asked: { faceIds: readonly string[]; licenseId: string | null; placeId: string | null; ended: boolean },
): Promise<Answer<typeof routes.planWithdrawal>> {
  let faceIds: string[] | null = asked.faceIds.length > 0 ? [...asked.faceIds] : null;
  if (asked.licenseId) {
    const rows = (await db.query(
      'SELECT lf.face_id AS id FROM license_face lf JOIN license l ON l.id = lf.license_id WHERE l.workspace_id = ? AND l.id = ?',
      [workspaceId, asked.licenseId],
    )) as { id: string }[];
    faceIds = [...(faceIds ?? []), ...rows.map((r) => r.id)];
  }
  const places = new Map((await db.getRepository(PlaceEntity).findBy({ workspaceId })).map((p) => [p.id, p]));
  let installs = await installsWhere(db, workspaceId, 'place_id', asked.placeId ? [asked.placeId] : [...places.keys()]);
  if (faceIds) installs = installs.filter((i) => faceIds.includes(i.faceId));
  if (asked.ended) {
    const ids = [...new Set(installs.map((i) => i.faceId))];
    const leads = new Map((await findFaces(db, workspaceId, ids)).map((l) => [l.faceId, l]));
    const licenses = await licensesOf(db, workspaceId, ids);
    const today = await todayOf(db, workspaceId);
    installs = installs.filter((i) => {
      const { use } = profileOf(places.get(i.placeId)!);
      return verdict(use, (licenses.get(i.faceId) ?? []).map(licenseRecord), leads.get(i.faceId)!.facts.embedding, today).answer === 'no';
    });
  }
  return {
    installs: installs.map((i) => ({
      ...i,
      byHandSteps: i.byHand ? [`Remove ${i.address} at ${i.place}.`, 'Confirm here that it is off.'] : [],
    })),
  };
}

/** Where a face was put, taken off and looked at, newest first. */
export async function faceHistory(db: DataSource, workspaceId: string, faceId: string): Promise<Answer<typeof routes.faceHistory>> {
  await findFaces(db, workspaceId, [faceId]);
  const events = await db.getRepository(InstallEvent).find({ where: { workspaceId, faceId }, order: { id: 'DESC' }, take: 500 });
  const places = new Map(
    (await db.getRepository(PlaceEntity).findBy({ id: In([...new Set(events.map((e) => e.placeId))]) })).map((p) => [p.id, p.name]),
  );
  return events.map((e) => ({
    at: e.at.toISOString(),
    place: places.get(e.placeId) ?? '',
    kind: e.kind,
    by: e.byName,
    version: e.version,
    note: e.note,
  }));
}

/** Gives an installed face a role at its place. @throws HttpProblem with what the place said */
export async function assignRole(
  { db, allowed }: Pick<Foresight, 'db' | 'allowed'>,
  who: { workspaceId: string; name: string },
  installId: string,
  role: string,
): Promise<string> {
  const install = await db.getRepository(InstallEntity).findOneBy({ id: installId, workspaceId: who.workspaceId });
  if (!install || install.removedAt) throw notFound('This install');
  const place = await findPlace(db, who.workspaceId, install.placeId);
  const kind = profileOf(place);
  if (!kind.roles.some((r) => r.id === role)) throw invalid(`${place.name} has no role “${role}”. Nothing was changed.`, 'role');
  if (!connectorOf(kind).assign && !connectorOf(kind).sheet)
    throw conflict(`Roles at ${place.name} are given there, by a person. Nothing was changed.`);
  try {
    await giveRole(db, allowed, place, installingOf(install), role, who.name);
    await writeSheet(db, allowed, place);
  } catch (error) {
    if (!(error instanceof PlaceError)) throw error;
    throw conflict(error.message);
  }
  return install.faceId;
}

/** Records what a person did at a place by hand, with the statements that putting it there takes. @throws HttpProblem */
export async function confirmByHand(
  deps: Foresight,
  who: { workspaceId: string; accountId: string; name: string; role: 'owner' | 'editor' | 'viewer' },
  placeId: string,
  { put, removed }: { put: readonly (Omit<Said, 'override'> & { remedies: readonly string[] })[]; removed: readonly string[] },
): Promise<string[]> {
  const { db, compute } = deps;
  const { workspaceId } = who;
  const place = await findPlace(db, workspaceId, placeId);
  const profile = profileOf(place);
  const fetches = profile.connector === 'joined';
  if (!place.byHand && !fetches) throw conflict(`${place.name} is spoken to by this server; nothing is confirmed by hand there.`);
  const chosen = new Map(put.map((p) => [p.faceId, p.remedies]));
  const { cells } = await foresee(deps, workspaceId, [place], [...chosen.keys()], {
    remedies: (faceId) => chosen.get(faceId) ?? [],
    role: () => null,
    mendAll: false,
    prepare: true,
  });
  const said = put.map((p) => ({ ...p, override: false }));
  settle(cells, said, who.role, place.name);
  if (fetches) await checkSeats(db, place, cells);
  const leads = await findFaces(db, workspaceId, [...chosen.keys()]);
  const sendings = await Promise.all(
    leads.map(async (lead, i) =>
      chooseSending(db, compute, workspaceId, lead, await filesOf(db, workspaceId, lead), profile, cells[i]!.recipe),
    ),
  );
  const gone = (await db.getRepository(InstallEntity).findBy({ id: In([...removed]), workspaceId, placeId })).filter((i) => !i.removedAt);
  const deliveryId = randomUUID();
  await db.transaction(async (manager) => {
    for (const install of gone)
      if (fetches) {
        // It lies there until the computer says that it is off.
        await record(manager, installingOf(install), 'removing', who.name, 'It comes off when the computer asks next.');
        await manager.getRepository(InstallEntity).update({ id: install.id }, { leaving: true });
      } else await record(manager, installingOf(install), 'withdrawn', who.name, 'Taken off by hand.');
    if (put.length === 0) return;
    await manager.query(
      `INSERT INTO job (id, workspace_id, kind, subject_id, state, done, total, message, cancel_requested, attempts, created_at, finished_at) VALUES (?, ?, 'delivery', ?, 'done', ?, ?, 'Put there by hand.', 0, 0, ?, ?)`,
      [deliveryId, workspaceId, deliveryId, put.length, put.length, new Date(), new Date()],
    );
    await manager.query(
      `INSERT INTO delivery (id, workspace_id, place_id, batch_id, errand, role, job_id, created_by, created_at) VALUES (?, ?, ?, NULL, 'put', NULL, ?, ?, ?)`,
      [deliveryId, workspaceId, placeId, deliveryId, who.accountId, new Date()],
    );
    for (const [i, lead] of leads.entries()) {
      const sending = sendings[i];
      if (!sending) throw conflict(`There is no file of ${lead.familyName} ${lead.style} that ${place.name} takes.`);
      const installing = {
        installId: randomUUID(),
        workspaceId,
        placeId,
        faceId: lead.faceId,
        deliveryId,
        remoteName: fetches
          ? `${fileBase(lead.familyName, lead.style)}.${sending.sha256.slice(0, 8)}.${FORMAT_INFO[sending.format].extension}`
          : `${lead.familyName} ${lead.style}`.slice(0, 255),
        sha256: sending.sha256,
        format: sending.format,
        bytes: sending.bytes,
        version: (lead.facts.version ?? '').slice(0, 255),
      };
      if (fetches)
        // The version that was assigned before gives way.
        for (const old of await withdrawPlan(manager, workspaceId, { faceIds: [lead.faceId], placeId })) {
          await record(manager, installingOf(old), 'removing', who.name, 'A newer file takes its place.');
          await manager.getRepository(InstallEntity).update({ id: old.id }, { leaving: true });
        }
      const said = fetches ? 'Assigned; the computer fetches it.' : 'Put there by hand; nobody but a person looked.';
      await record(manager, installing, 'verified', who.name, said);
      await manager
        .getRepository(InstallEntity)
        .update({ id: installing.installId }, { byHand: !fetches, sourceSha256: lead.sha256, seen: 'unknown', seenNote: said });
      await manager.query(
        `INSERT INTO delivery_item (id, workspace_id, delivery_id, position, face_id, state, message, bytes, sha256, recipe, removes) VALUES (?, ?, ?, ?, ?, 'installed', ?, ?, ?, ?, '[]')`,
        [
          randomUUID(),
          workspaceId,
          deliveryId,
          i,
          lead.faceId,
          fetches ? 'Assigned; the computer fetches it when it asks next.' : 'Put there by hand, as the person says.',
          sending.bytes,
          sending.sha256,
          JSON.stringify(cells[i]!.recipe),
        ],
      );
    }
    await keepStatements(manager, who, { deliveryId }, cells, said, new Date());
  });
  return [...leads.map((l) => l.faceId), ...gone.map((i) => i.faceId)];
}
