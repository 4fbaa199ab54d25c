/** Inquiries: a customer's picture, the letters in it, and which face they are set in. */
import { z } from 'zod';
import { route } from '../route.js';
import { id, isoTime, line, prose, use } from '../words.js';

const place = z.tuple([z.number(), z.number()]);
const color = z.tuple([z.number().min(0).max(255), z.number().min(0).max(255), z.number().min(0).max(255)]);

/** What was done to the picture, in its order; places are px of the picture as it was by then. */
export const pictureEdit = z.discriminatedUnion('edit', [
  z.object({ edit: z.literal('crop'), x0: z.number(), y0: z.number(), x1: z.number(), y1: z.number() }),
  z.object({ edit: z.literal('turn'), degrees: z.number().min(-360).max(360) }),
  z.object({ edit: z.literal('corners'), corners: z.array(place).length(4) }),
  z.object({ edit: z.literal('stroke'), ink: z.boolean(), radius: z.number().min(0.5).max(400), points: z.array(place).min(1).max(4000) }),
  z.object({ edit: z.literal('cut'), from: place, to: place }),
]);
export type PictureEdit = z.infer<typeof pictureEdit>;

/** How a picture was read: everything that is needed to read it again. */
export const pictureReading = z.object({
  edits: z.array(pictureEdit).max(400),
  ground: color.nullable(),
  ink: color.nullable(),
  level: z.number().min(0.05).max(0.95).nullable(),
  specks: z.number().min(0).max(10_000),
  pinholes: z.number().min(0).max(10_000),
  /** What is written in it, as a person read it. */
  word: z.string().max(80),
  /** Letters of the word, by their place in it, that are not compared. */
  without: z.array(z.number().int().min(0).max(80)).max(80),
  asWord: z.boolean().nullable(),
  stretched: z.boolean(),
  slanted: z.boolean(),
});
export type PictureReading = z.infer<typeof pictureReading>;

export const sureness = z.enum(['surely', 'probably', 'nearest', 'none']);
export type Sureness = z.infer<typeof sureness>;

/** How a face lies on the picture. */
export const candidate = z.object({
  faceId: id,
  score: z.number(),
  /** 1 as it is drawn, 0.9 narrowed to 90%. */
  stretch: z.number(),
  /** Leaning to the right, parts of the height; what its own letters do not do. */
  slant: z.number(),
  /** px of the edited picture a thousandth of the em. */
  scale: z.number(),
  /** Letters that differ most first, with the ink that only one of the two has. */
  differs: z.array(z.object({ codePoint: z.number().int(), rest: z.number() })).max(80),
  /** Faces of other families that are drawn alike in these letters. */
  twins: z.array(id).max(40),
  siblings: z.array(id).max(60),
});
export type Candidate = z.infer<typeof candidate>;

const inquiryFields = z.object({
  title: line(120),
  customer: prose(200),
  note: prose(4000),
  /** What the work is charged at. */
  price: z.number().min(0, 'A price is at least 0').max(9_999_999).nullable(),
  currency: z
    .string()
    .refine((c) => Intl.supportedValuesOf('currency').includes(c), 'This is not a currency of ISO 4217')
    .nullable(),
  use,
  open: z.boolean(),
  reading: pictureReading,
  sureness: sureness.nullable(),
  candidates: z.array(candidate).max(8),
});

/** The ink of the line that was read, so that it can be looked for again: a byte a px, 160 for full ink, Base64. */
const keptInk = z.object({
  width: z.number().int().min(2).max(3000),
  height: z.number().int().min(2).max(1000),
  values: z.base64().max(4_000_000),
});

export const inquiry = inquiryFields.extend({
  id,
  width: z.number().int(),
  height: z.number().int(),
  version: z.number().int(),
  createdBy: z.string(),
  createdAt: isoTime,
  changedAt: isoTime,
  /** A face that came in later and fits better, until somebody has looked at it. */
  news: z.object({ faceId: id, family: z.string(), sureness, at: isoTime }).nullable(),
});
export type Inquiry = z.infer<typeof inquiry>;

export const inquiryBrief = inquiry
  .pick({
    id: true,
    title: true,
    customer: true,
    open: true,
    sureness: true,
    news: true,
    changedAt: true,
    width: true,
    height: true,
  })
  .extend({ word: z.string(), faceId: id.nullable() });
export type InquiryBrief = z.infer<typeof inquiryBrief>;

const params = z.object({ inquiryId: id });

export const inquiriesRoutes = {
  decodePicture: route({
    doing: 'Opening a picture',
    job: 'again',
    whenLeft: 'stop',
    method: 'POST',
    affects: 'nothing',
    path: '/api/pictures/decoded',
    access: 'viewer',
    summary: 'Make a PNG of a picture or of a page of a PDF, sent as it is in the request body',
    query: z.object({ page: z.coerce.number().int().min(1).max(200).default(1) }),
    answer: z.object({ width: z.number().int(), height: z.number().int(), pages: z.number().int(), png: z.string() }),
    carries: 'upload',
  }),
  getShapes: route({
    method: 'GET',
    path: '/api/pictures/shapes',
    access: 'viewer',
    summary: 'What the letters of the library’s faces look like, some hundred faces at a time',
    query: z.object({ from: z.coerce.number().int().min(0).max(100_000).default(0) }),
    answer: z.string(),
    carries: 'bytes',
  }),
  shapeWords: route({
    doing: 'Setting words to compare',
    job: 'again',
    whenLeft: 'stop',
    method: 'POST',
    affects: 'nothing',
    path: '/api/pictures/words',
    access: 'viewer',
    summary: 'Set words in some faces, shaped, as outlines',
    body: z.object({ text: z.string().min(1).max(200), faceIds: z.array(id).min(1).max(60) }),
    answer: z.array(
      z.object({
        faceId: id,
        /** Thousandths of the em, y up. */
        polygons: z.array(z.array(z.number())),
        /** SVG path data in the same lengths, y down, the baseline at 0. */
        path: z.string(),
        box: z.tuple([z.number(), z.number(), z.number(), z.number()]),
        /** Words that the face has no glyph for. */
        missing: z.array(z.string()),
      }),
    ),
  }),
  describeCandidates: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/pictures/faces',
    access: 'viewer',
    summary: 'What is on record about some faces: license, price, decorated cousins',
    body: z.object({ faceIds: z.array(id).min(1).max(60) }),
    answer: z.array(
      z.object({
        faceId: id,
        licenses: z.array(
          z.object({
            id,
            name: z.string(),
            kind: z.string(),
            grantor: z.string(),
            price: z.number().nullable(),
            currency: z.string().nullable(),
            confirmed: z.boolean(),
          }),
        ),
        /** Faces of the family, or of one whose name begins as its does, that are outlined, inlined, shaded or worn. */
        cousins: z.array(z.object({ faceId: id, name: z.string() })),
      }),
    ),
  }),
  listInquiries: route({
    method: 'GET',
    path: '/api/inquiries',
    access: 'viewer',
    summary: 'Inquiries, the latest first',
    answer: z.array(inquiryBrief),
  }),
  createInquiry: route({
    mostBytes: 20 * 1024 * 1024,
    method: 'POST',
    affects: 'nothing',
    path: '/api/inquiries',
    access: 'editor',
    summary: 'Keep a picture with what was found',
    body: inquiryFields.extend({ png: z.base64().max(12_000_000), kept: keptInk.nullable() }),
    answer: inquiry,
  }),
  getInquiry: route({
    method: 'GET',
    path: '/api/inquiries/:inquiryId',
    access: 'viewer',
    summary: 'One inquiry',
    params,
    answer: inquiry,
  }),
  changeInquiry: route({
    mostBytes: 20 * 1024 * 1024,
    method: 'PUT',
    affects: 'nothing',
    path: '/api/inquiries/:inquiryId',
    access: 'editor',
    summary: 'Change an inquiry',
    params,
    body: inquiryFields.extend({ version: z.number().int(), kept: keptInk.nullable() }),
    answer: inquiry,
  }),
  removeInquiry: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/inquiries/:inquiryId',
    access: 'editor',
    summary: 'Forget an inquiry',
    params,
  }),
  returnInquiry: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/inquiries/:inquiryId/return',
    access: 'editor',
    summary: 'Take a forgotten inquiry back',
    params,
    answer: inquiry,
  }),
  inquiryPicture: route({
    method: 'GET',
    path: '/api/inquiries/:inquiryId/picture.png',
    access: 'viewer',
    summary: 'The picture of an inquiry as it came',
    params,
    answer: z.string(),
    carries: 'bytes',
  }),
};
