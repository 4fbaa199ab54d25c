import { attachment } from '../../platform/http/attach.js';
import { profile, type Profile } from '@orderly-glyph/core';
import { routes, type Delivery } from '@orderly-glyph/schema';
import { randomUUID } from 'node:crypto';
import { type App } from '../../platform/http/context.js';
import { conflict, invalid, stale } from '../../platform/http/problem.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { ReadyTextEntity } from '../library/index.js';
import { createDelivery, describeDelivery, lookAgain, removeInstall } from './deliveries.js';
import { checkKit, createKit, openKit, writeKit } from './kit.js';
import { checkFaces, describeKinds, describePlaces, findPlace, profileOf, recipeOf } from './places.js';
import { DeliveryEntity, PlaceEntity, type PlaceRow } from './rows.js';
import { connectorOf, PlaceError, type Allowed } from './connectors/index.js';

/** Holds what was entered against the settings of the kind of place. @throws HttpProblem that names the field */
function checkSettings(kind: Profile, given: { address: string; key: string }, fresh: boolean): void {
  for (const { id, label, kind: what } of kind.settings) {
    const value = given[id];
    if (value === '' && (fresh || what !== 'secret')) throw invalid(`“${label}” is missing. Nothing was changed.`, id);
    if (what === 'address' && !/^https?:\/\/\S+$/i.test(value) && value !== '')
      throw invalid('This is no address of a website: it begins with https:// or http://. Nothing was changed.', id);
  }
}

const facesOf = (delivery: Delivery): string[] => delivery.items.map((i) => i.faceId);

export function placesRoutes(app: App): Bound[] {
  const { db } = app;
  const readyTexts = async (workspaceId: string) =>
    (await db.getRepository(ReadyTextEntity).find({ where: { workspaceId }, order: { position: 'ASC' } })).map(
      ({ language, label, text }) => ({ language, label, text }),
    );
  const allowed: Allowed = { hosts: app.config.privatePlaces, folders: app.config.placeFolders };

  /** A place is only kept once it answered. */
  const tried = (row: PlaceRow): Promise<void> =>
    connectorOf(profileOf(row))
      .try(row, allowed)
      .catch((error: unknown) => {
        if (!(error instanceof PlaceError)) throw error;
        throw invalid(`${error.message} Nothing was kept.`, error.setting ?? 'address');
      });

  return [
    bind(app, routes.listPlaceKinds, () => Promise.resolve(describeKinds())),
    bind(app, routes.listPlaces, async ({ who }) =>
      describePlaces(
        db,
        who.workspaceId,
        await db.getRepository(PlaceEntity).find({ where: { workspaceId: who.workspaceId }, order: { createdAt: 'ASC' } }),
      ),
    ),
    bind(app, routes.createPlace, async ({ who, body }) => {
      const kind = profile(body.profileId);
      if (!kind) throw invalid('There is no such kind of place.', 'profileId');
      checkSettings(kind, body, true);
      const row: PlaceRow = {
        id: randomUUID(),
        workspaceId: who.workspaceId,
        name: body.name,
        profileId: body.profileId,
        address: body.address.replace(/\/+$/, ''),
        siteKey: body.key,
        createdAt: new Date(),
        version: 1,
      };
      await tried(row);
      await db.getRepository(PlaceEntity).insert(row);
      return (await describePlaces(db, who.workspaceId, [row]))[0]!;
    }),
    bind(app, routes.changePlace, async ({ who, params, body }) => {
      const before = await findPlace(db, who.workspaceId, params.placeId);
      const row: PlaceRow = {
        ...before,
        name: body.name,
        address: body.address.replace(/\/+$/, ''),
        siteKey: body.key || before.siteKey,
        version: body.version + 1,
      };
      checkSettings(profileOf(before), body, false);
      if (before.version !== body.version) throw stale(`Somebody changed “${before.name}” while you worked on it`);
      if (row.address !== before.address || row.siteKey !== before.siteKey) await tried(row);
      const { affected } = await db
        .getRepository(PlaceEntity)
        .update(
          { id: row.id, workspaceId: who.workspaceId, version: body.version },
          { name: row.name, address: row.address, siteKey: row.siteKey, version: row.version },
        );
      if (!affected) throw stale(`Somebody changed “${before.name}” while you worked on it`);
      const now = (await describePlaces(db, who.workspaceId, [row]))[0]!;
      const faceIds = row.name === before.name ? [] : now.installs.map((install) => install.faceId);
      return { ...now, changed: await app.families.changed(who.workspaceId, faceIds) };
    }),
    bind(app, routes.removePlace, async ({ who, params }) => {
      const place = await findPlace(db, who.workspaceId, params.placeId);
      if (await db.getRepository(DeliveryEntity).existsBy({ placeId: place.id }))
        throw conflict('Faces were delivered there, and the statements made for that are kept. The place stays on record.');
      await db.getRepository(PlaceEntity).delete({ id: place.id });
      return { ok: true as const };
    }),
    bind(app, routes.checkForPlace, async ({ who, params, body }) =>
      checkFaces(
        db,
        app.compute,
        who.workspaceId,
        await findPlace(db, who.workspaceId, params.placeId),
        body.faceIds,
        recipeOf(body.convertTo),
      ),
    ),
    bind(app, routes.createDelivery, async ({ who, body }) => {
      const id = await createDelivery(db, app.compute, who, body);
      app.jobs.nudge();
      return describeDelivery(db, who.workspaceId, id);
    }),
    bind(app, routes.getDelivery, async ({ who, params }) => {
      const delivery = await describeDelivery(db, who.workspaceId, params.deliveryId);
      const over = delivery.state !== 'queued' && delivery.state !== 'running';
      return { ...delivery, changed: over ? await app.families.now(who.workspaceId, facesOf(delivery)) : null };
    }),
    bind(app, routes.lookAgain, async ({ who, params }) => {
      await lookAgain({ db, allowed }, who, params.deliveryId);
      const delivery = await describeDelivery(db, who.workspaceId, params.deliveryId);
      return { ...delivery, changed: await app.families.changed(who.workspaceId, facesOf(delivery)) };
    }),
    bind(app, routes.removeInstall, async ({ who, params }) => {
      const faceId = await removeInstall(db, allowed, who, params.installId);
      return { ok: true as const, changed: await app.families.changed(who.workspaceId, [faceId]) };
    }),
    bind(app, routes.checkKit, ({ who, body }) => checkKit(db, who.workspaceId, body.faceIds)),
    bind(app, routes.createKit, ({ who, body }) => createKit(db, who, body.faces)),
    bind(app, routes.getKit, async ({ who, params, query, response }) => {
      const { name, faceIds } = await openKit(db, who.workspaceId, params.kitId);
      const texts = await readyTexts(who.workspaceId);
      attachment(response, name, 'application/zip');
      await writeKit(
        db,
        app.compute,
        who.workspaceId,
        faceIds,
        { layout: query.layout, languages: [...new Set(texts.flatMap((t) => t.language || []))], sample: texts[0]?.text ?? null },
        response,
      );
    }),
  ];
}
