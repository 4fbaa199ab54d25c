import './no-eval.js';
import {
  KIND_WORDS,
  LICENSE_KINDS,
  LIMIT_KEYS,
  LIMITS,
  limitsOf,
  openLicense,
  sayDay,
  STARTING_POINTS,
  USES,
  USE_WORDS,
} from '@orderly-glyph/core/rights';
import { z } from 'zod';

export { KIND_WORDS, LICENSE_KINDS, LIMIT_KEYS, LIMITS, limitsOf, openLicense, sayDay, STARTING_POINTS, USES, USE_WORDS };

export const id = z.uuid();
export const isoDay = z.iso.date();
export const isoTime = z.iso.datetime();
export const role = z.enum(['owner', 'editor', 'viewer']);
export type Role = z.infer<typeof role>;
export const answer = z.enum(['yes', 'ask', 'no']);
export const use = z.enum(USES);
export const limit = z.enum(LIMIT_KEYS);
export const licenseKind = z.enum(LICENSE_KINDS);
export const format = z.enum(['ttf', 'otf', 'ttc', 'woff', 'woff2', 'eot', 'svg']);
export const targetFormat = z.enum(['ttf', 'otf', 'woff', 'woff2']);
export const sha256 = z.string().regex(/^[0-9a-f]{64}$/);
export const ok = z.object({ ok: z.literal(true) });
/** An IANA time zone that this runtime knows. */
export const timeZone = z
  .string()
  .max(60)
  .refine((zone) => {
    try {
      new Intl.DateTimeFormat('en', { timeZone: zone });
      return true;
    } catch {
      return false;
    }
  }, 'This is no time zone');
/** Half of a character beyond the first plane stands for nothing and breaks files it is written into. */
export const whole = (text: string): boolean => !/[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/.test(text);
const HALF = 'It holds half a character; type it again';
export const line = (max: number) => z.string().trim().min(1).max(max).refine(whole, HALF);
export const prose = (max: number) => z.string().trim().max(max).refine(whole, HALF);

/** Every error answer: what happened, what it means, what to do. */
export const problem = z.object({ error: z.object({ code: z.string(), message: z.string(), field: z.string().optional() }) });
export type Problem = z.infer<typeof problem>;
