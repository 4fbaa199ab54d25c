import { routes } from '@orderly-glyph/schema';
import { attach } from '../../platform/http/attach.js';
import type { App } from '../../platform/http/context.js';
import { invalid } from '../../platform/http/problem.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { withBody } from '../../platform/http/upload.js';
import { addDrawings, changeDrawings, copyDrawings, pickGlyphs, restoreSet } from './drawings.js';
import { changeSet, createSet, describeSet, findSet, listSets, returnSet } from './icon-sets.js';
import { kitOf, makeRelease } from './release.js';
import { IconSetEntity } from './rows.js';

export function iconSetsRoutes(app: App): Bound[] {
  const { db } = app;
  const deps = { db, compute: app.compute };
  return [
    bind(app, routes.listIconSets, ({ who }) => listSets(db, who.workspaceId)),
    bind(app, routes.createIconSet, async ({ who, body }) => describeSet(db, who.workspaceId, await createSet(db, who, body))),
    bind(app, routes.restoreIconSet, async ({ who, request }) => describeSet(db, who.workspaceId, await restoreSet(deps, who, request))),
    bind(app, routes.getIconSet, ({ who, params }) => describeSet(db, who.workspaceId, params.setId)),
    bind(app, routes.changeIconSet, async ({ who, params, body }) => {
      await changeSet(db, who, params.setId, body.facts, body.version);
      return describeSet(db, who.workspaceId, params.setId);
    }),
    bind(app, routes.removeIconSet, async ({ who, params }) => {
      const set = await findSet(db, who.workspaceId, params.setId);
      await db.getRepository(IconSetEntity).update({ id: set.id }, { removedAt: new Date() });
      return { ok: true as const };
    }),
    bind(app, routes.returnIconSet, async ({ who, params }) => {
      await returnSet(db, who.workspaceId, params.setId);
      return describeSet(db, who.workspaceId, params.setId);
    }),
    bind(app, routes.addDrawings, async ({ who, params, body }) => {
      const taken = await addDrawings(deps, who, params.setId, body.files, body.by);
      return { set: await describeSet(db, who.workspaceId, params.setId), taken };
    }),
    bind(app, routes.sendDrawings, async ({ who, params, request }) => {
      await findSet(db, who.workspaceId, params.setId);
      const taken = await withBody(request, (zip) => addDrawings(deps, who, params.setId, { zip }, 'itself'));
      return { set: await describeSet(db, who.workspaceId, params.setId), taken };
    }),
    bind(app, routes.pickGlyphs, async ({ who, params, body }) => {
      if ((body.faceId === null) === (body.fromSetId === null))
        throw invalid('Name either a face or another set. Nothing was taken.', 'faceId');
      const taken = body.faceId
        ? await pickGlyphs(deps, who, params.setId, body.faceId, body.characters)
        : await copyDrawings(deps, who, params.setId, body.fromSetId!, body.drawingIds);
      return { set: await describeSet(db, who.workspaceId, params.setId), taken };
    }),
    bind(app, routes.changeDrawings, async ({ who, params, body }) => {
      await changeDrawings(deps, who, params.setId, body);
      return describeSet(db, who.workspaceId, params.setId);
    }),
    bind(app, routes.releaseIcons, async ({ who, params, body }) => {
      const faceIds = await makeRelease(deps, who, params.setId, body);
      return { set: await describeSet(db, who.workspaceId, params.setId), changed: await app.families.changed(who.workspaceId, faceIds) };
    }),
    bind(app, routes.iconKit, async ({ who, params, query, response }) => {
      const { name, bytes } = await kitOf(db, who.workspaceId, params.setId, params.number, query.layout);
      attach(response, name, bytes, 'application/zip');
    }),
  ];
}
