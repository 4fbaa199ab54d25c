/** Licenses, the texts that came with faces, and what they are read to say. */
import { z } from 'zod';
import { changedFamilies, okChanged } from '../families.js';
import { route } from '../route.js';
import { answer, id, isoDay, isoTime, licenseKind, limit, line, prose, use } from '../words.js';

/** Answers with the sentence each rests on, for a person to confirm. */
export const offered = z.partialRecord(use, z.object({ answer, quote: z.string() }));

/** A license recognized or named in what came with some faces, not yet on record. */
export const suggestion = z.object({
  /** Null where the version is not said. */
  spdxId: z.string().nullable(),
  name: z.string(),
  score: z.number(),
  basis: z.enum(['text', 'mention']),
  reservedNames: z.array(z.string()),
  companionId: id.nullable(),
  companionName: z.string().nullable(),
  /** What it offers to answer; empty for a mere hint. */
  answers: offered,
  /** The sentence that names it. */
  sentence: z.string().nullable(),
  /** Why it offers nothing, or what narrows it. */
  doubt: z.string().nullable(),
});
export type Suggestion = z.infer<typeof suggestion>;

export const verdict = z.object({
  use,
  answer,
  reasons: z.array(z.string()),
  licenseId: z.string().nullable(),
  quote: z.string().nullable(),
  /** Where in a known license these words stand. */
  clause: z.string().nullable().default(null),
  duties: z.array(z.string()),
  /** What would turn it to yes; null where it is yes. */
  remedy: z.string().nullable(),
  /** Whether a limit or an end is near. */
  attention: z.boolean(),
});
export type Verdict = z.infer<typeof verdict>;

export const companion = z.object({
  id,
  name: z.string(),
  kind: z.enum(['terms', 'receipt', 'readme', 'picture', 'document', 'other']),
  bytes: z.number().int(),
  bundle: z.string(),
  readable: z.boolean(),
  /** Why its text could not be read; null where it was, or where there is none to read. */
  unread: z.string().nullable(),
  /** Whether its terms count for the face it is listed with; null where that is not asked or it has none. */
  belongs: z.boolean().nullable(),
  /** Why they do not. */
  why: z.string().nullable(),
  /** Whether it shows that something was bought, beside what it is. */
  receipt: z.boolean(),
  /** Licenses it names without holding their text. */
  hints: z.array(z.string()),
});
export type Companion = z.infer<typeof companion>;

export const licenseFields = z.object({
  name: line(160),
  kind: licenseKind,
  spdxId: z.string().max(60).nullable(),
  grantor: prose(200),
  uses: z.partialRecord(use, answer),
  startsOn: isoDay.nullable(),
  endsOn: isoDay.nullable(),
  note: prose(4000),
  /** The sentence each answer rests on, in the license's own words. */
  quotes: z.partialRecord(use, z.string().trim().max(1000)).default({}),
  /** How much of a use it covers, in the units of `LIMITS`, and how much is used. */
  limits: z.partialRecord(limit, z.number().int('A whole number, please').min(1, 'A limit is at least 1').max(1e12)).default({}),
  counters: z.partialRecord(limit, z.number().int('A whole number, please').min(0, 'A count is at least 0').max(1e12)).default({}),
  noticeOn: isoDay.nullable().default(null),
  price: z.number().min(0, 'A price is at least 0').max(9_999_999).nullable().default(null),
  currency: z
    .string()
    .refine((c) => Intl.supportedValuesOf('currency').includes(c), 'This is not a currency of ISO 4217')
    .nullable()
    .default(null),
  boughtOn: isoDay.nullable().default(null),
  orderNumber: prose(100).default(''),
  billedTo: prose(200).default(''),
  source: prose(500).default(''),
  /** What it asks in return, beside what a known text does. */
  duties: z.array(z.string().trim().min(1).max(300)).max(20).default([]),
  faceIds: z.array(id).max(6000),
  companionIds: z.array(id).max(200),
  confirmed: z.boolean(),
});
export type LicenseFields = z.infer<typeof licenseFields>;

/** A record that settles nothing yet. */
export const blankLicense = (faceIds: string[]): LicenseFields => ({
  name: '',
  kind: 'unknown',
  spdxId: null,
  grantor: '',
  uses: {},
  startsOn: null,
  endsOn: null,
  note: '',
  quotes: {},
  limits: {},
  counters: {},
  noticeOn: null,
  price: null,
  currency: null,
  boughtOn: null,
  orderNumber: '',
  billedTo: '',
  source: '',
  duties: [],
  faceIds,
  companionIds: [],
  // Only a person confirms.
  confirmed: false,
});

/** A change names the version it was made on: one made on an older version would undo somebody else's. */
export const licenseChange = licenseFields.extend({ version: z.number().int() });

export const license = licenseFields.extend({
  id,
  /** What this license alone answers today, with nothing said of the file. */
  answers: z.record(use, answer),
  version: z.number().int(),
  confirmedBy: z.string().nullable(),
  confirmedAt: isoTime.nullable(),
  families: z.array(z.string()),
  companions: z.array(companion),
  reservedNames: z.array(z.string()),
});
export type License = z.infer<typeof license>;
export const licenseChanged = license.extend({ changed: changedFamilies });

/** A known license text found in a companion, and where it differs. */
export const recognition = z.object({
  spdxId: z.string(),
  name: z.string(),
  score: z.number(),
  /** What it offers to answer, without what words around it narrow or deny. */
  answers: offered.default({}),
  differences: z.array(z.object({ expected: z.string(), found: z.string(), start: z.number().int(), end: z.number().int() })),
});
export type KnownText = z.infer<typeof recognition>;

/** What licenses of a kind usually say, to begin a record with. */
export const startingPoint = z.object({
  id: z.string(),
  name: line(80),
  hint: z.string().trim().max(200),
  kind: licenseKind,
  uses: z.partialRecord(use, answer),
  limits: z.partialRecord(limit, z.number().int().min(1).max(1e12)).default({}),
  duties: z.array(z.string().trim().min(1).max(300)).max(20).default([]),
});
export type StartingPoint = z.infer<typeof startingPoint>;

/** A license that a text names without holding its words. */
export const mention = z.object({
  spdxId: z.string().nullable(),
  name: z.string(),
  sentence: z.string(),
  grants: z.boolean(),
  doubt: z.string().nullable(),
});
export type Mention = z.infer<typeof mention>;

/** A sentence of terms, with the heading, the introduction or the question it belongs to. */
const termsPassage = z.object({ sentence: z.string(), start: z.number().int(), context: z.string().nullable() });
export type TermsPassage = z.infer<typeof termsPassage>;

/** What free-form terms say: for each use the sentences on it, what stands above all uses, what could not be placed; and the few answers that are plain. */
export const termsReading = z.object({
  passages: z.array(z.object({ use, sentences: z.array(termsPassage) })),
  general: z.array(termsPassage),
  also: z.array(termsPassage),
  suggestions: z.array(z.object({ use, answer, limit: z.number().nullable(), sentence: z.string(), start: z.number().int() })),
  /** Numbers with their unit; `limit` is the field they fit. */
  limits: z.array(
    z.object({ limit: limit.nullable(), amount: z.number(), unit: z.string(), sentence: z.string(), start: z.number().int() }),
  ),
  duties: z.array(z.object({ sentence: z.string(), start: z.number().int() })),
  /** Whether it is English, the only language that is read. */
  english: z.boolean(),
});
export type TermsReading = z.infer<typeof termsReading>;

/** What a text is or says of rights. */
const textRead = z.object({
  reading: termsReading.nullable(),
  /** What the words of the text take back or deny, beside a known license those around it. */
  narrowing: z.array(z.object({ use, sentence: z.string(), start: z.number().int() })),
  /** Known licenses whose text it holds, and the one it resembles without being it. */
  recognised: z.array(recognition),
  near: recognition.nullable(),
  mentions: z.array(mention),
  doubt: z.string().nullable(),
});

export const licensesRoutes = {
  readCompanion: route({
    method: 'GET',
    path: '/api/companions/:companionId',
    access: 'viewer',
    summary: 'The text of a companion, where it can be read',
    params: z.object({ companionId: id }),
    answer: textRead.extend({ companion, text: z.string().nullable() }),
  }),
  downloadCompanion: route({
    method: 'GET',
    path: '/api/companions/:companionId/bytes',
    access: 'viewer',
    summary: 'A companion as it was received',
    params: z.object({ companionId: id }),
    answer: z.string(),
    carries: 'bytes',
  }),
  listLicenses: route({
    method: 'GET',
    path: '/api/licenses',
    access: 'viewer',
    summary: 'Licenses on record',
    answer: z.array(license),
  }),
  getCalendar: route({
    method: 'GET',
    path: '/api/licenses/calendar',
    access: 'editor',
    summary: 'The address under which calendar programs read when rights end',
    answer: z.object({ path: z.string().nullable() }),
  }),
  renewCalendar: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/licenses/calendar',
    access: 'editor',
    summary: 'Make that address, or a new one in place of the former',
    answer: z.object({ path: z.string().nullable() }),
  }),
  switchOffCalendar: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/licenses/calendar',
    access: 'editor',
    summary: 'Switch that address off',
  }),
  readCalendar: route({
    method: 'GET',
    path: '/api/public/calendar/:secret',
    access: 'public',
    summary: 'When rights end, as iCalendar (RFC 5545)',
    params: z.object({ secret: z.string().max(64) }),
    answer: z.string(),
    carries: 'bytes',
  }),
  getLicenseHistory: route({
    method: 'GET',
    path: '/api/licenses/:licenseId/history',
    access: 'viewer',
    summary: 'Who changed what of a license, and when',
    params: z.object({ licenseId: id }),
    answer: z.array(z.object({ version: z.number().int(), by: z.string(), at: isoTime, changes: z.array(z.string()) })),
  }),
  createLicense: route({
    method: 'POST',
    affects: 'library',
    path: '/api/licenses',
    access: 'editor',
    summary: 'Record a license',
    body: licenseFields,
    answer: licenseChanged,
  }),
  changeLicense: route({
    method: 'PUT',
    affects: 'library',
    path: '/api/licenses/:licenseId',
    access: 'editor',
    summary: 'Correct a license; the former version is kept',
    params: z.object({ licenseId: id }),
    body: licenseChange,
    answer: licenseChanged,
  }),
  removeLicense: route({
    method: 'DELETE',
    affects: 'library',
    path: '/api/licenses/:licenseId',
    access: 'editor',
    summary: 'Take a license off record; its versions are kept',
    params: z.object({ licenseId: id }),
    answer: okChanged,
  }),
  restoreLicense: route({
    method: 'POST',
    affects: 'library',
    path: '/api/licenses/:licenseId/restore',
    access: 'editor',
    summary: 'Put a license that was taken off record back',
    params: z.object({ licenseId: id }),
    answer: licenseChanged,
  }),
  readTermsText: route({
    doing: 'Reading terms',
    job: 'again',
    whenLeft: 'stop',
    method: 'POST',
    affects: 'nothing',
    path: '/api/rights/read',
    access: 'viewer',
    summary: 'What a text of terms is or seems to say; nothing is kept',
    body: z.object({ text: z.string().min(1).max(200_000) }),
    answer: textRead,
  }),
  addEvidence: route({
    doing: 'Reading a document',
    job: 'once',
    method: 'POST',
    affects: 'library',
    path: '/api/licenses/:licenseId/evidence',
    access: 'editor',
    summary: 'Keep a receipt, terms or an e-mail with a license; the body is the file',
    params: z.object({ licenseId: id }),
    query: z.object({ name: z.string().min(1).max(1000) }),
    carries: 'upload',
    answer: companion,
  }),
  listStartingPoints: route({
    method: 'GET',
    path: '/api/licenses/starting-points',
    access: 'viewer',
    summary: 'Starting points for licenses that the workspace kept',
    answer: z.array(startingPoint),
  }),
  keepStartingPoint: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/licenses/starting-points',
    access: 'editor',
    summary: 'Keep answers as a starting point, or replace one of the same name',
    body: startingPoint.omit({ id: true }),
    answer: z.array(startingPoint),
  }),
  dropStartingPoint: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/licenses/starting-points/:startingPointId',
    access: 'editor',
    summary: 'Forget a starting point of the workspace',
    params: z.object({ startingPointId: id }),
  }),
};
