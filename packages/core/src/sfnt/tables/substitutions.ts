import { expectFontError } from '../errors.js';
import { Reader } from '../reader.js';

/** One way in which a feature puts a glyph in the place of others. `value` counts the choices of an alternate from 1. */
export interface Substitution {
  feature: string;
  from: number[];
  to: number;
  value: number;
}

const SINGLE = 1;
const ALTERNATE = 3;
const LIGATURE = 4;
const EXTENSION = 7;
/** A bound against tables that list more than any real font does. */
const MOST = 200_000;

/**
 * Single, alternate and ligature substitutions of every feature, without contexts: the ways in which a person can call
 * a glyph up by switching a feature on. A damaged part ends the list early.
 * Source: OpenType specification, GSUB, lookup types 1, 3, 4 and 7.
 */
export function readSubstitutions(gsub: Uint8Array): Substitution[] {
  const out: Substitution[] = [];
  try {
    collect(new Reader(gsub, 'GSUB'), out);
  } catch (error) {
    expectFontError(error);
  }
  return out;
}

function collect(r: Reader, out: Substitution[]): void {
  const features = r.u16(6);
  const lookups = r.u16(8);
  const done = new Set<string>();
  for (let f = 0; f < r.u16(features); f++) {
    const tag = r.tag(features + 2 + 6 * f);
    const feature = features + r.u16(features + 6 + 6 * f);
    for (let i = 0; i < r.u16(feature + 2); i++) {
      const index = r.u16(feature + 4 + 2 * i);
      if (done.has(`${tag}/${index}`)) continue;
      done.add(`${tag}/${index}`);
      const lookup = lookups + r.u16(lookups + 2 + 2 * index);
      for (let s = 0; s < r.u16(lookup + 4); s++) {
        let at = lookup + r.u16(lookup + 6 + 2 * s);
        let type = r.u16(lookup);
        if (type === EXTENSION) {
          type = r.u16(at + 2);
          at += r.u32(at + 4);
        }
        readSubtable(r, at, type, tag, out);
        if (out.length > MOST) return;
      }
    }
  }
}

function readSubtable(r: Reader, at: number, type: number, feature: string, out: Substitution[]): void {
  if (type !== SINGLE && type !== ALTERNATE && type !== LIGATURE) return;
  const format = r.u16(at);
  const covered = coverage(r, at + r.u16(at + 2));
  covered.forEach((glyph, i) => {
    if (type === SINGLE) {
      const to = format === 1 ? (glyph + r.i16(at + 4)) & 0xffff : r.u16(at + 6 + 2 * i);
      out.push({ feature, from: [glyph], to, value: 1 });
    } else if (type === ALTERNATE) {
      const set = at + r.u16(at + 6 + 2 * i);
      for (let a = 0; a < r.u16(set); a++) out.push({ feature, from: [glyph], to: r.u16(set + 2 + 2 * a), value: a + 1 });
    } else {
      const set = at + r.u16(at + 6 + 2 * i);
      for (let l = 0; l < r.u16(set); l++) {
        const ligature = set + r.u16(set + 2 + 2 * l);
        const parts = r.u16(ligature + 2);
        const from = [glyph];
        for (let p = 0; p < parts - 1; p++) from.push(r.u16(ligature + 4 + 2 * p));
        out.push({ feature, from, to: r.u16(ligature), value: 1 });
      }
    }
  });
}

/** Glyphs of a Coverage table in its order. Source: OpenType specification, chapter 2. */
function coverage(r: Reader, at: number): number[] {
  const count = r.u16(at + 2);
  if (r.u16(at) === 1) return Array.from({ length: count }, (_, i) => r.u16(at + 4 + 2 * i));
  const out: number[] = [];
  for (let i = 0; i < count && out.length < 65536; i++) for (let g = r.u16(at + 4 + 6 * i); g <= r.u16(at + 6 + 6 * i); g++) out.push(g);
  return out;
}
