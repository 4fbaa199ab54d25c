import { routes } from '@orderly-glyph/schema';
import { attach, attachment } from '../../platform/http/attach.js';
import { type App } from '../../platform/http/context.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { findFaces } from '../faces/index.js';
import { auditFile, makeAudit } from './audit.js';
import { rightsPdf, rightsZip } from './proof-of-rights.js';

export function reportsRoutes(app: App): Bound[] {
  const { db } = app;

  return [
    bind(app, routes.writeProofOfRights, async ({ who, body, response }) => {
      const name = `proof-of-rights-${body.use}.${body.as}`;
      if (body.as === 'pdf')
        return attach(response, name, await rightsPdf(db, app.compute, who.workspaceId, body.faceIds, body.use), 'application/pdf');
      await findFaces(db, who.workspaceId, body.faceIds);
      attachment(response, name, 'application/zip');
      await rightsZip(db, app.compute, who.workspaceId, body.faceIds, body.use, response);
    }),
    bind(app, routes.getAudit, ({ who, query }) => makeAudit(db, who.workspaceId, query.day)),
    bind(app, routes.downloadAudit, async ({ who, query, response }) => {
      const audit = await makeAudit(db, who.workspaceId, query.day);
      const type = { pdf: 'application/pdf', csv: 'text/csv; charset=utf-8', json: 'application/json; charset=utf-8' }[query.as];
      attach(response, `audit-of-rights-${audit.day}.${query.as}`, await auditFile(app.compute, audit, query.as), type);
    }),
  ];
}
