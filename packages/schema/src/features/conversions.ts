/** Converting faces: what is wanted, what that takes, and what came of it. */
import { z } from 'zod';
import { route } from '../route.js';
import { id, sha256, targetFormat } from '../words.js';
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
  /** Thousandths of the em. */
  tolerance: z.number().min(0.05).max(10).default(0.5),
});
export type Wish = z.infer<typeof wish>;

/** What was made, and how it compares with what it was made of. */
export const converted = z.object({
  faceId: id,
  fileName: z.string(),
  format: z.enum(['ttf', 'otf', 'ttc', 'woff', 'woff2']),
  sha256,
  bytes: z.number().int(),
  sourceBytes: z.number().int(),
  steps: z.string(),
  glyphsCompared: z.number().int(),
  /** Font units; null where outlines were not made anew. */
  farthest: z.number().nullable(),
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
});
export type ConversionPlan = z.infer<typeof conversionPlan>;

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
    method: 'POST',
    affects: 'nothing',
    path: '/api/faces/:faceId/conversion',
    access: 'editor',
    summary: 'Convert a face; what is made is proved against its source and kept',
    params: z.object({ faceId: id }),
    body: z.object({ wish }),
    answer: converted,
  }),
  getConversion: route({
    method: 'GET',
    path: '/api/faces/:faceId/conversion',
    access: 'editor',
    summary: 'A converted face',
    params: z.object({ faceId: id }),
    query: z.object({ wish: wishText }),
    answer: z.string(),
    carries: 'bytes',
  }),
  getConversions: route({
    method: 'GET',
    path: '/api/conversions/zip',
    access: 'editor',
    summary: 'Several converted faces as a ZIP, with a report on each',
    query: z.object({ faces: z.string().max(4000), wish: wishText }),
    answer: z.string(),
    carries: 'bytes',
  }),
};
