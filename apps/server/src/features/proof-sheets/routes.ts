import { routes } from '@orderly-glyph/schema';
import { attach } from '../../platform/http/attach.js';
import { type App } from '../../platform/http/context.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { FaceLines } from '../faces/index.js';
import {
  createProofSheet,
  listProofSheets,
  proofFace,
  readProofSheet,
  readProofSheetPage,
  removeProofSheet,
  renderPdf,
  renderPng,
  renewProofSheet,
} from './proof-sheets.js';

export function proofSheetsRoutes(app: App): Bound[] {
  const { db } = app;
  const lines = new FaceLines(db, app.compute);
  return [
    bind(app, routes.listProofSheets, ({ who }) => listProofSheets(db, who.workspaceId)),
    bind(app, routes.createProofSheet, ({ who, body }) => createProofSheet(db, who, body.plan, body.endsOn)),
    bind(app, routes.removeProofSheet, async ({ who, params }) => {
      await removeProofSheet(db, who.workspaceId, params.sheetId);
      return { ok: true as const };
    }),
    bind(app, routes.renewProofSheet, ({ who, params }) => renewProofSheet(db, who.workspaceId, params.sheetId)),
    bind(app, routes.renderProofSheet, async ({ who, body, query, response }) => {
      const bytes =
        query.as === 'pdf'
          ? await renderPdf(db, app.compute, who.workspaceId, body)
          : await renderPng(db, app.compute, who.workspaceId, body, query.page);
      attach(response, `${body.title}.${query.as}`, bytes, query.as === 'pdf' ? 'application/pdf' : 'image/png');
    }),
    bind(app, routes.readProofSheet, ({ params }) => readProofSheet(db, app.compute, params.secret)),
    bind(app, routes.readProofSheetPage, async ({ params, response }) => {
      const bytes = await readProofSheetPage(db, app.compute, params.secret, params.page);
      response.setHeader('Content-Type', 'image/png');
      response.setHeader('Cache-Control', 'private, no-cache');
      response.end(Buffer.from(bytes));
    }),
    bind(app, routes.readProofSheetFace, async ({ params, response }) => {
      const { workspaceId, faceId, text } = await proofFace(db, params.secret, params.number);
      response.setHeader('Content-Type', 'font/sfnt');
      response.end(Buffer.from(await lines.line(workspaceId, faceId, text || ' ')));
    }),
  ];
}
