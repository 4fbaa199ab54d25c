import { z } from 'zod';
import { kind } from './order.js';
import { answer, format, id, isoDay, isoTime, use } from './words.js';

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
 * Families as they are now, of those that a change may have made look different, so that nobody loads the whole list again.
 * `runSets` as in the library; `gone` are the ids of those that are no more in the list.
 */
export const changedFamilies = z.object({ runSets: z.array(z.string()), families: z.array(family), gone: z.array(id) });
export type ChangedFamilies = z.infer<typeof changedFamilies>;
/** What a change answers that has nothing else to say. */
export const okChanged = z.object({ ok: z.literal(true), changed: changedFamilies });
