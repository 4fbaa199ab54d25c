import { language, languages, sampleOf, scriptName } from '@orderly-glyph/core';
import { queryToWanted, routes, wanted, type ChangeDone } from '@orderly-glyph/schema';
import { randomUUID } from 'node:crypto';
import { getBlob } from '../../platform/blobs/blobs.js';
import { type App } from '../../platform/http/context.js';
import { invalid } from '../../platform/http/problem.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { findFaces } from '../faces/index.js';
import { findAlike, versionChanges } from './alike.js';
import { type Changed, changeLibrary, listChanges, undoChange } from './changes.js';
import { getGlyph, listCharacters } from './characters.js';
import { describeDesk } from './desk.js';
import { listDoubles } from './doubles.js';
import { getFamily } from './family.js';
import { describeNeeds, languageTable } from './languages.js';
import { getFace } from './library.js';
import { ReadyTextEntity } from './rows.js';
import { describeShelf, dropSearch, dropText, keepSearch, keepText, listTexts, setPalette } from './shelf.js';
import type { Snapshots } from './snapshot.js';
import { describeStorage, freeSpace } from './storage.js';
import { checkText } from './text.js';

export function libraryRoutes(app: App, snapshots: Snapshots): Bound[] {
  const { db } = app;
  const readyTexts = async (workspaceId: string) =>
    (await db.getRepository(ReadyTextEntity).find({ where: { workspaceId }, order: { position: 'ASC' } })).map(
      ({ language, label, text }) => ({ language, label, text }),
    );
  /** Answers an act with the families it changed, and brings the kept list up to date by just those. */
  const changed = async (workspaceId: string, act: Promise<Changed>): Promise<ChangeDone> => {
    const { familyIds, revision, ...done } = await act;
    return { ...done, changed: await snapshots.renew(workspaceId, familyIds, revision) };
  };

  return [
    bind(app, routes.getDesk, ({ who }) => describeDesk(db, snapshots, who.workspaceId, who.role !== 'viewer')),
    bind(app, routes.getReadyTexts, ({ who }) => readyTexts(who.workspaceId)),
    bind(app, routes.sampleText, async ({ query }) => {
      const found = language(query.language);
      if (!found) throw invalid('There is no such language.', 'language');
      return { language: found.tag, label: found.name.slice(0, 60), text: sampleOf(found.tag)!.slice(0, 400) };
    }),
    bind(app, routes.setReadyTexts, async ({ who, body }) => {
      await db.transaction(async (manager) => {
        const repository = manager.getRepository(ReadyTextEntity);
        await repository.delete({ workspaceId: who.workspaceId });
        if (body.length > 0)
          await repository.insert(body.map((t, position) => ({ id: randomUUID(), workspaceId: who.workspaceId, position, ...t })));
      });
      return readyTexts(who.workspaceId);
    }),
    bind(app, routes.listFamilies, async ({ who, response }) => {
      response.setHeader('Content-Type', 'application/json; charset=utf-8');
      response.end((await snapshots.get(who.workspaceId)).json);
    }),
    bind(app, routes.findFamilies, ({ who, query }) => {
      const asked = wanted.safeParse(queryToWanted(query));
      if (!asked.success) throw invalid(`“${asked.error.issues[0]!.path.join('.')}”: ${asked.error.issues[0]!.message}.`);
      return snapshots.find(who.workspaceId, asked.data);
    }),
    bind(app, routes.getFamily, ({ who, params }) => getFamily(db, who.workspaceId, params.familyId)),
    bind(app, routes.getShelf, ({ who }) => describeShelf(db, who.workspaceId)),
    bind(app, routes.listChanges, ({ who }) => listChanges(db, who.workspaceId)),
    bind(app, routes.changeLibrary, ({ who, body }) => changed(who.workspaceId, changeLibrary(db, who, body))),
    bind(app, routes.undoChange, ({ who, params }) => changed(who.workspaceId, undoChange(db, who, params.changeId))),
    bind(app, routes.listDoubles, ({ who }) => listDoubles(db.manager, who.workspaceId)),
    bind(app, routes.getStorage, ({ who }) => describeStorage(db, who.workspaceId, app.config, app.removed)),
    bind(app, routes.freeSpace, ({ who }) => freeSpace(db, who.workspaceId, app.bytes, app.removed)),
    bind(app, routes.keepSearch, ({ who, body }) => keepSearch(db, who.workspaceId, body.name, body.query)),
    bind(app, routes.dropSearch, async ({ who, params }) => {
      await dropSearch(db, who.workspaceId, params.searchId);
      return { ok: true as const };
    }),
    bind(app, routes.listTexts, ({ who }) => listTexts(db, who.workspaceId)),
    bind(app, routes.keepText, ({ who, body }) => keepText(db, who.workspaceId, body.name, body.text)),
    bind(app, routes.dropText, async ({ who, params }) => {
      await dropText(db, who.workspaceId, params.textId);
      return { ok: true as const };
    }),
    bind(app, routes.setPalette, ({ who, body }) => setPalette(db, who.workspaceId, body)),
    bind(app, routes.getLanguageTable, ({ who, query }) =>
      languageTable(db, snapshots, who.workspaceId, (query.tags ?? '').split(',').filter(Boolean)),
    ),
    bind(app, routes.getNeeds, ({ who, params, query }) => describeNeeds(db, app.compute, who.workspaceId, params.faceId, query.language)),
    bind(app, routes.getAlike, ({ who, params, query }) =>
      findAlike(db, snapshots, who.workspaceId, params.faceId, { use: query.use, free: query.free === 'yes' }),
    ),
    bind(app, routes.getVersionChanges, ({ who, params, query }) =>
      versionChanges(db, app.compute, who.workspaceId, params.faceId, query.newer),
    ),
    bind(app, routes.findDrawn, async ({ who, params, body }) => {
      const [face] = await findFaces(db, who.workspaceId, [params.faceId]);
      return app.compute.run(
        'drawn',
        [await getBlob(db.manager, who.workspaceId, face!.sha256), face!.faceIndex, body.strokes, body.pen],
        true,
      );
    }),
    bind(app, routes.listLanguages, () =>
      Promise.resolve(languages().map((l) => ({ tag: l.tag, name: l.name, script: l.script, scriptName: scriptName(l.script) }))),
    ),
    bind(app, routes.checkText, ({ who, body }) => checkText(db, who.workspaceId, body.text, body.faceIds, body.use)),
    bind(app, routes.getFace, ({ who, params }) => getFace(db, who.workspaceId, params.faceId)),
    bind(app, routes.listCharacters, ({ who, params, query }) =>
      listCharacters(db, app.compute, who.workspaceId, params.faceId, query.q ?? ''),
    ),
    bind(app, routes.getGlyph, ({ who, params, query }) => getGlyph(db, app.compute, who.workspaceId, params.faceId, query)),
  ];
}
