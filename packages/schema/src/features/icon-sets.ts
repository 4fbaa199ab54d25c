/** Icon sets: drawings that become an icon font, release after release. */
import { z } from 'zod';
import { changedFamilies } from '../families.js';
import { route } from '../route.js';
import { id, isoTime, line, prose } from '../words.js';

const name = z.string().regex(/^[a-z0-9](?:[a-z0-9-]{0,58}[a-z0-9])?$/, 'A name has small letters, figures and hyphens, at most 60.');
const codePoint = z.number().int().min(0).max(0x10ffff);
const prefix = z
  .string()
  .max(24)
  .regex(/^[a-z][a-z0-9]*(?:-[a-z0-9]+)*-$/, 'A prefix has small letters, figures and hyphens, begins with a letter and ends in a hyphen.');

export const iconFacts = z.object({
  family: line(60),
  prefix,
  base: z
    .string()
    .max(40)
    .regex(/^[a-z][a-z0-9]*(?:-[a-z0-9]+)*$/, 'A class has small letters, figures and hyphens, and begins with a letter.'),
  selector: z.enum(['class', 'attribute']),
  maker: z.string().max(200),
  license: z.string().max(1000),
  licenseUrl: z.union([z.literal(''), z.url({ protocol: /^https?$/ }).max(500)]),
  em: z.number().int().min(16).max(16384).nullable(),
  line: z.enum(['baseline', 'middle']),
  smallest: z.number().int().min(8).max(256),
  formats: z
    .array(z.enum(['ttf', 'woff', 'woff2', 'otf']))
    .min(1)
    .max(4),
});
export type IconFacts = z.infer<typeof iconFacts>;

export const placeStep = z.discriminatedUnion('step', [
  z.object({ step: z.literal('fit'), margin: z.number().min(0).max(0.45) }),
  z.object({ step: z.literal('align'), to: z.enum(['middle', 'bottom']) }),
  z.object({ step: z.literal('nudge'), x: z.number().min(-2).max(2), y: z.number().min(-2).max(2) }),
  z.object({ step: z.literal('scale'), by: z.number().min(0.05).max(20) }),
  z.object({ step: z.literal('turn'), degrees: z.number().min(-360).max(360) }),
  z.object({ step: z.literal('flip'), across: z.enum(['vertical', 'horizontal']) }),
  z.object({ step: z.literal('snap'), px: z.number().int().min(4).max(512) }),
]);
export type PlaceStep = z.infer<typeof placeStep>;
const inking = z.enum(['merge', 'dark', 'front', 'back', 'color']);

export const iconFinding = z.object({
  code: z.string(),
  severity: z.enum(['lost', 'look', 'note']),
  message: z.string(),
  remedies: z.array(z.object({ id: z.string(), label: z.string() })),
});
export type IconFinding = z.infer<typeof iconFinding>;

/** A drawing of a set. Paths are SVG path data on a square of 1,200 units, y down. */
export const drawing = z.object({
  id,
  name: z.string(),
  /** What the file was called. */
  original: z.string(),
  aliases: z.array(z.string()),
  codePoint: codePoint.nullable(),
  /** Whether a release gave it its code point, which then stays. */
  locked: z.boolean(),
  characters: z.array(codePoint),
  words: z.array(z.string()),
  inking: inking.nullable(),
  /** The drawing of the set that lies beneath it in a paler tone. */
  beneath: id.nullable(),
  cut: z.boolean(),
  mirror: z.boolean(),
  place: z.array(placeStep),
  /** The steps in words, in the same order. */
  steps: z.array(z.string()),
  path: z.string(),
  layers: z.array(z.object({ color: z.string(), alpha: z.number(), path: z.string() })),
  /** The drawing as it was understood, as SVG text that nothing in runs or is fetched from. */
  source: z.string(),
  size: z.number(),
  /** How much larger it looks than is usual in the set; 1 is usual. */
  looks: z.number(),
  points: z.number(),
  findings: z.array(iconFinding),
  /** The face it was picked from, where it was. */
  from: z.string().nullable(),
});
export type Drawing = z.infer<typeof drawing>;

export const iconRelease = z.object({
  number: z.number().int(),
  day: z.string(),
  by: z.string(),
  notes: z.string(),
  /** What became different, in sentences. */
  added: z.array(z.string()),
  changed: z.array(z.object({ name: z.string(), before: z.string(), after: z.string() })),
  renamed: z.array(z.object({ from: z.string(), to: z.string() })),
  removed: z.array(z.string()),
  breaks: z.array(z.string()),
  files: z.array(z.object({ name: z.string(), bytes: z.number().int(), faceId: id.nullable() })),
});
export type IconRelease = z.infer<typeof iconRelease>;

export const iconSet = z.object({
  id,
  facts: iconFacts,
  version: z.number().int(),
  drawings: z.array(drawing),
  /** Code points that stay reserved for drawings that are gone. */
  reserved: z.array(z.object({ codePoint, name: z.string() })),
  /** What keeps a release from being made, and what may go wrong at places, in sentences. */
  stops: z.array(z.string()),
  warnings: z.array(z.string()),
  /** What the next release would say. */
  next: iconRelease.pick({ added: true, renamed: true, removed: true, breaks: true }).extend({
    changed: z.array(z.object({ name: z.string(), before: z.string(), after: z.string() })),
    number: z.number().int(),
  }),
  releases: z.array(iconRelease),
});
export type IconSet = z.infer<typeof iconSet>;

export const iconSetBrief = z.object({
  id,
  family: z.string(),
  prefix: z.string(),
  drawings: z.number().int(),
  release: z.number().int(),
  changedAt: isoTime,
  /** The first drawings, for a line of them. */
  first: z.array(z.string()),
});
export type IconSetBrief = z.infer<typeof iconSetBrief>;

const params = z.object({ setId: id });
const ids = z.array(id).min(1).max(6000);
/** What became of each file that was sent. */
const takenFile = z.object({
  path: z.string(),
  added: z.array(id),
  replaced: z.array(id),
  notes: z.array(z.string()),
  refused: z.string().nullable(),
});
export type TakenFile = z.infer<typeof takenFile>;
const taken = z.array(takenFile);

/** One act on some drawings; each can be undone by the act that the answer names. */
export const iconAct = z.discriminatedUnion('act', [
  z.object({ act: z.literal('rename'), ids: z.array(id).length(1), name, keepOld: z.boolean().default(true) }),
  z.object({ act: z.literal('aliases'), ids: z.array(id).length(1), aliases: z.array(name).max(50) }),
  z.object({ act: z.literal('code'), ids: z.array(id).length(1), codePoint: codePoint.nullable() }),
  z.object({ act: z.literal('characters'), ids: z.array(id).length(1), characters: z.array(codePoint).max(50) }),
  z.object({ act: z.literal('words'), ids: z.array(id).length(1), words: z.array(z.string().max(60)).max(50) }),
  z.object({ act: z.literal('words-by-name'), ids }),
  z.object({ act: z.literal('inking'), ids, inking: inking.nullable() }),
  /** Two layers of each: the lighter tone becomes a drawing of its own that lies beneath. */
  z.object({ act: z.literal('split'), ids }),
  /** One drawing again: what was split off goes. */
  z.object({ act: z.literal('join'), ids }),
  z.object({ act: z.literal('beneath'), ids: z.array(id).length(1), beneath: id.nullable() }),
  z.object({ act: z.literal('cut'), ids, cut: z.boolean() }),
  z.object({ act: z.literal('mirror'), ids, mirror: z.boolean() }),
  z.object({ act: z.literal('place'), ids, step: placeStep }),
  z.object({ act: z.literal('unplace'), ids, at: z.number().int().min(0).max(100).nullable().default(null) }),
  z.object({ act: z.literal('even-out'), ids }),
  z.object({ act: z.literal('remove'), ids }),
  z.object({ act: z.literal('restore'), ids }),
]);
export type IconAct = z.infer<typeof iconAct>;

export const iconSetsRoutes = {
  listIconSets: route({
    method: 'GET',
    path: '/api/icon-sets',
    access: 'viewer',
    summary: 'Icon sets of the workspace',
    answer: z.array(iconSetBrief),
  }),
  createIconSet: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/icon-sets',
    access: 'editor',
    summary: 'Begin an icon set',
    body: z.object({ family: line(60), prefix, maker: z.string().max(200).default('') }),
    answer: iconSet,
  }),
  restoreIconSet: route({
    doing: 'Reading an icon set from its file',
    job: 'once',
    method: 'POST',
    affects: 'nothing',
    path: '/api/icon-sets/from-file',
    access: 'editor',
    summary: 'Make a set of the file that its kit holds',
    answer: iconSet,
    carries: 'upload',
  }),
  getIconSet: route({
    method: 'GET',
    path: '/api/icon-sets/:setId',
    access: 'viewer',
    summary: 'A set with its drawings, what is to be said about them, and its releases',
    params,
    answer: iconSet,
  }),
  changeIconSet: route({
    method: 'PUT',
    affects: 'nothing',
    path: '/api/icon-sets/:setId',
    access: 'editor',
    summary: 'Change what is true of the whole set',
    params,
    body: z.object({ facts: iconFacts, version: z.number().int() }),
    answer: iconSet,
  }),
  removeIconSet: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/icon-sets/:setId',
    access: 'editor',
    summary: 'Forget a set; its released fonts stay in the library',
    params,
  }),
  returnIconSet: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/icon-sets/:setId/return',
    access: 'editor',
    summary: 'Take a forgotten set back',
    params,
    answer: iconSet,
  }),
  addDrawings: route({
    doing: 'Reading drawings',
    job: 'once',
    method: 'POST',
    affects: 'nothing',
    path: '/api/icon-sets/:setId/drawings',
    access: 'editor',
    summary: 'Take drawings into a set; one of a name that is there takes the place of the old one',
    params,
    body: z.object({
      files: z
        .array(z.object({ path: z.string().min(1).max(1000), text: z.string() }))
        .min(1)
        .max(500),
      by: z.enum(['itself', 'groups']).default('itself'),
    }),
    answer: z.object({ set: iconSet, taken }),
  }),
  sendDrawings: route({
    doing: 'Reading drawings from a ZIP',
    job: 'once',
    method: 'POST',
    affects: 'nothing',
    path: '/api/icon-sets/:setId/archive',
    access: 'editor',
    summary: 'Take the drawings of a ZIP into a set, sent as it is in the request body',
    params,
    answer: z.object({ set: iconSet, taken }),
    carries: 'upload',
  }),
  pickGlyphs: route({
    doing: 'Taking glyphs as drawings',
    job: 'once',
    method: 'POST',
    affects: 'nothing',
    path: '/api/icon-sets/:setId/glyphs',
    access: 'editor',
    summary: 'Take glyphs of a face whose license allows changing it, or drawings of another set',
    params,
    body: z.object({
      faceId: id.nullable().default(null),
      characters: z.array(codePoint).max(200).default([]),
      fromSetId: id.nullable().default(null),
      drawingIds: z.array(id).max(500).default([]),
    }),
    answer: z.object({ set: iconSet, taken }),
  }),
  changeDrawings: route({
    doing: 'Changing drawings',
    job: 'once',
    method: 'POST',
    affects: 'nothing',
    path: '/api/icon-sets/:setId/acts',
    access: 'editor',
    summary: 'Name, number, place, color, remove or bring back drawings',
    params,
    body: iconAct,
    answer: iconSet,
  }),
  releaseIcons: route({
    doing: 'Making the release of an icon set',
    job: 'once',
    method: 'POST',
    affects: 'library',
    path: '/api/icon-sets/:setId/releases',
    access: 'editor',
    summary: 'Make the next release: fonts in the library, and a kit',
    params,
    body: z.object({
      notes: prose(2000).default(''),
      /** That whoever releases it may: the drawings are theirs, or they were given the right. */
      mayRelease: z.literal(true),
      /** That what pages lose is meant. */
      breaksMeant: z.boolean().default(false),
      version: z.number().int(),
    }),
    answer: z.object({ set: iconSet, changed: changedFamilies }),
  }),
  iconKit: route({
    method: 'GET',
    path: '/api/icon-sets/:setId/releases/:number/kit',
    access: 'viewer',
    summary: 'A release with style sheet, samples and everything a website needs, as ZIP',
    params: z.object({ setId: id, number: z.coerce.number().int().min(0) }),
    query: z.object({ layout: z.enum(['flat', 'siblings', 'nested']).default('siblings') }),
    answer: z.string(),
    carries: 'bytes',
  }),
};
