import { z } from 'zod';
import { format, id, isoDay, isoTime, line, prose, use } from './words.js';

/** Forms of a typeface, as the core computes them (`KINDS`). */
export const KINDS = ['serif', 'sans', 'handwriting', 'monospaced', 'symbols'] as const;
export const kind = z.enum(KINDS);
export type KindWord = z.infer<typeof kind>;
export const KIND_LABELS: Readonly<Record<KindWord, string>> = {
  serif: 'serif',
  sans: 'sans serif',
  handwriting: 'handwriting',
  monospaced: 'monospaced',
  symbols: 'symbols',
};
/** Below this confidence the kind is shown as not sure. The same number as the core's `SURE`. */
export const SURE = 0.75;

export const name = line(120);
const label = line(40);
export const color = z.object({
  name: z.string().trim().min(1).max(40),
  hex: z.string().regex(/^#[0-9a-f]{6}$/i, 'A color is written #RRGGBB'),
});
export type Color = z.infer<typeof color>;

/** What to keep of doubles; a person picks it once. */
export const keepRule = z.object({
  /** Containers in order of preference. */
  formats: z.array(format).min(1).max(5),
  versions: z.enum(['newest', 'all']),
  /** Of the same outlines under two names: the one whose license is known, the one here longest, or both. */
  names: z.enum(['licensed', 'oldest', 'all']),
});
export type KeepRule = z.infer<typeof keepRule>;
export const KEEP_RULE: KeepRule = { formats: ['otf', 'ttf', 'ttc', 'woff2', 'woff'], versions: 'newest', names: 'licensed' };

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
  removed: z.object({ files: z.number().int(), bytes: z.number() }),
  /** Bytes free on the disk the server's data is on. */
  free: z.number().nullable(),
  families: z.number().int(),
  faces: z.number().int(),
  neverUsed: z.array(z.object({ faceId: id, face: z.string(), bytes: z.number(), addedAt: isoTime })),
});
export type Storage = z.infer<typeof storage>;

export const repair = z.object({
  field: z.enum(['family', 'style', 'weight', 'width', 'slope']),
  found: z.string(),
  used: z.string(),
  reason: z.string(),
});

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
  marks: z.array(z.object({ character: z.string(), codePoint: z.string(), name: z.string() })),
  /** How the script's shaping fails, when its letters are there. */
  failure: z.string().nullable(),
});
export type LanguageNeeds = z.infer<typeof languageNeeds>;

/** What a proof sheet shows. */
export const proofPlan = z.object({
  faceIds: z.array(id).min(1).max(20),
  title: line(160),
  text: prose(2000),
  parts: z.array(z.enum(['alphabet', 'sizes', 'languages', 'paragraph'])).max(4),
  ink: z.string().regex(/^#[0-9a-f]{6}$/i),
  paper: z.string().regex(/^#[0-9a-f]{6}$/i),
});
export type ProofPlan = z.infer<typeof proofPlan>;
export const proofSheet = z.object({
  id,
  title: z.string(),
  plan: proofPlan,
  endsOn: isoDay,
  ended: z.boolean(),
  /** Path of the public page, with its secret. */
  path: z.string(),
  by: z.string(),
  createdAt: isoTime,
});
export type ProofSheet = z.infer<typeof proofSheet>;

/** What the sentence over the library asks for; empty means any. */
export const wanted = z.object({
  q: z.string().max(200).default(''),
  kind: z.union([kind, z.literal('')]).default(''),
  weight: z.enum(['', 'light', 'regular', 'medium', 'bold']).default(''),
  width: z.enum(['', 'narrow', 'normal', 'wide']).default(''),
  slope: z.enum(['', 'upright', 'slanted']).default(''),
  writes: z.array(z.string().max(35)).max(40).default([]),
  script: z.string().max(4).default(''),
  use: z.union([use, z.literal('')]).default(''),
  format: z.union([format, z.literal('')]).default(''),
  features: z.array(z.string().max(4)).max(20).default([]),
  axis: z.string().max(4).default(''),
  color: z.enum(['', 'yes', 'no']).default(''),
  place: z.string().max(200).default(''),
  label: z.string().max(40).default(''),
  collection: z.string().max(36).default(''),
  from: z.string().max(300).default(''),
  since: z.string().max(10).default(''),
  shelf: z.enum(['', 'favorites', 'archived']).default(''),
});
export type Wanted = z.infer<typeof wanted>;
