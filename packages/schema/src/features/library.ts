/** The library: its list and its order, and what is asked of faces. */
import { z } from 'zod';
import { changedFamilies, family } from '../families.js';
import { color, keepRule, kind, name } from '../order.js';
import { route } from '../route.js';
import { format, id, isoTime, line, prose, use } from '../words.js';
import { characters, face, glyphDetail, repair } from './faces.js';

const label = line(40);
const ids = z.array(id).min(1).max(6000);

/** Something a person does to the library; every one of them can be undone. */
export const libraryAct = z.discriminatedUnion('act', [
  z.object({ act: z.literal('favorite'), familyIds: ids, on: z.boolean() }),
  z.object({ act: z.literal('archive'), familyIds: ids, on: z.boolean() }),
  z.object({ act: z.literal('label'), familyIds: ids, add: z.array(label).max(20), remove: z.array(label).max(20) }),
  z.object({ act: z.literal('note'), familyIds: ids, note: prose(4000), version: z.number().int().optional() }),
  z.object({ act: z.literal('rename-family'), familyId: id, name: line(200), version: z.number().int().optional() }),
  z.object({ act: z.literal('rename-style'), faceId: id, style: z.string().trim().min(1).max(200) }),
  z.object({ act: z.literal('merge'), familyIds: ids, into: id }),
  z.object({ act: z.literal('split'), faceIds: ids, name: z.string().trim().min(1).max(200) }),
  z.object({ act: z.literal('kind'), faceIds: ids, kind: kind.nullable() }),
  z.object({ act: z.literal('collect'), collectionId: id.nullable(), name: name.optional(), familyIds: ids, on: z.boolean() }),
  z.object({ act: z.literal('rename-collection'), collectionId: id, name }),
  z.object({ act: z.literal('remove-collection'), collectionId: id }),
  z.object({ act: z.literal('resolve'), rule: keepRule }),
  z.object({ act: z.literal('unfold'), faceIds: ids }),
  z.object({ act: z.literal('remove'), faceIds: z.array(id).max(6000), fileIds: z.array(id).max(20_000) }),
]);
export type LibraryAct = z.infer<typeof libraryAct>;

export const change = z.object({ id, summary: z.string(), by: z.string(), at: isoTime, undone: z.boolean() });
export type Change = z.infer<typeof change>;

export const collection = z.object({ id, name: z.string(), familyIds: z.array(id) });
export type Collection = z.infer<typeof collection>;

export const keptSearch = z.object({ id, name: z.string(), query: z.string() });
export type KeptSearch = z.infer<typeof keptSearch>;

export const keptText = z.object({ id, name: z.string(), text: z.string(), createdAt: isoTime });
export type KeptText = z.infer<typeof keptText>;

/** Things of a workspace that order its library. */
export const shelf = z.object({
  collections: z.array(collection),
  searches: z.array(keptSearch),
  labels: z.array(z.string()),
  palette: z.array(color),
  rule: keepRule,
  /** Archived families, which the list leaves out unless asked. */
  archived: z.number().int(),
  /** Faces whose facts are still to be computed by a newer version of the code. */
  stale: z.number().int(),
  /** The job that computes them, while it runs. */
  refreshJobId: id.nullable(),
});
export type Shelf = z.infer<typeof shelf>;

const doubleFace = z.object({
  faceId: id,
  family: z.string(),
  style: z.string(),
  version: z.string().nullable(),
  codePoints: z.number().int(),
  bytes: z.number().int(),
  files: z.number().int(),
  addedAt: isoTime,
  licensed: z.boolean(),
  installed: z.boolean(),
  foldedInto: id.nullable(),
});

export const doubles = z.object({
  groups: z.array(
    z.object({
      kind: z.enum(['versions', 'same-outlines', 'same-letters']),
      faces: z.array(doubleFace),
      /** In what they are not the same; then none is folded by a rule. */
      differs: z.array(z.string()),
    }),
  ),
  folded: z.array(doubleFace),
  /** Files that stand beside the leading one of their face. */
  spare: z.array(z.object({ fileId: id, name: z.string(), format, bytes: z.number().int(), face: z.string(), faceId: id })),
});
export type Doubles = z.infer<typeof doubles>;

export const storage = z.object({
  /** Bytes of what was received, by kind of file. */
  kinds: z.array(z.object({ kind: z.string(), count: z.number().int(), bytes: z.number() })),
  total: z.number(),
  /** What conversions made, which can be made again. */
  made: z.number(),
  /** Removed and not freed yet. */
  removed: z.object({ files: z.number().int(), bytes: z.number(), others: z.number().int() }),
  /** All that counts against the quota, records and results included; and the quota. */
  held: z.number(),
  quota: z.number(),
  /** Bytes free on the disk the server's data is on. */
  free: z.number().nullable(),
  families: z.number().int(),
  faces: z.number().int(),
  neverUsed: z.array(z.object({ faceId: id, face: z.string(), bytes: z.number(), addedAt: isoTime })),
});
export type Storage = z.infer<typeof storage>;

/** A family with its styles in rows of weight and columns of width, slope and optical size. */
export const familyDetail = z.object({
  id,
  version: z.number().int(),
  name: z.string(),
  ownName: z.boolean(),
  favorite: z.boolean(),
  labels: z.array(z.string()),
  note: z.string(),
  archived: z.boolean(),
  table: z.object({
    columns: z.array(z.object({ label: z.string(), widthClass: z.number(), slope: z.string(), opticalSize: z.string().nullable() })),
    rows: z.array(z.object({ label: z.string(), weightClass: z.number(), cells: z.array(z.array(id)) })),
    variable: z.array(id),
  }),
  faces: z.array(
    z.object({
      id,
      style: z.string(),
      ownStyle: z.boolean(),
      version: z.string().nullable(),
      repairs: z.array(repair),
      files: z.array(z.string()),
    }),
  ),
  folded: z.array(z.object({ id, name: z.string(), version: z.string().nullable(), into: id })),
  taken: z.array(z.object({ id, name: z.string() })),
});
export type FamilyDetail = z.infer<typeof familyDetail>;

export const alike = z.array(z.object({ faceId: id, score: z.number() }));

/** Two versions of a face: characters by what became of them. Lists are cut at 4,000, counts are whole. */
export const versionChanges = z.object({
  added: z.array(z.number().int()),
  removed: z.array(z.number().int()),
  /** Most different first; 0 is the same shape drawn with other points, 1 shapes that share no ink. */
  changed: z.array(z.object({ codePoint: z.number().int(), difference: z.number() })),
  counts: z.object({ added: z.number().int(), removed: z.number().int(), changed: z.number().int(), same: z.number().int() }),
});
export type VersionChanges = z.infer<typeof versionChanges>;

/** What families write of some languages: one letter a family and language: f full, n nearly, - not. */
export const languageTable = z.object({
  languages: z.array(z.object({ tag: z.string(), name: z.string(), script: z.string() })),
  families: z.array(z.object({ id, name: z.string(), faceId: id, cells: z.string() })),
});
export type LanguageTable = z.infer<typeof languageTable>;

/** What a face lacks for a language, to hand to a type designer. */
export const languageNeeds = z.object({
  face: z.string(),
  language: z.string(),
  level: z.enum(['full', 'near', 'none']),
  letters: z.array(z.object({ character: z.string(), codePoint: z.string(), name: z.string() })),
  /** How many of these come out in browsers all the same. */
  inBrowsers: z.number().int(),
  marks: z.array(z.object({ character: z.string(), codePoint: z.string(), name: z.string() })),
  /** How the script's shaping fails, when its letters are there. */
  failure: z.string().nullable(),
});
export type LanguageNeeds = z.infer<typeof languageNeeds>;

export const readyText = z.object({
  language: z.string().max(35),
  label: z.string().trim().min(1).max(60),
  text: z.string().trim().min(1).max(400),
});
export type ReadyText = z.infer<typeof readyText>;

/**
 * The library. `runSets`: what faces can set, each list once: code points as "first-last" runs in base 36, joined by commas;
 * then, after a bar, letters with marks that have no character of their own, joined by spaces.
 */
export const library = z.object({ runSets: z.array(z.string()), families: z.array(family) });
export type Library = z.infer<typeof library>;

export const changeDone = z.object({
  /** Null when there was nothing to change. */
  changeId: id.nullable(),
  summary: z.string(),
  /** What was left as it is, each with the reason, in sentences. */
  left: z.array(z.string()),
  changed: changedFamilies,
});
export type ChangeDone = z.infer<typeof changeDone>;

export const languageName = z.object({ tag: z.string(), name: z.string(), script: z.string(), scriptName: z.string() });
export type LanguageName = z.infer<typeof languageName>;

export const textCheck = z.object({
  suspicions: z.array(
    z.object({
      kind: z.enum(['mixed-scripts', 'invisible', 'apostrophe', 'decomposed', 'sharp-s']),
      start: z.number().int(),
      end: z.number().int(),
      text: z.string(),
      message: z.string(),
      suggestion: z.string().nullable(),
    }),
  ),
  faces: z.array(
    z.object({
      faceId: id,
      familyId: id,
      family: z.string(),
      style: z.string(),
      cleared: z.boolean(),
      missing: z.array(z.object({ character: z.string(), codePoint: z.string(), name: z.string(), count: z.number().int() })),
    }),
  ),
  /** The fewest cleared faces that together set all that any of them can. */
  together: z.array(id),
  /** Characters that not even those have. */
  nobody: z.array(z.string()),
});
export type TextCheck = z.infer<typeof textCheck>;

export const deskItem = z.object({
  kind: z.enum([
    'bundle-waiting',
    'intake-running',
    'unknown-license',
    'suggested-license',
    'unconfirmed',
    'ending',
    'limit',
    'no-right',
    'not-sound',
    'refused',
    'inquiry',
    'ready',
    'begin',
  ]),
  message: z.string(),
  detail: z.string(),
  action: z.string(),
  to: z.string(),
});
export type DeskItem = z.infer<typeof deskItem>;

export const libraryRoutes = {
  getDesk: route({
    method: 'GET',
    path: '/api/desk',
    access: 'viewer',
    summary: 'What needs attention, most pressing first',
    answer: z.array(deskItem),
  }),
  getReadyTexts: route({
    method: 'GET',
    path: '/api/proof-texts',
    access: 'viewer',
    summary: 'Ready texts of the workspace',
    answer: z.array(readyText),
  }),
  sampleText: route({
    method: 'GET',
    path: '/api/proof-texts/sample',
    access: 'viewer',
    summary: 'Words in a language, to begin a ready text with',
    query: z.object({ language: z.string().max(35) }),
    answer: readyText,
  }),
  setReadyTexts: route({
    method: 'PUT',
    affects: 'nothing',
    path: '/api/proof-texts',
    access: 'editor',
    summary: 'Replace the ready texts',
    body: z.array(readyText).max(60),
    answer: z.array(readyText),
  }),
  listFamilies: route({
    method: 'GET',
    path: '/api/families',
    access: 'viewer',
    summary: 'The library, a family a line',
    answer: library,
    carries: 'text',
  }),
  findFamilies: route({
    method: 'GET',
    path: '/api/library/find',
    access: 'viewer',
    summary: 'Families that fit a sentence: the query parameters are its parts, lists joined by commas',
    query: z.record(z.string(), z.string()),
    answer: z.object({ ids: z.array(id), of: z.number().int() }),
  }),
  getShelf: route({
    method: 'GET',
    path: '/api/library/shelf',
    access: 'viewer',
    summary: 'Collections, labels, kept searches, colors and rules of the workspace',
    answer: shelf,
  }),
  listChanges: route({
    method: 'GET',
    path: '/api/library/changes',
    access: 'viewer',
    summary: 'What was done to the order of the library, newest first',
    answer: z.array(change),
  }),
  changeLibrary: route({
    method: 'POST',
    affects: 'library',
    path: '/api/library/changes',
    access: 'editor',
    summary: 'Put something in order; every such change can be undone',
    body: libraryAct,
    answer: changeDone,
  }),
  undoChange: route({
    method: 'POST',
    affects: 'library',
    path: '/api/library/changes/:changeId/undo',
    access: 'editor',
    summary: 'Take a change back',
    params: z.object({ changeId: id }),
    answer: changeDone,
  }),
  listDoubles: route({
    method: 'GET',
    path: '/api/library/doubles',
    access: 'viewer',
    summary: 'Faces that are here more than once, and spare files',
    answer: doubles,
  }),
  getStorage: route({
    method: 'GET',
    path: '/api/library/storage',
    access: 'viewer',
    summary: 'What is stored, by kind of file, and what was never used',
    answer: storage,
  }),
  freeSpace: route({
    method: 'POST',
    affects: 'library',
    path: '/api/library/free',
    access: 'owner',
    summary: 'Delete for good what was removed and nothing rests on',
    answer: z.object({ files: z.number().int(), others: z.number().int(), bytes: z.number(), left: z.array(z.string()) }),
  }),
  keepSearch: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/library/searches',
    access: 'editor',
    summary: 'Keep a sentence under a name',
    body: z.object({ name: name, query: z.string().max(2000) }),
    answer: keptSearch,
  }),
  dropSearch: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/library/searches/:searchId',
    access: 'editor',
    summary: 'Forget a kept sentence',
    params: z.object({ searchId: id }),
  }),
  listTexts: route({
    method: 'GET',
    path: '/api/library/texts',
    access: 'viewer',
    summary: 'Texts kept for checking',
    answer: z.array(keptText),
  }),
  keepText: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/library/texts',
    access: 'editor',
    summary: 'Keep a text under a name; one of the same name is replaced',
    body: z.object({ name: name, text: z.string().min(1).max(200_000) }),
    answer: keptText,
  }),
  dropText: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/library/texts/:textId',
    access: 'editor',
    summary: 'Forget a kept text',
    params: z.object({ textId: id }),
  }),
  setPalette: route({
    method: 'PUT',
    affects: 'nothing',
    path: '/api/library/palette',
    access: 'editor',
    summary: 'Replace the colors of the workspace',
    body: z.array(color).max(24),
    answer: z.array(color),
  }),
  getLanguageTable: route({
    method: 'GET',
    path: '/api/library/languages',
    access: 'viewer',
    summary: 'Which families write which of some languages',
    query: z.object({ tags: z.string().max(2000).optional() }),
    answer: languageTable,
  }),
  getFamily: route({
    method: 'GET',
    path: '/api/families/:familyId',
    access: 'viewer',
    summary: 'One family with its table of styles and how its names were read',
    params: z.object({ familyId: id }),
    answer: familyDetail,
  }),
  getNeeds: route({
    method: 'GET',
    path: '/api/faces/:faceId/needs',
    access: 'viewer',
    summary: 'What a face lacks for a language',
    params: z.object({ faceId: id }),
    query: z.object({ language: z.string().max(35) }),
    answer: languageNeeds,
  }),
  getAlike: route({
    method: 'GET',
    path: '/api/faces/:faceId/alike',
    access: 'viewer',
    summary: 'Faces of other families that look most like one, nearest first',
    params: z.object({ faceId: id }),
    query: z.object({ use: use.optional(), free: z.literal('yes').optional() }),
    answer: alike,
  }),
  getVersionChanges: route({
    method: 'GET',
    path: '/api/faces/:faceId/changes',
    access: 'viewer',
    summary: 'Which characters another version of a face draws otherwise',
    params: z.object({ faceId: id }),
    query: z.object({ newer: id }),
    answer: versionChanges,
  }),
  findDrawn: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/faces/:faceId/drawn',
    access: 'viewer',
    summary: 'Characters of a face that look like a drawing, nearest first',
    params: z.object({ faceId: id }),
    body: z.object({
      /** Strokes as x, y, x, y, ... in any unit, y down. */
      strokes: z.array(z.array(z.number()).min(4).max(4000)).min(1).max(40),
      /** Width of the pen in the same unit. */
      pen: z.number().positive(),
    }),
    answer: z.array(z.object({ codePoint: z.number().int(), score: z.number() })),
  }),
  listLanguages: route({
    method: 'GET',
    path: '/api/languages',
    access: 'viewer',
    summary: 'Languages a face may be judged for',
    answer: z.array(languageName),
  }),
  checkText: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/text-check',
    access: 'viewer',
    summary: 'Which faces set a text, and what each lacks',
    body: z.object({ text: z.string().min(1).max(200_000), faceIds: z.array(id).max(6000), use: use.nullable() }),
    answer: textCheck,
  }),
  getFace: route({
    method: 'GET',
    path: '/api/faces/:faceId',
    access: 'viewer',
    summary: 'Everything known of one face',
    params: z.object({ faceId: id }),
    answer: face,
  }),
  listCharacters: route({
    method: 'GET',
    path: '/api/faces/:faceId/characters',
    access: 'viewer',
    summary: 'The characters of a face by block, or those whose name or code point fits',
    params: z.object({ faceId: id }),
    query: z.object({ q: z.string().max(100).optional() }),
    answer: characters,
  }),
  getGlyph: route({
    method: 'GET',
    path: '/api/faces/:faceId/glyph',
    access: 'viewer',
    summary: 'One glyph drawn and measured, by code point or glyph number',
    params: z.object({ faceId: id }),
    query: z.object({
      codePoint: z.coerce.number().int().min(0).max(0x10ffff).optional(),
      glyph: z.coerce.number().int().min(0).max(65535).optional(),
    }),
    answer: glyphDetail,
  }),
};
