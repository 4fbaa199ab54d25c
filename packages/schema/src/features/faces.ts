/** Faces and their files. */
import { z } from 'zod';
import { kind } from '../order.js';
import { route } from '../route.js';
import { format, id, isoTime, sha256, targetFormat } from '../words.js';
import { companion, license, suggestion, verdict } from './licenses.js';
import { install } from './places.js';

export const repair = z.object({
  field: z.enum(['family', 'style', 'weight', 'width', 'slope']),
  found: z.string(),
  used: z.string(),
  reason: z.string(),
});

export const finding = z.object({
  code: z.string(),
  severity: z.enum(['blocks', 'fault', 'note']),
  message: z.string(),
  table: z.string().optional(),
});

export const faceFile = z.object({
  id,
  name: z.string(),
  format,
  bytes: z.number().int(),
  sha256,
  leading: z.boolean(),
  index: z.number().int(),
  addedAt: isoTime,
});

/** What a face can write. Letters as characters; people by CLDR's estimate, which counts second languages. */
export const coverage = z.object({
  languages: z.array(
    z.object({
      tag: z.string(),
      name: z.string(),
      level: z.enum(['full', 'near']),
      missing: z.array(z.string()),
      /** Letters that come out in browsers and nowhere else. */
      browsersOnly: z.array(z.string()),
      /** Whether its complete writing comes out too, where that is more than the usual. */
      complete: z.object({ what: z.string(), comesOut: z.boolean() }).nullable(),
      missingMarks: z.array(z.string()),
      missingRare: z.array(z.string()),
    }),
  ),
  scripts: z.array(z.object({ script: z.string(), name: z.string(), level: z.enum(['full', 'partial']) })),
  broken: z.array(z.object({ name: z.string(), sample: z.string() })),
  reach: z.object({ atLeast: z.number(), atMost: z.number(), officialIn: z.number() }),
});

/** The repertoire of a face: characters by block, and glyphs that only features reach. */
export const characters = z.object({
  groups: z.array(z.object({ name: z.string(), codePoints: z.array(z.number().int()) })),
  variants: z.array(z.object({ glyph: z.number().int(), feature: z.string(), value: z.number().int(), text: z.string() })),
  unreached: z.number().int(),
  total: z.number().int(),
});
export type Characters = z.infer<typeof characters>;

export const glyphDetail = z.object({
  codePoint: z.number().int().nullable(),
  name: z.string().nullable(),
  block: z.string().nullable(),
  glyph: z.number().int(),
  unitsPerEm: z.number(),
  ascender: z.number(),
  descender: z.number(),
  xHeight: z.number().nullable(),
  capHeight: z.number().nullable(),
  advanceWidth: z.number(),
  leftSideBearing: z.number().nullable(),
  rightSideBearing: z.number().nullable(),
  bounds: z.object({ xMin: z.number(), yMin: z.number(), xMax: z.number(), yMax: z.number() }).nullable(),
  path: z.string(),
  points: z.array(z.object({ x: z.number(), y: z.number(), on: z.boolean() })),
  /** Characters it is kerned with, and by how much, strongest first. */
  kerning: z.object({
    before: z.array(z.object({ codePoint: z.number().int(), value: z.number() })),
    after: z.array(z.object({ codePoint: z.number().int(), value: z.number() })),
  }),
  /** Features that put this glyph in place of a text, and those that put another in its place. */
  reachedBy: z.array(z.object({ feature: z.string(), text: z.string() })),
  changedBy: z.array(z.string()),
});
export type GlyphDetail = z.infer<typeof glyphDetail>;

export const face = z.object({
  id,
  familyId: id,
  family: z.string(),
  style: z.string(),
  names: z.record(z.string(), z.string()),
  version: z.string().nullable(),
  vendor: z.string().nullable(),
  weightClass: z.number(),
  widthClass: z.number(),
  slope: z.enum(['upright', 'italic', 'oblique']),
  italicAngle: z.number(),
  monospaced: z.boolean(),
  outlines: z.enum(['glyf', 'CFF', 'CFF2', 'none']),
  unitsPerEm: z.number(),
  ascender: z.number(),
  descender: z.number(),
  lineGap: z.number(),
  xHeight: z.number().nullable(),
  capHeight: z.number().nullable(),
  heightsMeasured: z.boolean(),
  glyphCount: z.number(),
  codePoints: z.number(),
  ranges: z.array(z.string()),
  embedding: z.object({
    level: z.enum(['installable', 'editable', 'preview-print', 'restricted']),
    noSubsetting: z.boolean(),
    bitmapOnly: z.boolean(),
  }),
  color: z.array(z.string()),
  axes: z.array(z.object({ tag: z.string(), min: z.number(), default: z.number(), max: z.number(), name: z.string().nullable() })),
  instances: z.array(z.object({ name: z.string().nullable(), coordinates: z.array(z.number()) })),
  features: z.array(z.string()),
  layoutScripts: z.array(z.string()),
  findings: z.array(finding),
  /** The form computed from the outlines; `own` is what a person says instead. */
  shape: z
    .object({
      value: kind,
      confidence: z.number(),
      decorative: z.number(),
      own: kind.nullable(),
      stemWeight: z.number().nullable(),
      contrast: z.number().nullable(),
      width: z.number().nullable(),
      xHeightRatio: z.number().nullable(),
      slant: z.number(),
    })
    .nullable(),
  repairs: z.array(repair),
  /** Faces that are doubles of this one and stand behind it. */
  folded: z.array(z.object({ id, name: z.string(), version: z.string().nullable(), addedAt: isoTime })),
  foldedInto: id.nullable(),
  coverage: coverage.nullable(),
  files: z.array(faceFile),
  companions: z.array(companion),
  licenses: z.array(license),
  suggestions: z.array(suggestion),
  verdicts: z.array(verdict),
  installs: z.array(install),
});
export type Face = z.infer<typeof face>;

export const facesRoutes = {
  getFaceLine: route({
    method: 'GET',
    path: '/api/faces/:faceId/line',
    access: 'viewer',
    summary: 'The face cut down to the characters of a text, as a font file',
    params: z.object({ faceId: id }),
    query: z.object({ text: z.string().min(1).max(2000), rev: z.string().max(64).optional() }),
    answer: z.string(),
    carries: 'bytes',
  }),
  downloadFace: route({
    doing: 'Converting a font',
    job: 'again',
    method: 'GET',
    path: '/api/faces/:faceId/as/:format',
    access: 'viewer',
    summary: 'A face in another container, outlines as they are',
    params: z.object({ faceId: id, format: targetFormat }),
    answer: z.string(),
    carries: 'bytes',
  }),
  downloadFile: route({
    method: 'GET',
    path: '/api/files/:fileId/bytes',
    access: 'viewer',
    summary: 'A font file as it was received',
    params: z.object({ fileId: id }),
    answer: z.string(),
    carries: 'bytes',
  }),
};
