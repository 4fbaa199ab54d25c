import { isSure, KIND_LABELS, KINDS, sayLikeness } from '@orderly-glyph/core/kinds';
import { z } from 'zod';
import { format, line, use } from './words.js';

export { isSure, KIND_LABELS, KINDS, sayLikeness };
export const kind = z.enum(KINDS);

export const name = line(120);

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
