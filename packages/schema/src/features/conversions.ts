/** Converting faces: what is wanted, what that takes, and what came of it. */
import { z } from 'zod';
import { route } from '../route.js';
import { format, id, isoTime, sha256, targetFormat } from '../words.js';
import { verdict } from './licenses.js';

/** What is wanted of some faces. Parts that say what stays add up; without any, every character stays. */
export const wish = z.object({
  to: targetFormat,
  /** CLDR tags. */
  languages: z.array(z.string().max(20)).max(60).default([]),
  text: z.string().max(20_000).default(''),
  /** As style sheets write them: "U+0020-007E, U+20AC". */
  ranges: z.string().trim().max(4000).default(''),
  /** Features that stay, or that go, by their tags; at most one of the two is said. */
  keep: z.string().trim().max(400).nullable().default(null),
  drop: z.string().trim().max(400).nullable().default(null),
  /** "wght=700", or the name of an instance; '' is the usual design, null leaves the axes as they are. */
  at: z.string().trim().max(200).nullable().default(null),
  /** Axes that are narrowed or taken out: "wght=300:700,opsz=14"; null leaves them. Only where `at` is null. */
  axes: z.string().trim().max(200).nullable().default(null),
  /** Whether color is taken out of faces that have any. */
  plain: z.boolean().default(false),
  /** Thousandths of the em. */
  tolerance: z.number().min(0.05).max(10).default(0.5),
  /** Whether contours that overlap become one outline. */
  unite: z.boolean().default(false),
  /** Several files, of which a page loads those that its language needs; only with languages and nothing else to keep. */
  split: z.boolean().default(false),
  /** Whether faults that can be mended are. */
  mend: z.boolean().default(false),
  /** Other names; what is left out stays. */
  names: z
    .object({
      family: z.string().trim().min(1).max(120),
      style: z.string().trim().min(1).max(120),
      version: z.number().min(0).max(32_767),
      vendor: z.string().trim().max(4),
      copyright: z.string().trim().max(4000),
      license: z.string().trim().max(30_000),
      licenseUrl: z.string().trim().max(1000),
    })
    .partial()
    .default({}),
});
export type Wish = z.infer<typeof wish>;

/** What was made, and how it compares with what it was made of. */
export const converted = z.object({
  faceId: id,
  /** Which of several files of the face; '' for the only one. */
  part: z.string(),
  /** As style sheets write it; null for the only file of a face. */
  unicodeRange: z.string().nullable(),
  /** Languages that need it, where there are several files. */
  languages: z.array(z.string()),
  fileName: z.string(),
  format,
  sha256,
  bytes: z.number().int(),
  sourceBytes: z.number().int(),
  steps: z.string(),
  glyphsCompared: z.number().int(),
  /** What was mended; sentences. */
  changes: z.array(z.string()),
  /** Font units; null where outlines were not made anew. */
  farthest: z.number().nullable(),
  worstGlyph: z.number().int().nullable(),
  unitsPerEm: z.number(),
});
export type Converted = z.infer<typeof converted>;

/** What a wish would do to a face, before it is done. */
export const conversionPlan = z.object({
  faceId: id,
  face: z.string(),
  /** What is done, in words that follow "The file is"; empty when it is that already. */
  steps: z.string(),
  verdict,
  /** Why it cannot be done at all; null when it can. */
  stop: z.string().nullable(),
  /** Faults of the face that can be mended here; sentences. */
  mendable: z.array(z.string()),
  /** About how many bytes it comes to. */
  estimate: z.number().int(),
  /** Whether nothing but a name that is reserved stands in the way. */
  renameSettles: z.boolean(),
});
export type ConversionPlan = z.infer<typeof conversionPlan>;

/** Words that are to become shapes. */
export const wordsWish = z.object({
  text: z.string().max(2000),
  size: z.number().positive().max(20_000),
  unit: z.enum(['mm', 'in', 'px', 'pt']).default('mm'),
  /** What is of that size: the em, capitals, or the width of all. */
  measure: z.enum(['em', 'capitals', 'width']).default('em'),
  /** Thousandths of the em. */
  letterSpacing: z.number().min(-500).max(2000).default(0),
  /** Ems from line to line; null as the face has it. */
  lineHeight: z.number().min(0.3).max(10).nullable().default(null),
  align: z.enum(['left', 'center', 'right']).default('left'),
  features: z
    .array(z.object({ tag: z.string().regex(/^[\x20-\x7e]{4}$/), value: z.number().int().min(0).max(99) }))
    .max(60)
    .default([]),
  /** "wght=700", or the name of an instance; '' is the usual design. */
  at: z.string().trim().max(200).default(''),
  pieces: z.enum(['one', 'letters']).default('one'),
  color: z.string().regex(/^#[0-9a-f]{6}$/i, 'A color is written #RRGGBB'),
  /** What for; the license is asked for it. */
  purpose: z.enum(['logo', 'printed-goods', 'design-work']),
  /** Where the license does not settle it: the person has. */
  settled: z.boolean().default(false),
});
export type WordsWish = z.infer<typeof wordsWish>;

export const drawnWords = z.object({
  svg: z.string(),
  width: z.number(),
  height: z.number(),
  unit: z.enum(['mm', 'in', 'px', 'pt']),
  notes: z.array(z.string()),
  verdict,
});
export type DrawnWords = z.infer<typeof drawnWords>;

/** A glyph before and after: path data in font units, y up; null where it is not drawn. */
export const glyphDifference = z.object({
  glyph: z.number().int(),
  character: z.string(),
  before: z.string().nullable(),
  after: z.string().nullable(),
  advance: z.number(),
  advanceAfter: z.number(),
  unitsPerEm: z.number(),
  ascender: z.number(),
  descender: z.number(),
});
export type GlyphDifference = z.infer<typeof glyphDifference>;

/** A recipe kept under a name, and what came of it. */
export const keptRecipe = z.object({
  id,
  name: z.string(),
  wish,
  address: z.record(z.string(), z.string()),
  by: z.string(),
  at: isoTime,
  runs: z.array(
    z.object({
      faceId: id,
      face: z.string(),
      at: isoTime,
      made: z.array(converted),
      problem: z.string(),
      /** Whether a newer version of the face, or another file of it, came in since. */
      outdated: z.boolean(),
      /** The face of the newer version. */
      newer: id.nullable(),
    }),
  ),
});
export type KeptRecipe = z.infer<typeof keptRecipe>;

const pickFaces = z.array(id).min(1).max(100);
/** A wish as JSON, for addresses that are only read. */
const wishText = z.string().max(30_000);

export const conversionsRoutes = {
  planConversion: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/conversions/plan',
    access: 'viewer',
    summary: 'What converting some faces would do to each, and whether their licenses allow it',
    body: z.object({ faceIds: pickFaces, wish }),
    answer: z.array(conversionPlan),
  }),
  convertFace: route({
    doing: 'Converting a font',
    job: 'again',
    method: 'POST',
    affects: 'nothing',
    path: '/api/faces/:faceId/conversion',
    access: 'editor',
    summary: 'Convert a face; what is made is proved against its source and kept',
    params: z.object({ faceId: id }),
    body: z.object({ wish, recipeId: id.nullable().default(null) }),
    answer: z.array(converted),
  }),
  getConversion: route({
    doing: 'Converting a font',
    job: 'again',
    method: 'GET',
    path: '/api/faces/:faceId/conversion',
    access: 'editor',
    summary: 'A converted face',
    params: z.object({ faceId: id }),
    query: z.object({ wish: wishText, part: z.string().max(60).default('') }),
    answer: z.string(),
    carries: 'bytes',
  }),
  compareConversion: route({
    doing: 'Comparing a glyph',
    job: 'again',
    whenLeft: 'stop',
    method: 'POST',
    affects: 'nothing',
    path: '/api/faces/:faceId/conversion/glyph',
    access: 'editor',
    summary: 'A glyph of a converted face over the one it was made of',
    params: z.object({ faceId: id }),
    body: z.object({ wish, part: z.string().max(60).default(''), glyph: z.number().int().min(0).nullable(), character: z.string().max(8) }),
    answer: glyphDifference,
  }),
  getRecipes: route({
    method: 'GET',
    path: '/api/recipes',
    access: 'viewer',
    summary: 'Recipes kept under a name, with what they made',
    answer: z.array(keptRecipe),
  }),
  keepRecipe: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/recipes',
    access: 'editor',
    summary: 'Keep a recipe under a name; another one of that name is replaced',
    body: z.object({ name: z.string().trim().min(1).max(120), wish, address: z.record(z.string().max(40), z.string().max(20_000)) }),
    answer: keptRecipe,
  }),
  dropRecipe: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/recipes/:recipeId',
    access: 'editor',
    summary: 'Forget a recipe; the files it made stay where they were taken',
    params: z.object({ recipeId: id }),
  }),
  drawWords: route({
    doing: 'Drawing words as shapes',
    job: 'again',
    whenLeft: 'stop',
    method: 'POST',
    affects: 'nothing',
    path: '/api/faces/:faceId/words',
    access: 'viewer',
    summary: 'Words set in a face as outlines, to look at, and whether the license allows what they are for',
    params: z.object({ faceId: id }),
    body: z.object({ wish: wordsWish }),
    answer: drawnWords,
  }),
  getWords: route({
    doing: 'Drawing words as shapes',
    job: 'again',
    whenLeft: 'stop',
    method: 'GET',
    path: '/api/faces/:faceId/words',
    access: 'editor',
    summary: 'Words as a drawing, a page or a picture',
    params: z.object({ faceId: id }),
    query: z.object({
      wish: wishText,
      as: z.enum(['svg', 'pdf', 'png']),
      columns: z.coerce.number().int().min(1).max(20_000).default(2000),
    }),
    answer: z.string(),
    carries: 'bytes',
  }),
  getConversions: route({
    doing: 'Converting fonts to a ZIP',
    job: 'again',
    method: 'GET',
    path: '/api/conversions/zip',
    access: 'editor',
    summary: 'Several converted faces as a ZIP, with a report on each',
    query: z.object({ faces: z.string().max(4000), wish: wishText }),
    answer: z.string(),
    carries: 'bytes',
  }),
};
