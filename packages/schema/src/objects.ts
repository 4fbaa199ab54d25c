import { z } from 'zod';
import { kind, repair } from './order.js';
import { answer, format, id, isoDay, isoTime, licenseKind, limit, line, prose, role, sha256, targetFormat, use } from './words.js';

export const session = z.object({
  signedIn: z.boolean(),
  demoAvailable: z.boolean(),
  /** `demo`: a visitor of the sample business, who shares its account with others. */
  account: z.object({ id, name: z.string(), email: z.string(), demo: z.boolean() }).nullable(),
  workspace: z.object({ id, name: z.string(), isDemo: z.boolean(), timeZone: z.string() }).nullable(),
  role: role.nullable(),
  workspaces: z.array(z.object({ id, name: z.string(), role })),
});
export type Session = z.infer<typeof session>;

export const member = z.object({ id, name: z.string(), email: z.string(), role, you: z.boolean(), version: z.number().int() });

/** An invitation that nobody has taken up yet. Its address is shown once, when it is made. */
export const invitation = z.object({ id, role, note: z.string(), by: z.string(), createdAt: isoTime, expiresAt: isoTime });
export type Invitation = z.infer<typeof invitation>;

/** A browser somebody is signed in with. */
export const ownSession = z.object({ id, agent: z.string(), createdAt: isoTime, seenAt: isoTime, current: z.boolean() });
export type OwnSession = z.infer<typeof ownSession>;

export const proofText = z.object({
  language: z.string().max(35),
  label: z.string().trim().min(1).max(60),
  text: z.string().trim().min(1).max(400),
});
export type ProofText = z.infer<typeof proofText>;

export const job = z.object({
  id,
  kind: z.enum(['intake', 'delivery', 'facts']),
  subjectId: id,
  state: z.enum(['queued', 'running', 'done', 'failed', 'cancelled']),
  done: z.number().int(),
  total: z.number().int(),
  message: z.string(),
});
export type Job = z.infer<typeof job>;

export const itemState = z.enum(['waiting', 'added', 'already-here', 'companion', 'set-aside', 'refused']);
export const intakeItem = z.object({
  id,
  path: z.string(),
  bundle: z.string().nullable(),
  bytes: z.number().int(),
  state: itemState,
  reason: z.string(),
  faceId: id.nullable(),
  companionId: id.nullable(),
});
export type IntakeItem = z.infer<typeof intakeItem>;

export const intake = z.object({
  id,
  label: z.string(),
  state: z.enum(['waiting', 'queued', 'running', 'done', 'failed', 'cancelled']),
  by: z.string(),
  createdAt: isoTime,
  bytes: z.number().int(),
  uploads: z.array(z.object({ id, name: z.string(), bytes: z.number().int() })),
  counts: z.record(itemState, z.number().int()),
  familyCount: z.number().int(),
  jobId: id.nullable(),
});
export type Intake = z.infer<typeof intake>;

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

/** A text of an intake that says something of rights: what it is, and which faces it counts for. */
export const bundleSuggestion = z.object({
  bundleId: id,
  bundle: z.string(),
  companionId: id,
  companionName: z.string(),
  /** Null where its terms are no known license. */
  suggestion: suggestion.nullable(),
  /** Faces it counts for that have no license on record, and their families. */
  faceIds: z.array(id),
  families: z.array(z.string()),
  /** Families it does not count for, with the reason. */
  left: z.array(z.object({ family: z.string(), faces: z.number().int(), reason: z.string() })),
  /** Faces it counts for that have a license on record already. */
  settled: z.number().int(),
});
export type BundleSuggestion = z.infer<typeof bundleSuggestion>;

export const verdict = z.object({
  use,
  answer,
  reasons: z.array(z.string()),
  licenseId: z.string().nullable(),
  quote: z.string().nullable(),
  duties: z.array(z.string()),
  /** What would turn it to yes; null where it is yes. */
  remedy: z.string().nullable(),
  /** Whether a limit or an end is near. */
  attention: z.boolean(),
});
export type Verdict = z.infer<typeof verdict>;

export const faceLine = z.object({
  id,
  familyId: id,
  style: z.string(),
  weightClass: z.number(),
  widthClass: z.number(),
  italic: z.boolean(),
  variable: z.boolean(),
  /** From and to, of the axes by which a variable face changes its weight (wght, as usWeightClass) and its width (wdth, in per cent). */
  ranges: z.object({ wght: z.tuple([z.number(), z.number()]).optional(), wdth: z.tuple([z.number(), z.number()]).optional() }),
  formats: z.array(format),
  /** Which of the library's `runSets` it covers; the browser marks what is missing. */
  runs: z.number().int(),
  ascender: z.number(),
  descender: z.number(),
  unitsPerEm: z.number(),
  blocked: z.string().nullable(),
  /** Its version, where another face of the family has the same style. */
  version: z.string().nullable(),
  /** Changes whenever the leading file does, so that pictures of it can be kept for ever. */
  revision: z.string(),
});
export type FaceLine = z.infer<typeof faceLine>;

export const family = z.object({
  id,
  name: z.string(),
  leadFaceId: id,
  faces: z.array(faceLine),
  /** ISO 15924 codes of the scripts it supports. */
  scripts: z.array(z.string()),
  /** Tags of the languages it writes in full. */
  languages: z.array(z.string()),
  features: z.array(z.string()),
  verdicts: z.record(use, answer),
  licenseName: z.string().nullable(),
  /** When the first of its licenses ends. */
  licenseEndsOn: isoDay.nullable(),
  /** Whether a limit of its licenses is nearly used up or passed. */
  limit: z.enum(['near', 'over']).nullable(),
  /** Whether it is at a place whose use its licenses do not say yes to. */
  withoutRight: z.boolean(),
  /** Where its faces differ in what they may be used for: each group of them. `verdicts` is that of the leading face. */
  groups: z.array(z.object({ faceIds: z.array(id), licenseName: z.string().nullable(), verdicts: z.record(use, answer) })),
  places: z.array(z.string()),
  addedAt: isoTime,
  kind: kind.nullable(),
  /** 0 to 1; 1 where a person said it. */
  confidence: z.number(),
  axes: z.array(z.string()),
  color: z.boolean(),
  favorite: z.boolean(),
  archived: z.boolean(),
  labels: z.array(z.string()),
  note: z.string(),
  /** Names of the bundles its leading face came in. */
  sources: z.array(z.string()),
  /** Names of other families whose faces stand behind its own. */
  also: z.array(z.string()),
});
export type Family = z.infer<typeof family>;

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
  /** The families as they are now, of those that may look different; `gone` are the ids of those that are no more in the list. */
  changed: z.object({ runSets: z.array(z.string()), families: z.array(family), gone: z.array(id) }),
});
export type ChangeDone = z.infer<typeof changeDone>;

export const finding = z.object({
  code: z.string(),
  severity: z.enum(['blocks', 'fault', 'note']),
  message: z.string(),
  table: z.string().optional(),
});

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

/** One face and one use of it; `place` is null where it is nowhere installed. */
export const auditRow = z.object({
  faceId: id,
  family: z.string(),
  face: z.string(),
  use,
  place: z.string().nullable(),
  address: z.string().nullable(),
  since: isoTime.nullable(),
  by: z.string().nullable(),
  today: answer,
  onDay: answer,
  /** It is used somewhere, and the answer is, or on the chosen day will be, other than yes. */
  problem: z.boolean(),
  reason: z.string(),
  reasonOnDay: z.string(),
  license: z.string().nullable(),
  endsOn: isoDay.nullable(),
  duties: z.array(z.string()),
  remedy: z.string().nullable(),
  /** Reasons owners gave for going ahead without a right. */
  overrides: z.array(z.object({ person: z.string(), at: isoTime, note: z.string() })),
});
export type AuditRow = z.infer<typeof auditRow>;
export const audit = z.object({
  workspace: z.string(),
  madeAt: isoTime,
  today: isoDay,
  day: isoDay,
  problems: z.number().int(),
  rows: z.array(auditRow),
});
export type Audit = z.infer<typeof audit>;

export const install = z.object({
  id,
  faceId: id,
  face: z.string(),
  placeId: id,
  place: z.string(),
  format: z.enum(['ttf', 'otf', 'ttc', 'woff', 'woff2']),
  bytes: z.number().int(),
  version: z.string(),
  /** Where a person can look at it, else its name at the place. */
  address: z.string(),
  link: z.string().nullable(),
  installedAt: isoTime,
  installedBy: z.string(),
});
export type Install = z.infer<typeof install>;

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
      missingMarks: z.array(z.string()),
      missingRare: z.array(z.string()),
    }),
  ),
  scripts: z.array(z.object({ script: z.string(), name: z.string(), level: z.enum(['full', 'partial']) })),
  broken: z.array(z.object({ name: z.string(), sample: z.string() })),
  reach: z.object({ atLeast: z.number(), atMost: z.number(), officialIn: z.number() }),
});

/** A license that a text names without holding its words. */
export const mention = z.object({
  spdxId: z.string().nullable(),
  name: z.string(),
  sentence: z.string(),
  grants: z.boolean(),
  doubt: z.string().nullable(),
});
export type Mention = z.infer<typeof mention>;

/** What free-form terms seem to say, each beside its sentence; never more than a suggestion. */
export const termsReading = z.object({
  suggestions: z.array(
    z.object({ use, answer, limit: z.number().nullable(), sentence: z.string(), start: z.number().int(), confidence: z.number() }),
  ),
  duties: z.array(z.object({ sentence: z.string(), start: z.number().int() })),
  /** Whether it is English, the only language that is read. */
  english: z.boolean(),
});
export type TermsReading = z.infer<typeof termsReading>;

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

const placeSetting = z.object({
  id: z.enum(['address', 'key']),
  label: z.string(),
  kind: z.enum(['address', 'secret', 'folder']),
  hint: z.string(),
  example: z.string(),
});
export type PlaceSetting = z.infer<typeof placeSetting>;

/** A kind of place, and what a person enters for one. */
export const placeKind = z.object({
  id: z.string(),
  name: z.string(),
  article: z.string(),
  about: z.string(),
  settings: z.array(placeSetting),
});
export type PlaceKind = z.infer<typeof placeKind>;

export const place = z.object({
  id,
  name: z.string(),
  profileId: z.string(),
  profile: z.string(),
  address: z.string(),
  use,
  roles: z.array(z.object({ id: z.string(), label: z.string() })),
  settings: z.array(placeSetting),
  formats: z.array(targetFormat),
  maxBytes: z.number().int(),
  installs: z.array(install),
  version: z.number().int(),
});
export type Place = z.infer<typeof place>;

/** What would mend a finding: a conversion, or somewhere to go. */
export const remedy = z.object({
  id: z.string(),
  label: z.string(),
  goTo: z.enum(['license', 'library']).nullable(),
  /** The format that the conversion leads to. */
  convertTo: targetFormat.nullable(),
});

export const preflightFinding = z.object({
  code: z.string(),
  severity: z.enum(['stops', 'mended', 'ask', 'note']),
  message: z.string(),
  remedies: z.array(remedy),
  overridable: z.boolean(),
});

/** A face that somebody is about to hand over, with what must be known and said before. */
export const handover = z.object({
  faceId: id,
  face: z.string(),
  /** Verdicts of every use that handing it over is, the deciding one first. */
  verdicts: z.array(verdict),
  answer,
  /** Sentences that ask for attention: an end or a limit that is near. */
  notes: z.array(z.string()),
  statement: z.string(),
  overrideStatement: z.string(),
  licenseName: z.string().nullable(),
});
export type Handover = z.infer<typeof handover>;
export const kit = z.object({ id, faceIds: z.array(id), by: z.string(), createdAt: isoTime });

export const preflightFace = z.object({
  faceId: id,
  face: z.string(),
  findings: z.array(preflightFinding),
  clear: z.boolean(),
  /** Whether nothing but the missing right stops it, which an owner may override with a reason. */
  overridable: z.boolean(),
  /** What an owner who does so is asked to put their name to instead of the statement. */
  overrideStatement: z.string(),
  verdict,
  /** The exact words the person is asked to put their name to. */
  statement: z.string(),
  licenseName: z.string().nullable(),
  sending: z
    .object({
      format: z.enum(['ttf', 'otf', 'ttc', 'woff', 'woff2']),
      bytes: z.number().int(),
      fromBytes: z.number().int(),
      proof: z.string(),
    })
    .nullable(),
});
export type PreflightFace = z.infer<typeof preflightFace>;

export const delivery = z.object({
  id,
  placeId: id,
  place: z.string(),
  address: z.string(),
  state: z.enum(['queued', 'running', 'done', 'failed', 'cancelled']),
  jobId: id,
  createdAt: isoTime,
  by: z.string(),
  items: z.array(
    z.object({
      faceId: id,
      face: z.string(),
      state: z.enum(['waiting', 'installed', 'refused', 'unknown']),
      message: z.string(),
      bytes: z.number().int().nullable(),
      sha256: sha256.nullable(),
      statement: z.object({
        words: z.string(),
        person: z.string(),
        at: isoTime,
        answer,
        note: z.string(),
        /** Whether an owner went ahead although the answer was no; `note` says why. */
        overridden: z.boolean(),
        licenseName: z.string().nullable(),
      }),
    }),
  ),
});
export type Delivery = z.infer<typeof delivery>;

/** What an edition of a face is: its name, the languages (CLDR tags; none for all it has), the formats. */
export const editionRecipe = z.object({
  name: line(80),
  languages: z.array(z.string().max(35)).max(200),
  formats: z.array(targetFormat).min(1).max(4),
});
export type EditionRecipe = z.infer<typeof editionRecipe>;

/** Something made here, with its releases, the newest first. */
export const product = z.object({
  id,
  kind: z.string(),
  kindName: z.string(),
  name: z.string(),
  licenseId: id.nullable(),
  sources: z.array(z.object({ name: z.string(), faceId: id.nullable() })),
  releases: z.array(
    z.object({
      number: z.number().int(),
      recipe: editionRecipe,
      notes: z.string(),
      by: z.string(),
      at: isoTime,
      files: z.array(
        z.object({
          name: z.string(),
          format: z.enum(['ttf', 'otf', 'ttc', 'woff', 'woff2']),
          bytes: z.number().int(),
          sha256,
          fileId: id.nullable(),
          faceId: id.nullable(),
        }),
      ),
    }),
  ),
});
export type Product = z.infer<typeof product>;

export const deskItem = z.object({
  kind: z.enum([
    'bundle-waiting',
    'intake-running',
    'unknown-license',
    'suggested-license',
    'ending',
    'limit',
    'no-right',
    'not-sound',
    'refused',
    'ready',
    'begin',
  ]),
  message: z.string(),
  detail: z.string(),
  action: z.string(),
  to: z.string(),
});
export type DeskItem = z.infer<typeof deskItem>;
