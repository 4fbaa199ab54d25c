import { offeredAnswers } from '@orderly-glyph/core';
import { routes, type License } from '@orderly-glyph/schema';
import { getBlob } from '../../platform/blobs/blobs.js';
import { attach } from '../../platform/http/attach.js';
import { type App } from '../../platform/http/context.js';
import { notFound } from '../../platform/http/problem.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { Workspace } from '../accounts/index.js';
import { calendarPath, readCalendar, renewCalendar } from './calendar.js';
import { describeCompanion, EVIDENCE } from './describe.js';
import { addEvidence } from './evidence.js';
import { licenseHistory } from './history.js';
import { listLicenses, removeLicense, restoreLicense, saveLicense, type Touching } from './licenses.js';
import { CompanionEntity } from './rows.js';
import { dropStartingPoint, keepStartingPoint, listStartingPoints } from './starting-points.js';

export function licensesRoutes(app: App): Bound[] {
  const { db } = app;
  const companionOf = async (workspaceId: string, id: string) => {
    const row = await db.getRepository(CompanionEntity).findOneBy({ id, workspaceId });
    if (!row) throw notFound('This companion');
    const [bundle] = row.bundleId ? ((await db.query('SELECT name FROM bundle WHERE id = ?', [row.bundleId])) as { name: string }[]) : [];
    return { row, bundle: bundle?.name ?? EVIDENCE };
  };
  /** What a text says, with what each known license in it offers to answer. */
  const readText = async (text: string) => {
    const read = await app.compute.run('recognise', [text], true);
    const several = read.recognised.length > 1 ? 'several' : null;
    const narrowed = read.narrowing.map((n) => n.use);
    return {
      ...read,
      near: read.near && { ...read.near, answers: {} },
      recognised: read.recognised.map((r) => ({ ...r, answers: offeredAnswers(r, { doubt: read.doubt ?? several, narrowed }) })),
    };
  };
  /** Answers a change of a license with the families that look different after it. */
  const changed = async (workspaceId: string, act: Promise<Touching<License>>) => {
    const { said, faceIds } = await act;
    return { ...said, changed: await app.families.changed(workspaceId, faceIds) };
  };
  return [
    bind(app, routes.readCompanion, async ({ who, params }) => {
      const { row, bundle } = await companionOf(who.workspaceId, params.companionId);
      const readable = row.content !== null && row.kind !== 'picture';
      return {
        companion: describeCompanion(row, bundle),
        text: row.content,
        ...(readable
          ? await readText(row.content!)
          : { reading: null, narrowing: [], recognised: [], near: null, mentions: [], doubt: null }),
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
    bind(app, routes.createLicense, ({ who, body }) => changed(who.workspaceId, saveLicense(db, who, body, null))),
    bind(app, routes.changeLicense, ({ who, params, body }) =>
      changed(who.workspaceId, saveLicense(db, who, body, params.licenseId, body.version)),
    ),
    bind(app, routes.removeLicense, async ({ who, params }) => {
      const faceIds = await removeLicense(db, who, params.licenseId);
      return { ok: true as const, changed: await app.families.changed(who.workspaceId, faceIds) };
    }),
    bind(app, routes.restoreLicense, ({ who, params }) => changed(who.workspaceId, restoreLicense(db, who, params.licenseId))),
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
  ];
}
