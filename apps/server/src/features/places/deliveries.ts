import { Account } from '../accounts/index.js';
import { findFaces } from '../faces/index.js';
import { createHash, randomUUID } from 'node:crypto';
import { fileBase, FORMAT_INFO, type TargetFormat } from '@orderly-glyph/core';
import type { Delivery, Role } from '@orderly-glyph/schema';
import { In, type DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import { type Compute, ComputeError } from '../../platform/compute/pool.js';
import { conflict, notFound } from '../../platform/http/problem.js';
import { JobEntity } from '../../platform/jobs/rows.js';
import { type JobControl, queueJob } from '../../platform/jobs/runner.js';

import { checkFaces, chooseSending, filesOf, findPlace, profileOf, recipeOf } from './places.js';
import {
  DeliveryEntity,
  DeliveryItem,
  type DeliveryItemRow,
  type DeliveryRow,
  InstallEntity,
  type PlaceRow,
  Statement,
  type InstallEventKind,
  type InstallRow,
} from './rows.js';
import { connectorOf, PlaceError, type Allowed } from './connectors/index.js';
import { record, unsettled, withdrawPlan, type Installing } from './ledger.js';
import { type Checked, keepStatements, settle } from './statements.js';

interface Order {
  placeId: string;
  convertTo: TargetFormat | null;
  headings: boolean;
  faces: { faceId: string; statement: string; note: string; override: boolean }[];
}

/** Checks everything anew, keeps the statements, and queues the work; all of it or nothing. */
export async function createDelivery(
  db: DataSource,
  compute: Compute,
  who: { workspaceId: string; accountId: string; name: string; role: Role },
  order: Order,
): Promise<string> {
  const { workspaceId } = who;
  const place = await findPlace(db, workspaceId, order.placeId);
  const checks = await checkFaces(
    db,
    compute,
    workspaceId,
    place,
    order.faces.map((f) => f.faceId),
    recipeOf(order.convertTo),
  );
  const now = new Date();
  const checked = checks.map((c): Checked => ({
    ...c,
    stop: c.stop,
  }));
  settle(checked, order.faces, who.role, place.name);
  const deliveryId = randomUUID();
  const jobId = randomUUID();
  await db.transaction(async (manager) => {
    await queueJob(manager, { id: jobId, workspaceId, kind: 'delivery', subjectId: deliveryId, total: checks.length });
    await manager.getRepository(DeliveryEntity).insert({
      id: deliveryId,
      workspaceId,
      placeId: place.id,
      convertTo: order.convertTo,
      headings: order.headings,
      jobId,
      createdBy: who.accountId,
      createdAt: now,
    });
    for (const [position, check] of checks.entries()) {
      await manager.getRepository(DeliveryItem).insert({
        id: randomUUID(),
        workspaceId,
        deliveryId,
        position,
        faceId: check.faceId,
        state: 'waiting',
        message: '',
        bytes: null,
        sha256: null,
      });
    }
    await keepStatements(manager, who, { deliveryId }, checked, order.faces, now);
  });
  return deliveryId;
}

interface Deps {
  db: DataSource;
  compute: Compute;
  allowed: Allowed;
}

/** Carries a delivery out, face by face; a face already installed by an earlier try is not sent again. */
export function deliveryWork(deps: Deps) {
  return async (control: JobControl): Promise<string> => {
    const { db } = deps;
    const { workspaceId } = control.row;
    const delivery = await db.getRepository(DeliveryEntity).findOneByOrFail({ id: control.row.subjectId });
    const place = await findPlace(db, workspaceId, delivery.placeId);
    const items = await db.getRepository(DeliveryItem).find({ where: { deliveryId: delivery.id }, order: { position: 'ASC' } });
    // What an earlier try of this job left open is looked at first, so that nothing is sent twice or forgotten.
    const open = new Map((await unsettled(db, { deliveryId: delivery.id })).map((i) => [i.faceId, i]));
    let done = 0;
    for (const item of items) {
      await control.progress(done, items.length, 'Sending');
      if (item.state === 'waiting' || item.state === 'unknown')
        await deliverOne(deps, delivery, place, item, open.get(item.faceId) ?? null);
      done++;
    }
    await control.progress(done, items.length, 'Done');
    const left = await db
      .getRepository(DeliveryItem)
      .countBy({ deliveryId: delivery.id, state: In(['refused', 'unknown'] satisfies DeliveryItemRow['state'][]) });
    return left > 0 ? `${left} of ${items.length} could not be put there.` : 'Everything is in its place.';
  };
}

const hash = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Whether a file is there, and the same: `other` bytes are somebody else's or damaged. @throws PlaceError */
async function lookAt(place: PlaceRow, allowed: Allowed, installing: Installing): Promise<'same' | 'other' | 'absent'> {
  const bytes = await connectorOf(profileOf(place)).read(place, allowed, installing.remoteName);
  return bytes === null ? 'absent' : hash(bytes) === installing.sha256 ? 'same' : 'other';
}

async function deliverOne(
  { db, compute, allowed }: Deps,
  delivery: DeliveryRow,
  place: PlaceRow,
  item: DeliveryItemRow,
  before: Installing | null,
): Promise<void> {
  const { workspaceId } = delivery;
  const end = (state: DeliveryItemRow['state'], message: string, sent?: { bytes: number; sha256: string }): Promise<unknown> =>
    db.getRepository(DeliveryItem).update({ id: item.id }, { state, message: message.slice(0, 1000), ...sent });
  const by = (await db.getRepository(Account).findOneBy({ id: delivery.createdBy }))?.name ?? '';
  const profile = profileOf(place);
  const connector = connectorOf(profile);
  let installing = before;
  // Whether what is being installed may lie there, whatever the next call says: a place that goes away after it took a file
  // has not given it back.
  let mayBeThere = before !== null;
  const note = (kind: InstallEventKind, said = ''): Promise<unknown> =>
    db.transaction((manager) => record(manager, installing!, kind, by, said));
  try {
    const [lead] = await findFaces(db, workspaceId, [item.faceId]);
    const recipe = recipeOf(delivery.convertTo);
    const sending = await chooseSending(db, compute, workspaceId, lead!, await filesOf(db, workspaceId, lead!), profile, recipe);
    if (!sending) return void (await end('refused', 'There is no file of this face that the place takes.'));
    // What an earlier try sent is only sent again when it is not there.
    let there = installing ? await lookAt(place, allowed, installing) : 'absent';
    mayBeThere = there === 'same';
    if (installing && installing.sha256 !== sending.sha256) {
      // Another file than the one sent then is made today; what became of that one is settled all the same.
      await note(there === 'same' ? 'verified' : there === 'absent' ? 'absent' : 'unknown');
      installing = null;
    }
    if (!installing) {
      mayBeThere = false;
      installing = {
        installId: randomUUID(),
        workspaceId,
        placeId: place.id,
        faceId: item.faceId,
        deliveryId: delivery.id,
        // The hash in the name lets visitors' browsers keep the file for ever and makes a new version a new address.
        remoteName: `${fileBase(lead!.familyName, lead!.style)}.${sending.sha256.slice(0, 8)}.${FORMAT_INFO[sending.format].extension}`,
        sha256: sending.sha256,
        format: sending.format,
        bytes: sending.bytes,
        version: (lead!.facts.version ?? '').slice(0, 255),
      };
      there = 'absent';
    }
    if (there !== 'same') {
      await note('planned');
      await connector.put(place, allowed, {
        name: installing.remoteName,
        mediaType: FORMAT_INFO[sending.format].mediaType,
        family: lead!.familyName,
        bytes: await getBlob(db.manager, workspaceId, sending.sha256),
      });
      mayBeThere = true;
      await note('put');
      there = await lookAt(place, allowed, installing);
    }
    if (there !== 'same') {
      const message = `${place.name} took the file and serves other bytes in its place. It is not counted as installed; ask whoever runs the site.`;
      await note(there === 'absent' ? 'absent' : 'unknown', message);
      return void (await end('refused', message));
    }
    const installed = installing;
    await countAsInstalled(db, item, installed, by, 'Put there, read back, and the same byte for byte.');
    const [role] = profile.roles;
    if (delivery.headings && role && connector.assign) {
      await connector.assign(place, allowed, role.id, installed.remoteName);
      await note('assigned', role.id);
    }
  } catch (error) {
    if (error instanceof ComputeError) return void (await end('refused', error.message));
    if (!(error instanceof PlaceError)) throw error;
    await settleFailure({ db, allowed }, place, item, installing, mayBeThere, error, by);
  }
}

/** The file was read back and is the same: it is installed. `unanswered` says how sending it ended, where no answer came. */
async function countAsInstalled(
  db: DataSource,
  item: DeliveryItemRow,
  installed: Installing,
  by: string,
  message: string,
  unanswered: string | null = null,
): Promise<void> {
  await db.transaction(async (manager) => {
    // One install of a face at a place; a file of the same name that came again is the same install.
    for (const old of await withdrawPlan(manager, installed.workspaceId, { faceIds: [item.faceId], placeId: installed.placeId }))
      if (old.remoteName === installed.remoteName && old.id !== installed.installId)
        await record(manager, installingOf(old), 'withdrawn', by, 'The same file came again.');
    if (unanswered !== null) await record(manager, installed, 'put', by, unanswered);
    await record(manager, installed, 'verified', by);
    await manager
      .getRepository(DeliveryItem)
      .update({ id: item.id }, { state: 'installed', message, bytes: installed.bytes, sha256: installed.sha256 });
  });
}

/**
 * Looks at the place for what nobody knows about, and sends nothing: the statement was made for the day it was sent on.
 * @throws HttpProblem 404; 409 while it is still being sent, or when the place does not answer
 */
export async function lookAgain(
  { db, allowed }: Pick<Deps, 'db' | 'allowed'>,
  who: { workspaceId: string; name: string },
  deliveryId: string,
): Promise<void> {
  const delivery = await db.getRepository(DeliveryEntity).findOneBy({ id: deliveryId, workspaceId: who.workspaceId });
  if (!delivery) throw notFound('This delivery');
  const { state } = await db.getRepository(JobEntity).findOneByOrFail({ id: delivery.jobId });
  if (state === 'queued' || state === 'running') throw conflict('It is still being sent. Wait until that is through; nothing was changed.');
  const place = await findPlace(db, who.workspaceId, delivery.placeId);
  const items = await db.getRepository(DeliveryItem).findBy({ deliveryId, state: 'unknown' });
  for (const installing of await unsettled(db, { deliveryId })) {
    const item = items.find((i) => i.faceId === installing.faceId);
    if (!item) continue;
    let there: Awaited<ReturnType<typeof lookAt>>;
    try {
      there = await lookAt(place, allowed, installing);
    } catch (error) {
      if (!(error instanceof PlaceError)) throw error;
      throw conflict(`${error.message} So whether the file is there is still not known. Look again when the place answers.`);
    }
    if (there === 'same') {
      await countAsInstalled(db, item, installing, who.name, 'We looked again: the file is there, and the same byte for byte.');
      continue;
    }
    const message =
      there === 'absent'
        ? 'We looked again: it is not there. Check the face for the place once more to send it.'
        : `${place.name} has other bytes under this name. It is not counted as installed; ask whoever runs the site.`;
    await db.transaction(async (manager) => {
      await record(manager, installing, there === 'absent' ? 'absent' : 'unknown', who.name, message);
      await manager.getRepository(DeliveryItem).update({ id: item.id }, { state: 'refused', message });
    });
  }
}

/** After a call that failed: what was refused before anything was sent is not there; what may be there is looked for. */
async function settleFailure(
  { db, allowed }: Pick<Deps, 'db' | 'allowed'>,
  place: PlaceRow,
  item: DeliveryItemRow,
  installing: Installing | null,
  mayBeThere: boolean,
  error: PlaceError,
  by: string,
): Promise<void> {
  const items = db.getRepository(DeliveryItem);
  const [now] = await items.findBy({ id: item.id });
  // The file is there and was compared; only its role could not be given.
  if (now?.state === 'installed') {
    await items.update({ id: item.id }, { message: `It is there, but could not be given its role: ${error.message}`.slice(0, 1000) });
    return;
  }
  const open = error.kind === 'unknown' || mayBeThere;
  let kind: InstallEventKind = open ? 'unknown' : 'absent';
  let message = error.message;
  if (installing && open)
    try {
      const there = await lookAt(place, allowed, installing);
      if (there === 'absent') [kind, message] = ['absent', `${error.message} We looked: it is not there.`];
      else if (there === 'same') {
        const message = 'The place did not answer, yet the file is there, read back, and the same byte for byte.';
        return void (await countAsInstalled(db, item, installing, by, message, error.message));
      }
    } catch (again) {
      if (!(again instanceof PlaceError)) throw again;
      message = `${error.message} It could not be looked at either, so whether the file is there is not known. Look again when the place answers.`;
    }
  const known = installing;
  await db.transaction(async (manager) => {
    if (known) await record(manager, known, kind, by, error.message);
    await manager
      .getRepository(DeliveryItem)
      .update({ id: item.id }, { state: kind === 'unknown' ? 'unknown' : 'refused', message: message.slice(0, 1000) });
  });
}

export async function describeDelivery(db: DataSource, workspaceId: string, deliveryId: string): Promise<Delivery> {
  const delivery = await db.getRepository(DeliveryEntity).findOneBy({ id: deliveryId, workspaceId });
  if (!delivery) throw notFound('This delivery');
  const place = await findPlace(db, workspaceId, delivery.placeId);
  const job = await db.getRepository(JobEntity).findOneByOrFail({ id: delivery.jobId });
  const items = await db.getRepository(DeliveryItem).find({ where: { deliveryId }, order: { position: 'ASC' } });
  const statements = await db.getRepository(Statement).findBy({ deliveryId });
  const leads = await findFaces(
    db,
    workspaceId,
    items.map((i) => i.faceId),
  );
  return {
    id: delivery.id,
    placeId: place.id,
    place: place.name,
    address: place.address,
    state: job.state,
    jobId: job.id,
    createdAt: delivery.createdAt.toISOString(),
    by: statements[0]?.person ?? '',
    items: items.map((item, i) => {
      const s = statements.find((x) => x.faceId === item.faceId)!;
      return {
        faceId: item.faceId,
        face: `${leads[i]!.familyName} ${leads[i]!.style}`,
        state: item.state,
        message: item.message,
        bytes: item.bytes,
        sha256: item.sha256,
        statement: {
          words: s.words,
          person: s.person,
          at: s.at.toISOString(),
          answer: s.answer,
          note: s.note,
          overridden: Boolean(s.overridden),
          licenseName: s.licenseName,
        },
      };
    }),
  };
}

const installingOf = ({ id, installedBy: _by, installedAt: _at, removedAt: _gone, ...what }: InstallRow): Installing => ({
  installId: id,
  ...what,
});

/** Takes a face off its place, and gives its id; the record of it having been there stays. @throws HttpProblem when it is not known to be off */
export async function removeInstall(
  db: DataSource,
  allowed: Allowed,
  who: { workspaceId: string; name: string },
  installId: string,
): Promise<string> {
  const install = await db.getRepository(InstallEntity).findOneBy({ id: installId, workspaceId: who.workspaceId });
  if (!install || install.removedAt) throw notFound('This install');
  const place = await findPlace(db, who.workspaceId, install.placeId);
  const note = (kind: InstallEventKind, said = ''): Promise<unknown> =>
    db.transaction((manager) => record(manager, installingOf(install), kind, who.name, said));
  await note('removing');
  try {
    // Gone there already is gone; our record follows.
    await note((await connectorOf(profileOf(place)).remove(place, allowed, install.remoteName)) === 'removed' ? 'withdrawn' : 'absent');
  } catch (error) {
    if (!(error instanceof PlaceError)) throw error;
    if (error.kind === 'unknown') {
      const gone = await lookAt(place, allowed, installingOf(install)).then(
        (there) => there === 'absent',
        () => false,
      );
      if (gone) {
        await note('withdrawn', error.message);
        return install.faceId;
      }
    }
    // It is still counted as being there: better a face too many on the list than one too few.
    await note(error.kind === 'unknown' ? 'unknown' : 'verified', error.message);
    throw conflict(error.message);
  }
  return install.faceId;
}
