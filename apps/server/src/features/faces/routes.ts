import { containerRecipe, FORMAT_INFO, fileBase } from '@orderly-glyph/core';
import { routes } from '@orderly-glyph/schema';
import { getBlob } from '../../platform/blobs/blobs.js';
import { attach } from '../../platform/http/attach.js';
import { type App } from '../../platform/http/context.js';
import { notFound } from '../../platform/http/problem.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { findFaces } from './leads.js';
import { FaceLines } from './lines.js';
import { render } from './renditions.js';
import { FileEntity } from './rows.js';

export function facesRoutes(app: App): Bound[] {
  const { db } = app;
  const lines = new FaceLines(db, app.compute);
  return [
    bind(app, routes.getFaceLine, async ({ who, params, query, response }) => {
      const data = await lines.line(who.workspaceId, params.faceId, query.text);
      response.setHeader('Content-Type', 'font/sfnt');
      // With the file's revision in the address the answer can never change.
      response.setHeader('Cache-Control', query.rev ? 'private, max-age=31536000, immutable' : 'private, no-cache');
      response.end(Buffer.from(data));
    }),
    bind(app, routes.downloadFace, async ({ who, params, response }) => {
      const [face] = await findFaces(db, who.workspaceId, [params.faceId]);
      const rendered = await render(db, app.compute, who.workspaceId, face!, containerRecipe(params.format), true);
      attach(
        response,
        `${fileBase(face!.familyName, face!.style)}.${params.format}`,
        await getBlob(db.manager, who.workspaceId, rendered.sha256),
        FORMAT_INFO[params.format].mediaType,
      );
    }),
    bind(app, routes.downloadFile, async ({ who, params, response }) => {
      const file = await db.getRepository(FileEntity).findOneBy({ id: params.fileId, workspaceId: who.workspaceId });
      if (!file) throw notFound('This file');
      attach(response, file.name, await getBlob(db.manager, who.workspaceId, file.sha256), FORMAT_INFO[file.format].mediaType);
    }),
  ];
}
