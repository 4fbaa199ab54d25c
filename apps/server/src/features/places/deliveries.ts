import { randomUUID } from 'node:crypto';
import type { Delivery, deliveryOrder, Role } from '@orderly-glyph/schema';
import { In, type DataSource, type EntityManager } from 'typeorm';
import type { z } from 'zod';
import { conflict, notFound } from '../../platform/http/problem.js';
import { JobEntity } from '../../platform/jobs/rows.js';
import { queueJob } from '../../platform/jobs/runner.js';
import { findFaces } from '../faces/index.js';
import { foresee, type CheckedFace, type Foresight } from './foresee.js';
import { findPlace, profileOf } from './places.js';
import {
  DeliveryEntity,
  DeliveryItem,
  type DeliveryRow,
  InstallEntity,
  type InstallRow,
  type PlaceRow,
  PlaceEntity,
  Statement,
} from './rows.js';
import { keepStatements, settle } from './statements.js';

/** Faces that go to one place, as a person sends them off. */
export type Order = z.output<typeof deliveryOrder>;

/** Checks everything anew, keeps the statements, and queues the work for every place; all of it or nothing. */
export async function createDeliveries(
  deps: Foresight,
  who: { workspaceId: string; accountId: string; name: string; role: Role },
  orders: readonly Order[],
  batchId: string | null,
): Promise<string[]> {
  const { db } = deps;
  const { workspaceId } = who;
  if (batchId !== null) {
    const sent = await db.getRepository(DeliveryEntity).find({ where: { batchId }, order: { createdAt: 'ASC' } });
    if (sent.some((d) => d.workspaceId !== workspaceId)) throw conflict('This batch is known already. Start again; nothing was sent.');
    // Sent twice, as after a lost answer: it is the same batch.
    if (sent.length > 0) return sent.map((d) => d.id);
  }
  if (new Set(orders.map((o) => o.placeId)).size < orders.length) throw conflict('A place is named twice. Nothing was sent.');
  const checked: { place: PlaceRow; order: Order; checks: CheckedFace[] }[] = [];
  for (const order of orders) {
    const place = await findPlace(db, workspaceId, order.placeId);
    if (place.byHand) throw conflict(`A person puts files at ${place.name}; take the kit instead. Nothing was sent.`);
    if (profileOf(place).connector === 'joined')
      throw conflict(`${place.name} fetches its faces itself; assign them on its page. Nothing was sent.`);
    const chosen = new Map(order.faces.map((f) => [f.faceId, f.remedies]));
    const { cells: checks } = await foresee(
      { ...deps, findAlike: undefined as never },
      workspaceId,
      [place],
      order.faces.map((f) => f.faceId),
      // Small deliveries are made at once, so that a size that does not fit is told now; large ones are made on their way.
      { remedies: (faceId) => chosen.get(faceId) ?? [], role: () => order.role, mendAll: false, prepare: order.faces.length <= 12 },
    );
    settle(checks, order.faces, who.role, place.name);
    checked.push({ place, order, checks });
  }
  const now = new Date();
  const ids: string[] = [];
  return sentOnce(db, workspaceId, batchId, ids, async (manager) => {
    for (const { place, order, checks } of checked) {
      const deliveryId = randomUUID();
      const jobId = randomUUID();
      ids.push(deliveryId);
      await queueJob(manager, { id: jobId, workspaceId, kind: 'delivery', subjectId: deliveryId, total: checks.length });
      await manager.getRepository(DeliveryEntity).insert({
        id: deliveryId,
        workspaceId,
        placeId: place.id,
        batchId,
        errand: 'put',
        role: order.role,
        jobId,
        createdBy: who.accountId,
        createdAt: now,
      });
      await manager.getRepository(DeliveryItem).insert(
        checks.map((check, position) => ({
          id: randomUUID(),
          workspaceId,
          deliveryId,
          position,
          faceId: check.faceId,
          state: 'waiting' as const,
          message: '',
          bytes: null,
          sha256: null,
          recipe: check.recipe as never,
          removes: check.removes,
        })),
      );
      await keepStatements(manager, who, { deliveryId }, checks, order.faces, now);
    }
  });
}

/** Carries something out that a batch may hold only once: of two at once the second gets what the first one made. */
async function sentOnce(
  db: DataSource,
  workspaceId: string,
  batchId: string | null,
  ids: string[],
  work: (manager: EntityManager) => Promise<void>,
): Promise<string[]> {
  try {
    await db.transaction(work);
    return ids;
  } catch (error) {
    if (batchId === null || (error as { code?: string }).code !== 'ER_DUP_ENTRY') throw error;
    const sent = await db.getRepository(DeliveryEntity).find({ where: { batchId, workspaceId }, order: { createdAt: 'ASC' } });
    if (sent.length === 0) throw conflict('This batch is known already. Start again; nothing was sent.');
    return sent.map((d) => d.id);
  }
}

/** Installs to take off, one delivery of the other kind for each place. */
export async function createWithdrawals(
  db: DataSource,
  who: { workspaceId: string; accountId: string },
  installIds: readonly string[],
  batchId: string,
): Promise<string[]> {
  const { workspaceId } = who;
  const sent = await db.getRepository(DeliveryEntity).find({ where: { batchId, workspaceId }, order: { createdAt: 'ASC' } });
  if (sent.length > 0) return sent.map((d) => d.id);
  const installs = (await db.getRepository(InstallEntity).findBy({ id: In([...installIds]), workspaceId })).filter((i) => !i.removedAt);
  if (installs.length < new Set(installIds).size) throw notFound('One of these installs');
  const byPlace = new Map<string, InstallRow[]>();
  for (const i of installs) byPlace.set(i.placeId, [...(byPlace.get(i.placeId) ?? []), i]);
  for (const place of await db.getRepository(PlaceEntity).findBy({ id: In([...byPlace.keys()]) }))
    if (place.byHand || profileOf(place).connector === 'joined')
      throw conflict(`A person takes files off ${place.name}; confirm it there. Nothing was taken off.`);
  const now = new Date();
  const ids: string[] = [];
  return sentOnce(db, workspaceId, batchId, ids, async (manager) => {
    for (const [placeId, own] of byPlace) {
      const [deliveryId, jobId] = [randomUUID(), randomUUID()];
      ids.push(deliveryId);
      await queueJob(manager, { id: jobId, workspaceId, kind: 'delivery', subjectId: deliveryId, total: own.length });
      await manager.getRepository(DeliveryEntity).insert({
        id: deliveryId,
        workspaceId,
        placeId,
        batchId,
        errand: 'withdraw',
        role: null,
        jobId,
        createdBy: who.accountId,
        createdAt: now,
      });
      await manager.getRepository(DeliveryItem).insert(
        own.map((install, position) => ({
          id: randomUUID(),
          workspaceId,
          deliveryId,
          position,
          faceId: install.faceId,
          state: 'waiting' as const,
          message: '',
          bytes: null,
          sha256: null,
          recipe: null,
          removes: [install.id],
        })),
      );
    }
  });
}

export async function describeDelivery(db: DataSource, workspaceId: string, deliveryId: string): Promise<Delivery> {
  const delivery = await db.getRepository(DeliveryEntity).findOneBy({ id: deliveryId, workspaceId });
  if (!delivery) throw notFound('This delivery');
  return describe(db, workspaceId, delivery);
}

/** All deliveries of a batch, in the order in which they were sent off. @throws HttpProblem 404 */
export async function describeBatch(db: DataSource, workspaceId: string, batchId: string): Promise<Delivery[]> {
  const found = await db.getRepository(DeliveryEntity).find({ where: { workspaceId, batchId }, order: { createdAt: 'ASC', id: 'ASC' } });
  if (found.length === 0) throw notFound('This batch');
  return Promise.all(found.map((d) => describe(db, workspaceId, d)));
}

async function describe(db: DataSource, workspaceId: string, delivery: DeliveryRow): Promise<Delivery> {
  const place = await findPlace(db, workspaceId, delivery.placeId);
  const job = await db.getRepository(JobEntity).findOneByOrFail({ id: delivery.jobId });
  const items = await db.getRepository(DeliveryItem).find({ where: { deliveryId: delivery.id }, order: { position: 'ASC' } });
  const statements = new Map((await db.getRepository(Statement).findBy({ deliveryId: delivery.id })).map((s) => [s.faceId, s]));
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
    errand: delivery.errand,
    batchId: delivery.batchId,
    jobId: job.id,
    createdAt: delivery.createdAt.toISOString(),
    by: [...statements.values()][0]?.person ?? '',
    items: items.map((item, i) => {
      const s = statements.get(item.faceId);
      return {
        faceId: item.faceId,
        face: `${leads[i]!.familyName} ${leads[i]!.style}`,
        state: item.state,
        message: item.message,
        bytes: item.bytes,
        sha256: item.sha256,
        statement: s
          ? {
              words: s.words,
              person: s.person,
              at: s.at.toISOString(),
              answer: s.answer,
              note: s.note,
              overridden: Boolean(s.overridden),
              licenseName: s.licenseName,
            }
          : null,
      };
    }),
  };
}
