import { randomUUID } from 'node:crypto';
import { fileBase, language, languages, profile, sampleOf, scriptName, offeredAnswers } from '@orderly-glyph/core';
import { queryToWanted, routes, wanted } from '@orderly-glyph/schema';
import type { Response } from 'express';
import { getBlob } from '../db/blobs.js';
import { Bundle, CompanionEntity, FileEntity, PlaceEntity, ProofTextEntity, Workspace, type PlaceRow } from '../db/entities.js';
import { describeCompanion } from '../library/describe.js';
import { describeDesk } from '../library/desk.js';
import { findAlike, versionChanges } from '../library/alike.js';
import { changeLibrary, listChanges, undoChange } from '../library/changes.js';
import { listDoubles } from '../library/doubles.js';
import { getFamily } from '../library/family.js';
import { describeNeeds, languageTable } from '../library/languages.js';
import { findFaces, getFace } from '../library/library.js';
import { describeShelf, dropSearch, dropText, keepSearch, keepText, listTexts, setPalette } from '../library/shelf.js';
import { Snapshots } from '../library/snapshot.js';
import { describeStorage, freeSpace } from '../library/storage.js';
import { getGlyph, listCharacters } from '../library/characters.js';
import { checkText } from '../library/text.js';
import { FaceLines } from '../library/lines.js';
import { calendarPath, readCalendar, renewCalendar } from '../licenses/calendar.js';
import { addEvidence } from '../licenses/evidence.js';
import { licenseHistory } from '../licenses/history.js';
import { listLicenses, removeLicense, restoreLicense, saveLicense } from '../licenses/licenses.js';
import { dropStartingPoint, keepStartingPoint, listStartingPoints } from '../licenses/starting-points.js';
import { createDelivery, describeDelivery, removeInstall } from '../places/deliveries.js';
import { PlaceRefused, tryPlace } from '../places/site-client.js';
import { checkKit, createKit, openKit, writeKit } from '../places/kit.js';
import { render } from '../places/renditions.js';
import { checkFaces, describePlaces, findPlace, mediaType } from '../places/places.js';
import {
  createProof,
  listProofs,
  proofFace,
  readProof,
  readProofPage,
  removeProof,
  renewProof,
  renderPdf,
  renderPng,
} from '../proof/proofs.js';
import { auditFile, makeAudit } from '../rights/audit.js';
import { proofPdf, proofZip } from '../rights/proof.js';
import { exportWorkspace } from '../workspace/export.js';
import { importWorkspace } from '../workspace/import.js';
import type { App } from './context.js';
import { conflict, invalid, notFound, stale } from './problem.js';
import { bind, type Bound } from './serve.js';

/** Received bytes only ever leave as a download: a browser must not show an uploaded page or drawing as ours. */
function attach(response: Response, name: string, bytes: Uint8Array, type = 'application/octet-stream'): void {
  response.setHeader('Content-Type', type);
  response.setHeader(
    'Content-Disposition',
    `attachment; filename="${name.replace(/[^\w. -]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`)}`,
  );
  response.setHeader('Content-Security-Policy', "sandbox; default-src 'none'");
  response.setHeader('Cache-Control', 'private, no-store');
  response.end(Buffer.from(bytes));
}

export function libraryRoutes(app: App): Bound[] {
  const { db } = app;
  const lines = new FaceLines(db, app.compute);
  const snapshots = new Snapshots(db);

  const companionOf = async (workspaceId: string, id: string) => {
    const row = await db.getRepository(CompanionEntity).findOneBy({ id, workspaceId });
    if (!row) throw notFound('This companion');
    return { row, bundle: (await db.getRepository(Bundle).findOneByOrFail({ id: row.bundleId })).name };
  };

  /** What a text says, with what each known license in it offers to answer. */
  const readText = async (text: string) => {
    const read = await app.compute.run('recognise', [text], true);
    const several = read.recognised.length > 1 ? 'several' : null;
    const narrowed = read.recognised.length > 0 ? (read.reading?.suggestions ?? []).map((s) => s.use) : [];
    return {
      ...read,
      near: read.near && { ...read.near, answers: {} },
      recognised: read.recognised.map((r) => ({ ...r, answers: offeredAnswers(r, { doubt: read.doubt ?? several, narrowed }) })),
    };
  };

  const proofTexts = async (workspaceId: string) =>
    (await db.getRepository(ProofTextEntity).find({ where: { workspaceId }, order: { position: 'ASC' } })).map(
      ({ language, label, text }) => ({ language, label, text }),
    );

  /** A place is only kept once it answered. */
  const tried = (row: PlaceRow): Promise<void> =>
    tryPlace(row, app.config.privatePlaces).catch((error: unknown) => {
      if (!(error instanceof PlaceRefused)) throw error;
      throw invalid(`${error.message} Nothing was kept.`, error.status === 401 || error.status === 403 ? 'key' : 'address');
    });

  return [
    bind(app, routes.getDesk, ({ who }) => describeDesk(db, who.workspaceId, who.role !== 'viewer')),
    bind(app, routes.getProofTexts, ({ who }) => proofTexts(who.workspaceId)),
    bind(app, routes.sampleText, async ({ query }) => {
      const found = language(query.language);
      if (!found) throw invalid('There is no such language.', 'language');
      return { language: found.tag, label: found.name.slice(0, 60), text: sampleOf(found.tag)!.slice(0, 400) };
    }),
    bind(app, routes.setProofTexts, async ({ who, body }) => {
      await db.transaction(async (manager) => {
        const repository = manager.getRepository(ProofTextEntity);
        await repository.delete({ workspaceId: who.workspaceId });
        if (body.length > 0)
          await repository.insert(body.map((t, position) => ({ id: randomUUID(), workspaceId: who.workspaceId, position, ...t })));
      });
      return proofTexts(who.workspaceId);
    }),
    bind(app, routes.listFamilies, async ({ who, response }) => {
      response.setHeader('Content-Type', 'application/json; charset=utf-8');
      response.end((await snapshots.get(who.workspaceId)).json);
    }),
    bind(app, routes.findFamilies, ({ who, query }) => {
      const asked = wanted.safeParse(queryToWanted(query));
      if (!asked.success) throw invalid(`“${asked.error.issues[0]!.path.join('.')}”: ${asked.error.issues[0]!.message}.`);
      return snapshots.find(who.workspaceId, asked.data);
    }),
    bind(app, routes.getFamily, ({ who, params }) => getFamily(db, who.workspaceId, params.familyId)),
    bind(app, routes.getShelf, ({ who }) => describeShelf(db, who.workspaceId)),
    bind(app, routes.listChanges, ({ who }) => listChanges(db, who.workspaceId)),
    bind(app, routes.changeLibrary, ({ who, body }) => changeLibrary(db, who, body)),
    bind(app, routes.undoChange, ({ who, params }) => undoChange(db, who, params.changeId)),
    bind(app, routes.listDoubles, ({ who }) => listDoubles(db.manager, who.workspaceId)),
    bind(app, routes.getStorage, ({ who }) => describeStorage(db, who.workspaceId, app.config.dataDir)),
    bind(app, routes.freeSpace, ({ who }) => freeSpace(db, who.workspaceId)),
    bind(app, routes.keepSearch, ({ who, body }) => keepSearch(db, who.workspaceId, body.name, body.query)),
    bind(app, routes.dropSearch, async ({ who, params }) => {
      await dropSearch(db, who.workspaceId, params.searchId);
      return { ok: true as const };
    }),
    bind(app, routes.listTexts, ({ who }) => listTexts(db, who.workspaceId)),
    bind(app, routes.keepText, ({ who, body }) => keepText(db, who.workspaceId, body.name, body.text)),
    bind(app, routes.dropText, async ({ who, params }) => {
      await dropText(db, who.workspaceId, params.textId);
      return { ok: true as const };
    }),
    bind(app, routes.setPalette, ({ who, body }) => setPalette(db, who.workspaceId, body)),
    bind(app, routes.getLanguageTable, ({ who, query }) =>
      languageTable(db, snapshots, who.workspaceId, (query.tags ?? '').split(',').filter(Boolean)),
    ),
    bind(app, routes.getNeeds, ({ who, params, query }) => describeNeeds(db, app.compute, who.workspaceId, params.faceId, query.language)),
    bind(app, routes.getAlike, ({ who, params, query }) =>
      findAlike(db, snapshots, who.workspaceId, params.faceId, { use: query.use, free: query.free === 'yes' }),
    ),
    bind(app, routes.getVersionChanges, ({ who, params, query }) =>
      versionChanges(db, app.compute, who.workspaceId, params.faceId, query.newer),
    ),
    bind(app, routes.findDrawn, async ({ who, params, body }) => {
      const [face] = await findFaces(db, who.workspaceId, [params.faceId]);
      return app.compute.run(
        'drawn',
        [await getBlob(db.manager, who.workspaceId, face!.sha256), face!.faceIndex, body.strokes, body.pen],
        true,
      );
    }),

    bind(app, routes.listProofs, ({ who }) => listProofs(db, who.workspaceId)),
    bind(app, routes.createProof, ({ who, body }) => createProof(db, who, body.plan, body.endsOn)),
    bind(app, routes.removeProof, async ({ who, params }) => {
      await removeProof(db, who.workspaceId, params.proofId);
      return { ok: true as const };
    }),
    bind(app, routes.renewProof, ({ who, params }) => renewProof(db, who.workspaceId, params.proofId)),
    bind(app, routes.renderProof, async ({ who, body, query, response }) => {
      const bytes =
        query.as === 'pdf'
          ? await renderPdf(db, app.compute, who.workspaceId, body)
          : await renderPng(db, app.compute, who.workspaceId, body, query.page);
      attach(response, `${body.title}.${query.as}`, bytes, query.as === 'pdf' ? 'application/pdf' : 'image/png');
    }),
    bind(app, routes.readProof, ({ params }) => readProof(db, app.compute, params.secret)),
    bind(app, routes.readProofPage, async ({ params, response }) => {
      const bytes = await readProofPage(db, app.compute, params.secret, params.page);
      response.setHeader('Content-Type', 'image/png');
      response.setHeader('Cache-Control', 'private, no-cache');
      response.end(Buffer.from(bytes));
    }),
    bind(app, routes.readProofFace, async ({ params, response }) => {
      const { workspaceId, faceId, text } = await proofFace(db, params.secret, params.number);
      response.setHeader('Content-Type', 'font/sfnt');
      response.end(Buffer.from(await lines.line(workspaceId, faceId, text || ' ')));
    }),
    bind(app, routes.listLanguages, () =>
      Promise.resolve(languages().map((l) => ({ tag: l.tag, name: l.name, script: l.script, scriptName: scriptName(l.script) }))),
    ),
    bind(app, routes.checkText, ({ who, body }) => checkText(db, who.workspaceId, body.text, body.faceIds, body.use)),
    bind(app, routes.getFace, ({ who, params }) => getFace(db, who.workspaceId, params.faceId)),
    bind(app, routes.listCharacters, ({ who, params, query }) =>
      listCharacters(db, app.compute, who.workspaceId, params.faceId, query.q ?? ''),
    ),
    bind(app, routes.getGlyph, ({ who, params, query }) => getGlyph(db, app.compute, who.workspaceId, params.faceId, query)),
    bind(app, routes.getFaceLine, async ({ who, params, query, response }) => {
      const data = await lines.line(who.workspaceId, params.faceId, query.text);
      response.setHeader('Content-Type', 'font/sfnt');
      // With the file's revision in the address the answer can never change.
      response.setHeader('Cache-Control', query.rev ? 'private, max-age=31536000, immutable' : 'private, no-cache');
      response.end(Buffer.from(data));
    }),
    bind(app, routes.downloadFace, async ({ who, params, response }) => {
      const [face] = await findFaces(db, who.workspaceId, [params.faceId]);
      const rendered = await render(db, app.compute, who.workspaceId, face!, params.format, true);
      attach(
        response,
        `${fileBase(face!.familyName, face!.style)}.${params.format}`,
        await getBlob(db.manager, who.workspaceId, rendered.sha256),
        mediaType(params.format),
      );
    }),
    bind(app, routes.downloadFile, async ({ who, params, response }) => {
      const file = await db.getRepository(FileEntity).findOneBy({ id: params.fileId, workspaceId: who.workspaceId });
      if (!file) throw notFound('This file');
      attach(response, file.name, await getBlob(db.manager, who.workspaceId, file.sha256), mediaType(file.format));
    }),
    bind(app, routes.readCompanion, async ({ who, params }) => {
      const { row, bundle } = await companionOf(who.workspaceId, params.companionId);
      const readable = row.content !== null && row.kind !== 'picture';
      return {
        companion: describeCompanion(row, bundle),
        text: row.content,
        ...(readable ? await readText(row.content!) : { reading: null, recognised: [], near: null, mentions: [], doubt: null }),
      };
    }),
    bind(app, routes.downloadCompanion, async ({ who, params, response }) => {
      const { row } = await companionOf(who.workspaceId, params.companionId);
      attach(response, row.name.split('/').pop()!, await getBlob(db.manager, who.workspaceId, row.sha256));
    }),

    bind(app, routes.listLicenses, ({ who }) => listLicenses(db, who.workspaceId)),
    bind(app, routes.getCalendar, ({ who }) => calendarPath(db, who.workspaceId)),
    bind(app, routes.renewCalendar, ({ who }) => renewCalendar(db, who.workspaceId)),
    bind(app, routes.switchOffCalendar, async ({ who }) => {
      await db.getRepository(Workspace).update({ id: who.workspaceId }, { calendarSecret: null });
      return { ok: true as const };
    }),
    bind(app, routes.readCalendar, async ({ params, response }) => {
      const text = await readCalendar(db, params.secret);
      response.setHeader('Content-Type', 'text/calendar; charset=utf-8');
      response.end(text);
    }),
    bind(app, routes.getLicenseHistory, ({ who, params }) => licenseHistory(db, who.workspaceId, params.licenseId)),
    bind(app, routes.createLicense, ({ who, body }) => saveLicense(db, who, body, null)),
    bind(app, routes.changeLicense, ({ who, params, body }) => saveLicense(db, who, body, params.licenseId, body.version)),
    bind(app, routes.removeLicense, async ({ who, params }) => {
      await removeLicense(db, who, params.licenseId);
      return { ok: true as const };
    }),

    bind(app, routes.restoreLicense, ({ who, params }) => restoreLicense(db, who, params.licenseId)),
    bind(app, routes.readTermsText, ({ body }) => readText(body.text)),
    bind(app, routes.addEvidence, ({ who, params, query, request }) =>
      addEvidence(db, app.compute, who, params.licenseId, query.name, request, app.config),
    ),
    bind(app, routes.listStartingPoints, ({ who }) => listStartingPoints(db, who.workspaceId)),
    bind(app, routes.keepStartingPoint, ({ who, body }) => keepStartingPoint(db, who.workspaceId, body)),
    bind(app, routes.dropStartingPoint, async ({ who, params }) => {
      await dropStartingPoint(db, who.workspaceId, params.startingPointId);
      return { ok: true as const };
    }),
    bind(app, routes.writeProofOfRights, async ({ who, body, response }) => {
      const name = `proof-of-rights-${body.use}.${body.as}`;
      if (body.as === 'pdf')
        return attach(response, name, await proofPdf(db, app.compute, who.workspaceId, body.faceIds, body.use), 'application/pdf');
      await findFaces(db, who.workspaceId, body.faceIds);
      response.setHeader('Content-Type', 'application/zip');
      response.setHeader('Content-Disposition', `attachment; filename="${name}"`);
      response.setHeader('Cache-Control', 'private, no-store');
      await proofZip(db, app.compute, who.workspaceId, body.faceIds, body.use, response);
    }),
    bind(app, routes.getAudit, ({ who, query }) => makeAudit(db, who.workspaceId, query.day)),
    bind(app, routes.downloadAudit, async ({ who, query, response }) => {
      const audit = await makeAudit(db, who.workspaceId, query.day);
      const type = { pdf: 'application/pdf', csv: 'text/csv; charset=utf-8', json: 'application/json; charset=utf-8' }[query.as];
      attach(response, `audit-of-rights-${audit.day}.${query.as}`, await auditFile(app.compute, audit, query.as), type);
    }),

    bind(app, routes.listPlaces, async ({ who }) =>
      describePlaces(
        db,
        who.workspaceId,
        await db.getRepository(PlaceEntity).find({ where: { workspaceId: who.workspaceId }, order: { createdAt: 'ASC' } }),
      ),
    ),
    bind(app, routes.createPlace, async ({ who, body }) => {
      if (!profile(body.profileId)) throw invalid('There is no such kind of place.', 'profileId');
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
      if (before.version !== body.version) throw stale(`Somebody changed “${before.name}” while you worked on it`);
      if (row.address !== before.address || row.siteKey !== before.siteKey) await tried(row);
      const { affected } = await db
        .getRepository(PlaceEntity)
        .update(
          { id: row.id, workspaceId: who.workspaceId, version: body.version },
          { name: row.name, address: row.address, siteKey: row.siteKey, version: row.version },
        );
      if (!affected) throw stale(`Somebody changed “${before.name}” while you worked on it`);
      return (await describePlaces(db, who.workspaceId, [row]))[0]!;
    }),
    bind(app, routes.removePlace, async ({ who, params }) => {
      const place = await findPlace(db, who.workspaceId, params.placeId);
      const [{ count }] = (await db.query('SELECT COUNT(*) AS count FROM delivery WHERE place_id = ?', [place.id])) as [{ count: number }];
      if (Number(count) > 0)
        throw conflict('Faces were delivered there, and the statements made for that are kept. The place stays on record.');
      await db.getRepository(PlaceEntity).delete({ id: place.id });
      return { ok: true as const };
    }),
    bind(app, routes.checkForPlace, async ({ who, params, body }) =>
      checkFaces(db, app.compute, who.workspaceId, await findPlace(db, who.workspaceId, params.placeId), body.faceIds, body.convertTo),
    ),
    bind(app, routes.createDelivery, async ({ who, body }) => {
      const id = await createDelivery(db, app.compute, who, body);
      app.jobs.nudge();
      return describeDelivery(db, who.workspaceId, id);
    }),
    bind(app, routes.getDelivery, ({ who, params }) => describeDelivery(db, who.workspaceId, params.deliveryId)),
    bind(app, routes.removeInstall, async ({ who, params }) => {
      await removeInstall(db, app.config.privatePlaces, who.workspaceId, params.installId);
      return { ok: true as const };
    }),
    bind(app, routes.exportWorkspace, async ({ who, response }) => {
      response.setHeader('Content-Type', 'application/zip');
      response.setHeader('Content-Disposition', 'attachment; filename="orderly-glyph-workspace.zip"');
      response.setHeader('Cache-Control', 'private, no-store');
      await exportWorkspace(db, who.workspaceId, response);
    }),
    bind(app, routes.importWorkspace, ({ who, body }) => importWorkspace(db, app.compute, who, body)),
    bind(app, routes.checkKit, ({ who, body }) => checkKit(db, who.workspaceId, body.faceIds)),
    bind(app, routes.createKit, ({ who, body }) => createKit(db, who, body.faces)),
    bind(app, routes.getKit, async ({ who, params, response }) => {
      const { name, faceIds } = await openKit(db, who.workspaceId, params.kitId);
      response.setHeader('Content-Type', 'application/zip');
      response.setHeader('Content-Disposition', `attachment; filename="${name}"`);
      response.setHeader('Cache-Control', 'private, no-store');
      await writeKit(db, app.compute, who.workspaceId, faceIds, (await proofTexts(who.workspaceId))[0]?.text ?? null, response);
    }),
  ];
}
