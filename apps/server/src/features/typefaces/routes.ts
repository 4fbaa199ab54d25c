import { routes } from '@orderly-glyph/schema';
import { attach } from '../../platform/http/attach.js';
import type { App } from '../../platform/http/context.js';
import { conflict } from '../../platform/http/problem.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { addLetters, changeLetters, describeLetter, findSheet, makeSheet, readSheet, restoreTypeface } from './letters.js';
import { kitOf, makeRelease } from './release.js';
import { TypefaceEntity } from './rows.js';
import {
  changeTypeface,
  coreTypeface,
  createTypeface,
  describeTypeface,
  findTypeface,
  lettersOfFace,
  listTypefaces,
  returnTypeface,
} from './typefaces.js';

const SHEET_TYPES = { pdf: 'application/pdf', png: 'image/png', svg: 'image/svg+xml' } as const;

export function typefacesRoutes(app: App): Bound[] {
  const { db } = app;
  const deps = { db, compute: app.compute };
  const described = (workspaceId: string, id: string) => describeTypeface(deps, workspaceId, id);
  return [
    bind(app, routes.listTypefaces, ({ who }) => listTypefaces(db, who.workspaceId)),
    bind(app, routes.createTypeface, async ({ who, body }) => described(who.workspaceId, await createTypeface(db, who, body))),
    bind(app, routes.restoreTypeface, async ({ who, request }) => described(who.workspaceId, await restoreTypeface(deps, who, request))),
    bind(app, routes.getTypeface, ({ who, params }) => described(who.workspaceId, params.typefaceId)),
    bind(app, routes.changeTypeface, async ({ who, params, body }) => {
      await changeTypeface(db, who, params.typefaceId, body.facts, body.wish, body.version);
      return described(who.workspaceId, params.typefaceId);
    }),
    bind(app, routes.removeTypeface, async ({ who, params }) => {
      const row = await findTypeface(db, who.workspaceId, params.typefaceId);
      await db.getRepository(TypefaceEntity).update({ id: row.id }, { removedAt: new Date() });
      return { ok: true as const };
    }),
    bind(app, routes.returnTypeface, async ({ who, params }) => {
      await returnTypeface(db, who.workspaceId, params.typefaceId);
      return described(who.workspaceId, params.typefaceId);
    }),
    bind(app, routes.makeSheet, async ({ who, params, body }) => {
      await makeSheet(deps, who, params.typefaceId, body);
      return described(who.workspaceId, params.typefaceId);
    }),
    bind(app, routes.getSheet, async ({ who, params, query, response }) => {
      const sheet = await findSheet(deps, who.workspaceId, params.typefaceId, params.paperId);
      const face = await findTypeface(db, who.workspaceId, params.typefaceId);
      if (query.page > sheet.pages) throw conflict(`The sheet has ${sheet.pages} ${sheet.pages === 1 ? 'page' : 'pages'}.`);
      const bytes = await app.compute.run('sheetFile', [sheet.plan, face.facts.family, query.as, query.page], true);
      const page = query.as === 'pdf' ? '' : ` page ${query.page}`;
      attach(response, `${face.facts.family} sheet${page}.${query.as}`, bytes, SHEET_TYPES[query.as]);
    }),
    bind(app, routes.readSheet, async ({ who, params, request }) => {
      const read = await readSheet(deps, who, params.typefaceId, request);
      return { ...read, typeface: await described(who.workspaceId, params.typefaceId) };
    }),
    bind(app, routes.addLetters, async ({ who, params, body }) => {
      const added = await addLetters(deps, who, params.typefaceId, body);
      return { ...added, typeface: await described(who.workspaceId, params.typefaceId) };
    }),
    bind(app, routes.getLetter, ({ who, params }) => describeLetter(deps, who.workspaceId, params.typefaceId, params.letterId)),
    bind(app, routes.changeLetters, async ({ who, params, body }) => {
      await changeLetters(deps, who, params.typefaceId, body);
      return described(who.workspaceId, params.typefaceId);
    }),
    bind(app, routes.tryTypeface, async ({ who, params, response }) => {
      const row = await findTypeface(db, who.workspaceId, params.typefaceId);
      const letters = await lettersOfFace(db, params.typefaceId);
      if (letters.length === 0) throw conflict('There is no letter in it yet.');
      const made = await app.compute.run('makeTypeface', [coreTypeface(row, letters), 1, '2000-01-01'], true);
      attach(response, 'preview.woff2', made.files.find((f) => f.format === 'woff2')!.bytes, 'font/woff2');
    }),
    bind(app, routes.releaseTypeface, async ({ who, params, body }) => {
      const faceIds = await makeRelease(deps, who, params.typefaceId, body);
      return {
        typeface: await described(who.workspaceId, params.typefaceId),
        changed: await app.families.changed(who.workspaceId, faceIds),
      };
    }),
    bind(app, routes.typefaceKit, async ({ who, params, response }) => {
      const { name, bytes } = await kitOf(db, who.workspaceId, params.typefaceId, params.number);
      attach(response, name, bytes, 'application/zip');
    }),
  ];
}
