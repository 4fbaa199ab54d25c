import { createHash, randomUUID } from 'node:crypto';
import { fileBase, FORMAT_INFO, type TargetFormat } from '@orderly-glyph/core';
import type { Delivery, Role } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { ComputeError, type Compute } from '../compute/pool.js';
import { getBlob } from '../db/blobs.js';
import {
  DeliveryEntity,
  DeliveryItem,
  InstallEntity,
  JobEntity,
  Statement,
  type DeliveryItemRow,
  type DeliveryRow,
  type PlaceRow,
} from '../db/entities.js';
import { conflict, notFound } from '../http/problem.js';
import { queueJob, type JobControl } from '../jobs/runner.js';
import { findFaces } from '../library/library.js';
import { checkFaces, chooseSending, filesOf, findPlace, profileOf } from './places.js';
import { keepStatements, settle, type Checked } from './statements.js';
import { type Allowed, PlaceRefused, putFont, readFont, removeFont, setHeadings } from './site-client.js';

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
    order.convertTo,
  );
  const now = new Date();
  const checked = checks.map((c): Checked => ({
    ...c,
    stop: c.findings.find((f) => f.severity === 'stops' && !f.code.startsWith('no-right'))?.message ?? null,
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

/** Carries a delivery out, face by face; a face already installed by an earlier try is not sent again. */
export function deliveryWork(deps: { db: DataSource; compute: Compute; allowed: Allowed }) {
  return async (control: JobControl): Promise<string> => {
    const { db } = deps;
    const { workspaceId } = control.row;
    const delivery = await db.getRepository(DeliveryEntity).findOneByOrFail({ id: control.row.subjectId });
    const place = await findPlace(db, workspaceId, delivery.placeId);
    const items = await db.getRepository(DeliveryItem).find({ where: { deliveryId: delivery.id }, order: { position: 'ASC' } });
    let done = 0;
    for (const item of items) {
      await control.progress(done, items.length, 'Sending');
      if (item.state === 'waiting') await deliverOne(deps, delivery, place, item);
      done++;
    }
    await control.progress(done, items.length, 'Done');
    const refused = await db.getRepository(DeliveryItem).countBy({ deliveryId: delivery.id, state: 'refused' });
    return refused > 0 ? `${refused} of ${items.length} could not be put there.` : 'Everything is in its place.';
  };
}

async function deliverOne(
  { db, compute, allowed }: { db: DataSource; compute: Compute; allowed: Allowed },
  delivery: DeliveryRow,
  place: PlaceRow,
  item: DeliveryItemRow,
): Promise<void> {
  const { workspaceId } = delivery;
  const items = db.getRepository(DeliveryItem);
  try {
    const [lead] = await findFaces(db, workspaceId, [item.faceId]);
    const sending = await chooseSending(
      db,
      compute,
      workspaceId,
      lead!,
      await filesOf(db, workspaceId, lead!),
      profileOf(place),
      delivery.convertTo,
    );
    if (!sending) throw new PlaceRefused('There is no file of this face that the place takes.');
    const bytes = await getBlob(db.manager, workspaceId, sending.sha256);
    // The hash in the name lets visitors' browsers keep the file for ever and makes a new version a new address.
    const remoteName = `${fileBase(lead!.familyName, lead!.style)}.${sending.sha256.slice(0, 8)}.${FORMAT_INFO[sending.format].extension}`;
    await putFont(place, allowed, remoteName, FORMAT_INFO[sending.format].mediaType, bytes, lead!.familyName);
    const back = createHash('sha256')
      .update(await readFont(place, allowed, remoteName))
      .digest('hex');
    if (back !== sending.sha256)
      throw new PlaceRefused(
        `${place.name} took the file and serves other bytes in its place. It is not counted as installed; ask whoever runs the site.`,
      );
    if (delivery.headings) await setHeadings(place, allowed, remoteName);
    const account = (await db.query('SELECT name FROM account WHERE id = ?', [delivery.createdBy])) as { name: string }[];
    await db.transaction(async (manager) => {
      const now = new Date();
      // One install of a face at a place; a file of the same name that came again is the same install.
      await manager.query(
        'UPDATE install SET removed_at = ? WHERE workspace_id = ? AND place_id = ? AND face_id = ? AND remote_name = ? AND removed_at IS NULL',
        [now, workspaceId, place.id, item.faceId, remoteName],
      );
      await manager.getRepository(InstallEntity).insert({
        id: randomUUID(),
        workspaceId,
        placeId: place.id,
        faceId: item.faceId,
        deliveryId: delivery.id,
        sha256: sending.sha256,
        format: sending.format,
        bytes: sending.bytes,
        version: (lead!.facts.version ?? '').slice(0, 255),
        remoteName,
        installedBy: account[0]?.name ?? '',
        installedAt: now,
        removedAt: null,
      });
      await manager.getRepository(DeliveryItem).update(
        { id: item.id },
        {
          state: 'installed',
          message: 'Put there, read back, and the same byte for byte.',
          bytes: sending.bytes,
          sha256: sending.sha256,
        },
      );
    });
  } catch (error) {
    if (error instanceof PlaceRefused || error instanceof ComputeError)
      await items.update({ id: item.id }, { state: 'refused', message: error.message.slice(0, 1000) });
    else throw error;
  }
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

/** Takes a face off its place; the record of it having been there stays. */
export async function removeInstall(db: DataSource, allowed: Allowed, workspaceId: string, installId: string): Promise<void> {
  const install = await db.getRepository(InstallEntity).findOneBy({ id: installId, workspaceId });
  if (!install || install.removedAt) throw notFound('This install');
  const place = await findPlace(db, workspaceId, install.placeId);
  try {
    await removeFont(place, allowed, install.remoteName);
  } catch (error) {
    if (error instanceof PlaceRefused && error.status === 404) {
      // Gone there already; our record follows.
    } else if (error instanceof PlaceRefused) throw conflict(error.message);
    else throw error;
  }
  await db.getRepository(InstallEntity).update({ id: install.id }, { removedAt: new Date() });
}
