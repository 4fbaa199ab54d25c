import { FORMAT_INFO } from '@orderly-glyph/core';
import { routes } from '@orderly-glyph/schema';
import { attach, attachment } from '../../platform/http/attach.js';
import type { App } from '../../platform/http/context.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { drawWords, readWords, takeWords } from './words.js';
import { compareGlyph, convertedPart, convertFace, planConversion, readWish, writeConversions } from './conversions.js';
import { dropRecipe, keepRecipe, listRecipes, runRecipe } from './recipes.js';

const WORDS_TYPES = { svg: 'image/svg+xml', pdf: 'application/pdf', png: 'image/png' };

export function conversionsRoutes(app: App): Bound[] {
  const { db, compute } = app;
  return [
    bind(app, routes.planConversion, ({ who, body }) => planConversion(db, who.workspaceId, body.faceIds, body.wish)),
    bind(app, routes.convertFace, async ({ who, params, body }) =>
      body.recipeId === null
        ? (await convertFace(db, compute, who.workspaceId, params.faceId, body.wish)).map((f) => f.about)
        : runRecipe(db, compute, who.workspaceId, body.recipeId, params.faceId),
    ),
    bind(app, routes.getConversion, async ({ who, params, query, response }) => {
      const { about, bytes } = await convertedPart(db, compute, who.workspaceId, params.faceId, readWish(query.wish), query.part);
      attach(response, about.fileName, bytes, FORMAT_INFO[about.format].mediaType);
    }),
    bind(app, routes.compareConversion, ({ who, params, body: { wish, ...which } }) =>
      compareGlyph(db, compute, who.workspaceId, params.faceId, wish, which),
    ),
    bind(app, routes.getRecipes, ({ who }) => listRecipes(db, who.workspaceId)),
    bind(app, routes.keepRecipe, ({ who, body }) => keepRecipe(db, who, body)),
    bind(app, routes.dropRecipe, async ({ who, params }) => {
      await dropRecipe(db, who.workspaceId, params.recipeId);
      return { ok: true as const };
    }),
    bind(app, routes.drawWords, ({ who, params, body }) => drawWords(db, compute, who.workspaceId, params.faceId, body.wish)),
    bind(app, routes.getWords, async ({ who, params, query, response }) => {
      const wish = readWords(query.wish);
      const { fileName, bytes } = await takeWords(db, compute, who, params.faceId, wish, query.as, query.columns);
      attach(response, fileName, bytes, WORDS_TYPES[query.as]);
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
