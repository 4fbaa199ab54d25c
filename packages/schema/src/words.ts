import {
  KIND_WORDS,
  LICENSE_KINDS,
  LIMIT_KEYS,
  LIMITS,
  limitsOf,
  openLicense,
  STARTING_POINTS,
  USES,
  USE_WORDS,
} from '@orderly-glyph/core/rights';
import { z } from 'zod';

export { KIND_WORDS, LICENSE_KINDS, LIMIT_KEYS, LIMITS, limitsOf, openLicense, STARTING_POINTS, USES, USE_WORDS };

export const id = z.uuid();
export const isoDay = z.iso.date();
export const isoTime = z.iso.datetime();
export const role = z.enum(['owner', 'editor', 'viewer']);
export type Role = z.infer<typeof role>;
export const answer = z.enum(['yes', 'ask', 'no']);
export const use = z.enum(USES);
export const limit = z.enum(LIMIT_KEYS);
export const licenseKind = z.enum(LICENSE_KINDS);
export const format = z.enum(['ttf', 'otf', 'ttc', 'woff', 'woff2']);
export const targetFormat = z.enum(['ttf', 'otf', 'woff', 'woff2']);
export const sha256 = z.string().regex(/^[0-9a-f]{64}$/);
export const ok = z.object({ ok: z.literal(true) });
export const line = (max: number) => z.string().trim().min(1).max(max);

/** Every error answer: what happened, what it means, what to do. */
export const problem = z.object({ error: z.object({ code: z.string(), message: z.string(), field: z.string().optional() }) });
export type Problem = z.infer<typeof problem>;
