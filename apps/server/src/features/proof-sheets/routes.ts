import { routes } from '@orderly-glyph/schema';
import { attach } from '../../platform/http/attach.js';
import { type App } from '../../platform/http/context.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { FaceLines } from '../faces/index.js';
import {
  createProof,
  listProofs,
  proofFace,
  readProof,
  readProofPage,
  removeProof,
  renderPdf,
  renderPng,
  renewProof,
} from './proof-sheets.js';

export function proofSheetsRoutes(app: App): Bound[] {
  const { db } = app;
  const lines = new FaceLines(db, app.compute);
  return [
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
  ];
}
