import { routes } from '@orderly-glyph/schema';
import { attach } from '../../platform/http/attach.js';
import { type App } from '../../platform/http/context.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { applyHouseStyle, findHouseStyle, houseSheet, listHouseStyles, saveHouseStyle } from './house-styles.js';
import { HouseStyleEntity } from './rows.js';

export function houseStylesRoutes(app: App): Bound[] {
  const { db } = app;
  return [
    bind(app, routes.listHouseStyles, ({ who }) => listHouseStyles(db, who.workspaceId)),
    bind(app, routes.createHouseStyle, ({ who, body }) => saveHouseStyle(db, who, body, null)),
    bind(app, routes.changeHouseStyle, ({ who, params, body: { version, ...fields } }) =>
      saveHouseStyle(db, who, fields, { id: params.styleId, version }),
    ),
    bind(app, routes.removeHouseStyle, async ({ who, params }) => {
      const style = await findHouseStyle(db, who.workspaceId, params.styleId);
      await db.getRepository(HouseStyleEntity).delete({ id: style.id });
      return { ok: true as const };
    }),
    bind(app, routes.applyHouseStyle, async ({ who, params }) => {
      const deps = { db, compute: app.compute, allowed: app.allowed };
      const { set, missing, faceIds } = await applyHouseStyle(deps, who, params.styleId, params.placeId);
      return { ok: true as const, set, missing, changed: await app.families.changed(who.workspaceId, faceIds) };
    }),
    bind(app, routes.houseSheet, async ({ who, params, response }) => {
      const { name, pdf } = await houseSheet(db, app.compute, who.workspaceId, params.styleId);
      attach(response, `${name}.pdf`, pdf, 'application/pdf');
    }),
  ];
}
