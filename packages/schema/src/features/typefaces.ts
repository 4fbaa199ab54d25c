/** Drawn typefaces: letters from paper, screen or vector drawings that become a face, release after release. */
import { z } from 'zod';
import { changedFamilies } from '../families.js';
import { route } from '../route.js';
import { id, isoTime, line, prose } from '../words.js';

/** A character, a combining mark, or a sequence that is drawn as one. */
const character = z.string().min(1).max(20);
const units = z.number().min(-2000).max(4000);

export const typefaceFacts = z.object({
  family: line(60),
  style: line(40),
  maker: z.string().max(200),
  license: z.string().max(1000),
  licenseUrl: z.union([z.literal(''), z.url({ protocol: /^https?$/ }).max(500)]),
  embedding: z.union([z.literal(0), z.literal(2), z.literal(4), z.literal(8)]),
});
export type TypefaceFacts = z.infer<typeof typefaceFacts>;

export const characterWish = z.object({
  languages: z.array(z.string().max(30)).min(1).max(200),
  figures: z.boolean(),
  punctuation: z.boolean(),
  currency: z.boolean(),
  fractions: z.boolean(),
  capitalsOnly: z.boolean(),
  variants: z.number().int().min(0).max(3),
  ligatures: z.array(z.string().regex(/^\p{L}{2,4}$/u, 'A ligature is two to four letters, as “th”.')).max(40),
  also: z.string().max(300),
});
export type CharacterWish = z.infer<typeof characterWish>;

const place = z.tuple([z.number(), z.number()]);
export const contour = z.object({ start: place, segments: z.array(z.array(z.number()).max(6)).max(4000) });
export type Contour = z.infer<typeof contour>;

export const letterStep = z.discriminatedUnion('step', [
  z.object({ step: z.literal('move'), x: z.number().min(-1000).max(1000), y: z.number().min(-1000).max(1000) }),
  z.object({ step: z.literal('scale'), by: z.number().min(0.2).max(5) }),
  z.object({ step: z.literal('flip'), across: z.enum(['vertical', 'horizontal']) }),
  z.object({ step: z.literal('turn'), degrees: z.number().min(-360).max(360) }),
  z.object({ step: z.literal('weight'), by: z.number().min(-60).max(60) }),
  z.object({ step: z.literal('smooth'), within: z.number().min(0.1).max(20) }),
  z.object({ step: z.literal('cut') }),
  z.object({ step: z.literal('clean') }),
  z.object({ step: z.literal('edit'), contours: z.array(contour).max(500) }),
]);
export type LetterStep = z.infer<typeof letterStep>;

const finding = z.object({ code: z.string(), message: z.string() });

/** A glyph as it would be released. Paths are SVG path data in thousandths of the em, y down, the baseline at 0, its advance beginning at 0. */
export const typefaceGlyph = z.object({
  name: z.string(),
  character,
  variant: z.number().int(),
  kind: z.enum(['small', 'capital', 'figure', 'punctuation', 'mark']),
  path: z.string(),
  /** The drawing that it is of; null where it is composed. */
  letterId: id.nullable(),
  advance: z.number(),
  left: z.number(),
  right: z.number(),
  locked: z.object({ left: z.boolean(), right: z.boolean() }),
  /** What it is composed of, the letter first. */
  of: z.array(z.string()).nullable(),
  /** How far a person moved its marks, in their order; thousandths of the em. */
  adjusted: z.array(z.object({ x: z.number(), y: z.number() })),
  findings: z.array(finding),
});
export type TypefaceGlyph = z.infer<typeof typefaceGlyph>;

const pair = z.object({ left: character, right: character, value: z.number().min(-1000).max(1000) });
const cell = z.object({ character, variant: z.number().int().min(0).max(9) });

export const typefaceRelease = z.object({
  number: z.number().int(),
  day: z.string(),
  by: z.string(),
  notes: z.string(),
  added: z.array(z.string()),
  /** Letters that look otherwise than in the release before, with both paths. */
  changed: z.array(z.object({ name: z.string(), before: z.string(), after: z.string() })),
  removed: z.array(z.string()),
  files: z.array(z.object({ name: z.string(), bytes: z.number().int(), faceId: id.nullable() })),
});
export type TypefaceRelease = z.infer<typeof typefaceRelease>;

export const typeface = z.object({
  id,
  facts: typefaceFacts,
  wish: characterWish,
  kern: z.boolean(),
  turns: z.boolean(),
  tabular: z.boolean(),
  /** Whether small letters connect. */
  connected: z.boolean(),
  /** White beside a straight small letter: as it is, as a person set it, as written words showed it. */
  white: z.object({
    is: z.number(),
    from: z.enum(['set', 'words', 'letters']),
    set: z.number().nullable(),
    learned: z.number().nullable(),
  }),
  version: z.number().int(),
  heights: z.object({ xHeight: z.number(), capHeight: z.number() }),
  glyphs: z.array(typefaceGlyph),
  /** Wanted characters that nothing makes yet. */
  missing: z.array(z.string()),
  /** Boxes that are still to be drawn. */
  open: z.array(cell),
  /** Pairs that move: those a person set, then the largest. */
  pairs: z.array(pair.extend({ locked: z.boolean() })),
  pairCount: z.number().int(),
  sheets: z.array(
    z.object({
      id: z.string(),
      paper: z.enum(['A4', 'Letter']),
      em: z.number(),
      boxes: z.number().int(),
      pages: z.number().int(),
      madeAt: isoTime,
    }),
  ),
  /** Languages that it writes in full as it is, and those asked for that it does not. */
  languages: z.object({
    full: z.array(z.string()),
    lacking: z.array(z.object({ tag: z.string(), name: z.string(), missing: z.array(z.string()) })),
  }),
  /** Words to see it in, of its languages and such as it can write. */
  samples: z.array(z.object({ label: z.string(), text: z.string() })),
  stops: z.array(z.string()),
  next: typefaceRelease
    .pick({ added: true, changed: true, removed: true })
    .extend({ number: z.number().int(), places: z.array(z.string()) }),
  releases: z.array(typefaceRelease),
});
export type Typeface = z.infer<typeof typeface>;

export const typefaceBrief = z.object({
  id,
  family: z.string(),
  style: z.string(),
  letters: z.number().int(),
  release: z.number().int(),
  changedAt: isoTime,
});
export type TypefaceBrief = z.infer<typeof typefaceBrief>;

/** One letter with its outline as points, for whoever moves them. */
export const typefaceLetter = z.object({
  id,
  character,
  variant: z.number().int(),
  from: z.string(),
  ink: z.string(),
  outline: z.array(contour),
  steps: z.array(z.string()),
});
export type TypefaceLetter = z.infer<typeof typefaceLetter>;

const readFinding = z.object({ code: z.string(), severity: z.enum(['stops', 'look', 'note']), message: z.string() });
/** What became of a picture: each page that it shows. */
export const readPageAnswer = z.object({
  /** The sheet's page; 0 where none of ours was found. */
  page: z.number().int(),
  pages: z.number().int(),
  findings: z.array(readFinding),
  /** Boxes that became letters. */
  taken: z.array(cell),
  /** Boxes that are to be looked at, and those that were skipped. */
  boxes: z.array(
    cell.extend({
      findings: z.array(readFinding),
      /** Its corners in `picture`, in parts of its width and height. */
      corners: z.array(z.tuple([z.number(), z.number()])),
    }),
  ),
  /** What was sent, small, where something is to be looked at: a data URL. */
  picture: z.string().nullable(),
  words: z.boolean(),
});
export type ReadPageAnswer = z.infer<typeof readPageAnswer>;

/** One act on a typeface; what can be undone is undone by the act that the screen keeps. */
export const typefaceAct = z.discriminatedUnion('act', [
  z.object({ act: z.literal('step'), ids: z.array(id).min(1).max(2000), step: letterStep }),
  z.object({ act: z.literal('unstep'), ids: z.array(id).min(1).max(2000), at: z.number().int().min(0).max(200).nullable().default(null) }),
  z.object({ act: z.literal('remove'), ids: z.array(id).min(1).max(2000) }),
  /** Brings drawings back; those that took their place go. */
  z.object({ act: z.literal('restore'), ids: z.array(id).min(1).max(2000) }),
  /** A box takes the drawing of another one. */
  z.object({ act: z.literal('borrow'), from: id, to: cell }),
  z.object({ act: z.literal('heights'), ids: z.array(id).min(1).max(2000), to: z.enum(['capitals', 'small']) }),
  z.object({
    act: z.literal('adjust'),
    character,
    shifts: z.array(z.object({ x: z.number().min(-1000).max(1000), y: z.number().min(-1000).max(1000) })).max(6),
  }),
  z.object({
    act: z.literal('sides'),
    character,
    left: units.nullable(),
    right: units.nullable(),
    leftAs: character.nullable().default(null),
    rightAs: character.nullable().default(null),
  }),
  z.object({ act: z.literal('pair'), left: character, right: character, value: z.number().min(-1000).max(1000).nullable() }),
  z.object({ act: z.literal('white'), white: z.number().min(0).max(400).nullable() }),
  z.object({ act: z.literal('features'), kern: z.boolean(), turns: z.boolean(), tabular: z.boolean(), connected: z.boolean().optional() }),
]);
export type TypefaceAct = z.infer<typeof typefaceAct>;

const params = z.object({ typefaceId: id });

export const typefacesRoutes = {
  listTypefaces: route({
    method: 'GET',
    path: '/api/typefaces',
    access: 'viewer',
    summary: 'Typefaces in the making',
    answer: z.array(typefaceBrief),
  }),
  createTypeface: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/typefaces',
    access: 'editor',
    summary: 'Begin a typeface',
    body: z.object({ family: line(60), maker: z.string().max(200).default(''), wish: characterWish }),
    answer: typeface,
  }),
  restoreTypeface: route({
    doing: 'Reading a typeface from its file',
    job: 'once',
    method: 'POST',
    affects: 'nothing',
    path: '/api/typefaces/from-file',
    access: 'editor',
    summary: 'Make a typeface of the file that its kit holds',
    answer: typeface,
    carries: 'upload',
  }),
  getTypeface: route({
    method: 'GET',
    path: '/api/typefaces/:typefaceId',
    access: 'viewer',
    summary: 'A typeface with every glyph as it would be released',
    params,
    answer: typeface,
  }),
  changeTypeface: route({
    method: 'PUT',
    affects: 'nothing',
    path: '/api/typefaces/:typefaceId',
    access: 'editor',
    summary: 'Change what is true of the whole typeface, and which characters it shall have',
    params,
    body: z.object({ facts: typefaceFacts, wish: characterWish, version: z.number().int() }),
    answer: typeface,
  }),
  removeTypeface: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/typefaces/:typefaceId',
    access: 'editor',
    summary: 'Forget a typeface; released fonts stay in the library',
    params,
  }),
  returnTypeface: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/typefaces/:typefaceId/return',
    access: 'editor',
    summary: 'Take a forgotten typeface back',
    params,
    answer: typeface,
  }),
  makeSheet: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/typefaces/:typefaceId/sheets',
    access: 'editor',
    summary: 'Lay out a sheet to draw on, for all boxes, those still open, or some',
    params,
    body: z.object({
      paper: z.enum(['A4', 'Letter']),
      em: z.number().min(8).max(30),
      boxes: z.union([z.literal('all'), z.literal('open'), z.array(cell).min(1).max(400)]),
      words: z.boolean().default(true),
    }),
    answer: typeface,
  }),
  getSheet: route({
    doing: 'Drawing a sheet',
    job: 'again',
    method: 'GET',
    path: '/api/typefaces/:typefaceId/sheets/:paperId',
    access: 'viewer',
    summary: 'A sheet to print (PDF) or a page of it to draw in (PNG at 300 dpi, SVG in layers)',
    params: z.object({ typefaceId: id, paperId: z.string().regex(/^[A-Z0-9]{16}$/) }),
    query: z.object({ as: z.enum(['pdf', 'png', 'svg']).default('pdf'), page: z.coerce.number().int().min(1).max(99).default(1) }),
    answer: z.string(),
    carries: 'bytes',
  }),
  readSheet: route({
    doing: 'Reading pages of a sheet',
    job: 'once',
    method: 'POST',
    affects: 'nothing',
    path: '/api/typefaces/:typefaceId/pages',
    access: 'editor',
    summary: 'Read a scan, a photograph or a PDF of filled pages, sent as it is in the request body',
    params,
    answer: z.object({ typeface, pages: z.array(readPageAnswer), replaced: z.array(id), added: z.array(id) }),
    carries: 'upload',
  }),
  addLetters: route({
    doing: 'Reading letters',
    mostBytes: 10 * 1024 * 1024,
    job: 'once',
    method: 'POST',
    affects: 'nothing',
    path: '/api/typefaces/:typefaceId/letters',
    access: 'editor',
    summary: 'Take letters drawn as vectors (SVG by name or by groups), or in a box on screen (a gray picture of it)',
    params,
    body: z.object({
      files: z
        .array(z.object({ path: z.string().min(1).max(300), text: z.string().max(2_000_000) }))
        .max(300)
        .default([]),
      boxes: z
        .array(
          cell.extend({
            width: z.number().int().min(64).max(1400),
            height: z.number().int().min(64).max(1600),
            gray: z.base64().max(1_600_000),
          }),
        )
        .max(4)
        .default([]),
    }),
    answer: z.object({ typeface, replaced: z.array(id), added: z.array(id), told: z.array(z.string()) }),
  }),
  getLetter: route({
    method: 'GET',
    path: '/api/typefaces/:typefaceId/letters/:letterId',
    access: 'viewer',
    summary: 'One letter with its outline as points',
    params: params.extend({ letterId: id }),
    answer: typefaceLetter,
  }),
  changeLetters: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/typefaces/:typefaceId/acts',
    access: 'editor',
    summary: 'Mend letters, compose, space and kern',
    params,
    body: typefaceAct,
    answer: typeface,
  }),
  tryTypeface: route({
    doing: 'Building the font to try',
    job: 'again',
    whenLeft: 'stop',
    method: 'GET',
    path: '/api/typefaces/:typefaceId/preview.woff2',
    access: 'viewer',
    summary: 'The typeface as it is, to set words in',
    params,
    query: z.object({ version: z.coerce.number().int().min(0).default(0) }),
    answer: z.string(),
    carries: 'bytes',
  }),
  releaseTypeface: route({
    doing: 'Making the release of a typeface',
    job: 'once',
    method: 'POST',
    affects: 'library',
    path: '/api/typefaces/:typefaceId/releases',
    access: 'editor',
    summary: 'Make the next release: fonts in the library',
    params,
    body: z.object({ notes: prose(2000).default(''), mayRelease: z.literal(true), version: z.number().int() }),
    answer: z.object({ typeface, changed: changedFamilies }),
  }),
  typefaceKit: route({
    method: 'GET',
    path: '/api/typefaces/:typefaceId/releases/:number/kit',
    access: 'viewer',
    summary: 'A release with its fonts, its source and its terms, as ZIP',
    params: params.extend({ number: z.coerce.number().int().min(0) }),
    answer: z.string(),
    carries: 'bytes',
  }),
};
