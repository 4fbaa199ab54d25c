import { attachment } from '../../platform/http/attach.js';
import { routes } from '@orderly-glyph/schema';
import { type App } from '../../platform/http/context.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { exportWorkspace } from './export.js';
import { importWorkspace } from './import.js';

export function workspacesRoutes(app: App): Bound[] {
  const { db } = app;

  return [
    bind(app, routes.exportWorkspace, async ({ who, response }) => {
      attachment(response, 'orderly-glyph-workspace.zip', 'application/zip');
      await exportWorkspace(db, who.workspaceId, response);
    }),
    bind(app, routes.importWorkspace, ({ who, body }) => importWorkspace(db, app.compute, who, body)),
  ];
}
