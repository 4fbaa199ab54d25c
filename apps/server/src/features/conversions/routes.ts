import { FORMAT_INFO } from '@orderly-glyph/core';
import { routes } from '@orderly-glyph/schema';
import { attach, attachment } from '../../platform/http/attach.js';
import type { App } from '../../platform/http/context.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { convertFace, planConversion, readWish, writeConversions } from './conversions.js';

export function conversionsRoutes(app: App): Bound[] {
  const { db, compute } = app;
  return [
    bind(app, routes.planConversion, ({ who, body }) => planConversion(db, who.workspaceId, body.faceIds, body.wish)),
    bind(
      app,
      routes.convertFace,
      async ({ who, params, body }) => (await convertFace(db, compute, who.workspaceId, params.faceId, body.wish)).about,
    ),
    bind(app, routes.getConversion, async ({ who, params, query, response }) => {
      const { about, bytes } = await convertFace(db, compute, who.workspaceId, params.faceId, readWish(query.wish));
      attach(response, about.fileName, bytes, FORMAT_INFO[about.format].mediaType);
    }),
    bind(app, routes.getConversions, async ({ who, query, response }) => {
      const wish = readWish(query.wish);
      const faceIds = [...new Set(query.faces.split(',').filter(Boolean))].slice(0, 100);
      // Asked before the first byte goes out, so that a wrong address is answered in words.
      await planConversion(db, who.workspaceId, faceIds, wish);
      attachment(response, 'converted.zip', 'application/zip');
      await writeConversions(db, compute, who.workspaceId, faceIds, wish, response);
    }),
  ];
}
