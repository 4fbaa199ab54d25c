import { attach, attachment } from '../../platform/http/attach.js';
import { contradictions, fileBase, profile, type Profile, type Rules } from '@orderly-glyph/core';
import { routes, type Delivery } from '@orderly-glyph/schema';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { type App } from '../../platform/http/context.js';
import { conflict, invalid, stale } from '../../platform/http/problem.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { findAlike, ReadyTextEntity, type Snapshots } from '../library/index.js';
import { lookAgain, removeInstall } from './carry-out.js';
import { type Counted, returnTry, takeTry } from '../accounts/index.js';
import { computerCode, computerFile, computerOf, describeComputer, joinComputer, syncComputer } from './computers.js';
import { arrange, fetchBack, listPicture, placeAdvice } from './shop-list.js';
import { writePlaceKit } from './place-kit.js';
import { createDeliveries, createWithdrawals, describeBatch, describeDelivery } from './deliveries.js';
import { foresee, installedFaces, type Foresight } from './foresee.js';
import { assignRole, confirmByHand, faceHistory, planWithdrawal, queueCheck } from './installs.js';
import { checkKit, createKit, openKit, writeKit } from './kit.js';
import { describeKinds, describePlaces, findPlace, profileOf } from './places.js';
import { DeliveryEntity, PlaceEntity, PlaceRulesEntity, type PlaceRow } from './rows.js';
import { connectorOf, PlaceError } from './connectors/index.js';

/** Holds what was entered against the settings of the kind of place. @throws HttpProblem that names the field */
function checkSettings(
  kind: Profile,
  given: { address: string; key: string; user: string; hostKey: string; page: string },
  fresh: boolean,
): void {
  for (const { id, label, kind: what, optional } of kind.settings) {
    const value = given[id];
    if (value === '' && !optional && (fresh || (what !== 'secret' && what !== 'lines')))
      throw invalid(`“${label}” is missing. Nothing was changed.`, id);
    if (what === 'address' && !/^https?:\/\/\S+$/i.test(value) && value !== '')
      throw invalid('This is no address of a website: it begins with https:// or http://. Nothing was changed.', id);
  }
}

const facesOf = (delivery: Delivery): string[] => delivery.items.map((i) => i.faceId);

export function placesRoutes(app: App, snapshots: Snapshots): Bound[] {
  const { db } = app;
  const readyTexts = async (workspaceId: string) =>
    (await db.getRepository(ReadyTextEntity).find({ where: { workspaceId }, order: { position: 'ASC' } })).map(
      ({ language, label, text }) => ({ language, label, text }),
    );
  const { allowed } = app;
  const deps: Foresight = {
    db,
    compute: app.compute,
    allowed,
    findAlike: (workspaceId, faceId, use) => findAlike(db, snapshots, workspaceId, faceId, { use }),
  };
  const nobodysRole = (): null => null;

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
      if (!body.byHand) checkSettings(kind, body, true);
      const row: PlaceRow = {
        id: randomUUID(),
        workspaceId: who.workspaceId,
        name: body.name,
        profileId: body.profileId,
        address: body.address.replace(/\/+$/, ''),
        siteKey: allowed.secrets.seal(body.key.trim()),
        createdAt: new Date(),
        version: 1,
        rules: null,
        byHand: body.byHand,
        login: body.user,
        hostKey: body.hostKey,
        page: body.page,
      };
      if (!row.byHand) await tried(row);
      await db.getRepository(PlaceEntity).insert(row);
      return (await describePlaces(db, who.workspaceId, [row]))[0]!;
    }),
    bind(app, routes.changePlace, async ({ who, params, body }) => {
      const before = await findPlace(db, who.workspaceId, params.placeId);
      const row: PlaceRow = {
        ...before,
        name: body.name,
        address: body.address.replace(/\/+$/, ''),
        siteKey: body.key.trim() ? allowed.secrets.seal(body.key.trim()) : before.siteKey,
        login: body.user,
        hostKey: body.hostKey,
        page: body.page,
        version: body.version + 1,
      };
      if (!before.byHand) checkSettings(profileOf(before), body, false);
      if (before.version !== body.version) throw stale(`Somebody changed “${before.name}” while you worked on it`);
      const moved = (['address', 'siteKey', 'login', 'hostKey', 'page'] as const).some((part) => row[part] !== before[part]);
      if (moved && !row.byHand) await tried(row);
      const { affected } = await db.getRepository(PlaceEntity).update(
        { id: row.id, workspaceId: who.workspaceId, version: body.version },
        {
          name: row.name,
          address: row.address,
          siteKey: row.siteKey,
          login: row.login,
          hostKey: row.hostKey,
          page: row.page,
          version: row.version,
        },
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
    bind(app, routes.changeRules, async ({ who, params, body }) => {
      const before = await findPlace(db, who.workspaceId, params.placeId);
      const wrong = body.rules ? contradictions(body.rules) : [];
      if (wrong.length > 0) throw invalid(`${wrong.join(' ')} Nothing was changed.`, 'rules');
      if (before.version !== body.version) throw stale(`Somebody changed “${before.name}” while you worked on it`);
      const row: PlaceRow = { ...before, rules: body.rules as Rules | null, version: body.version + 1 };
      await db.transaction(async (manager) => {
        const { affected } = await manager
          .getRepository(PlaceEntity)
          .update({ id: row.id, version: body.version }, { rules: row.rules as never, version: row.version });
        if (!affected) throw stale(`Somebody changed “${before.name}” while you worked on it`);
        await manager
          .getRepository(PlaceRulesEntity)
          .insert({ workspaceId: who.workspaceId, placeId: row.id, rules: row.rules as never, byName: who.name, at: new Date() });
      });
      // What lies there is held against the new rules: what would not be taken today is told, and nothing is touched.
      const faceIds = await installedFaces(db, row.id);
      const { cells } = await foresee(deps, who.workspaceId, [row], faceIds, {
        remedies: () => [],
        role: nobodysRole,
        mendAll: true,
        prepare: false,
      });
      const doubts = cells.flatMap((c) =>
        c.findings
          .filter((f) => f.severity === 'stops' && f.code !== 'name-taken' && f.code !== 'no-room')
          .slice(0, 1)
          .map((f) => `${c.face}: ${f.message}`),
      );
      return { place: (await describePlaces(db, who.workspaceId, [row]))[0]!, doubts };
    }),
    bind(app, routes.checkForPlace, async ({ who, params, body }) => {
      const place = await findPlace(db, who.workspaceId, params.placeId);
      const { cells } = await foresee(deps, who.workspaceId, [place], body.faceIds, {
        remedies: () => body.remedies,
        role: () => body.role,
        mendAll: false,
        prepare: true,
      });
      return cells;
    }),
    bind(app, routes.checkForPlaces, async ({ who, body }) => {
      const places = await Promise.all(body.placeIds.map((id) => findPlace(db, who.workspaceId, id)));
      const chosen = new Map(body.chosen.map((c) => [`${c.faceId} ${c.placeId}`, c.remedies]));
      return foresee(deps, who.workspaceId, places, body.faceIds, {
        remedies: (faceId, placeId) => chosen.get(`${faceId} ${placeId}`) ?? [],
        role: (placeId) => body.roles[placeId] ?? null,
        mendAll: body.mendAll,
        prepare: false,
      });
    }),
    bind(app, routes.createDelivery, async ({ who, body }) => {
      const [id] = await createDeliveries(deps, who, [body], null);
      app.jobs.nudge();
      return describeDelivery(db, who.workspaceId, id!);
    }),
    bind(app, routes.createDeliveries, async ({ who, body }) => {
      await createDeliveries(deps, who, body.orders, body.batchId);
      app.jobs.nudge();
      return describeBatch(db, who.workspaceId, body.batchId);
    }),
    bind(app, routes.getDeliveries, async ({ who, params }) => {
      const deliveries = await describeBatch(db, who.workspaceId, params.batchId);
      const over = deliveries.every((d) => d.state !== 'queued' && d.state !== 'running');
      return { deliveries, changed: over ? await app.families.now(who.workspaceId, deliveries.flatMap(facesOf)) : null };
    }),
    bind(app, routes.checkInstalls, async ({ who, body }) => {
      if (body.placeId) await findPlace(db, who.workspaceId, body.placeId);
      const jobId = await queueCheck(db, who.workspaceId, body.placeId);
      app.jobs.nudge();
      return { jobId };
    }),
    bind(app, routes.planWithdrawal, ({ who, body }) => planWithdrawal(db, who.workspaceId, body)),
    bind(app, routes.withdraw, async ({ who, body }) => {
      await createWithdrawals(db, who, body.installIds, body.batchId);
      app.jobs.nudge();
      return describeBatch(db, who.workspaceId, body.batchId);
    }),
    bind(app, routes.confirmByHand, async ({ who, params, body }) => {
      const faceIds = await confirmByHand(deps, who, params.placeId, body);
      return { ok: true as const, changed: await app.families.changed(who.workspaceId, faceIds) };
    }),
    bind(app, routes.getPlaceKit, async ({ who, params, query, response }) => {
      const place = await findPlace(db, who.workspaceId, params.placeId);
      const faceIds = z.array(z.uuid()).min(1).max(100).safeParse(query.faces.split(','));
      if (!faceIds.success) throw invalid('These are no faces of yours.', 'faces');
      await writePlaceKit(deps, who.workspaceId, place, faceIds.data, () => {
        attachment(response, `${fileBase(place.name, '').replace(/-Regular$/, '')}-kit.zip`, 'application/zip');
        return response;
      });
    }),
    bind(app, routes.placeAdvice, ({ who, params }) => placeAdvice(db, who.workspaceId, params.placeId)),
    bind(app, routes.arrangeInstalls, async ({ who, params, body }) => {
      const { faceIds, refused } = await arrange(deps, who, params.placeId, body);
      return { ok: true as const, refused, changed: await app.families.changed(who.workspaceId, faceIds) };
    }),
    bind(app, routes.fetchInstall, async ({ who, params, response }) => {
      const { name, mediaType, bytes } = await fetchBack(deps, who.workspaceId, params.installId);
      attach(response, name, bytes, mediaType);
    }),
    bind(app, routes.listPicture, async ({ who, params, query, response }) => {
      const { name, bytes } = await listPicture(deps, who.workspaceId, params.faceId, query.as);
      attach(response, `${name}.${query.as}`, bytes, query.as === 'svg' ? 'image/svg+xml' : 'image/png');
    }),
    bind(app, routes.computerCode, ({ who, params }) => computerCode(db, who.workspaceId, params.placeId)),
    bind(app, routes.getComputer, ({ who, params }) => describeComputer(db, who.workspaceId, params.placeId)),
    bind(app, routes.joinComputer, async ({ body, request }) => {
      const counted: Counted[] = [{ kind: 'code', subject: request.ip ?? '' }];
      await takeTry(db, counted);
      const joined = await joinComputer(db, body);
      await returnTry(db, counted);
      return joined;
    }),
    bind(app, routes.syncComputer, async ({ request, body }) => {
      const computer = await computerOf(db, request.headers.authorization);
      const { faceIds, ...told } = await syncComputer(db, computer, body.report);
      if (faceIds.length > 0) await app.families.changed(computer.workspaceId, faceIds);
      return told;
    }),
    bind(app, routes.computerFile, async ({ request, params, response }) => {
      const computer = await computerOf(db, request.headers.authorization);
      response.setHeader('Content-Type', 'application/octet-stream');
      response.end(Buffer.from(await computerFile(db, computer, params.installId)));
    }),
    bind(app, routes.faceHistory, ({ who, params }) => faceHistory(db, who.workspaceId, params.faceId)),
    bind(app, routes.assignRole, async ({ who, params, body }) => {
      const faceId = await assignRole(deps, who, params.installId, body.role);
      return { ok: true as const, changed: await app.families.changed(who.workspaceId, [faceId]) };
    }),
    bind(app, routes.getDelivery, async ({ who, params }) => {
      const delivery = await describeDelivery(db, who.workspaceId, params.deliveryId);
      const over = delivery.state !== 'queued' && delivery.state !== 'running';
      return { ...delivery, changed: over ? await app.families.now(who.workspaceId, facesOf(delivery)) : null };
    }),
    bind(app, routes.lookAgain, async ({ who, params }) => {
      await lookAgain(deps, who, params.deliveryId);
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
