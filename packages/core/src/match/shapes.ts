import type { Face } from '../font/index.js';
import { FlattenPen, rasterize, type Polygon } from '../outline/index.js';
import { FontError, Reader, Writer } from '../sfnt/index.js';

/*
 * What a picture's letters are compared with: small rasters and boxes of a face's letters to look through all faces quickly, and
 * their outlines, quantised, to draw the nearest ones again. About 20 KB a face.
 */

/** Cells of a letter's raster, across and up. */
export const CELLS = 16;
/** Lengths are in thousandths of the em. */
const EM = 1000;
/** Outlines are followed to this, thousandths of the em: a third of a px at 80 px a capital. */
const TOLERANCE = 2.5;
const FORMAT = 1;

const BASIC = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789&!?';
/** Letters of further scripts, each taken where a face has it. */
const FURTHER = [
  'абвгґдеєжзиіїйклмнопрстуфхцчшщъыьэюяАБВГҐДЕЄЖЗИІЇЙКЛМНОПРСТУФХЦЧШЩЪЫЬЭЮЯ',
  'αβγδεζηθικλμνξοπρστυφχψωςΑΒΓΔΕΖΗΘΙΚΛΜΝΞΟΠΡΣΤΥΦΧΨΩ',
  'אבגדהוזחטיכךלמםנןסעפףצץקרשת',
  'ابتثجحخدذرزسشصضطظعغفقكلمنهوي',
  'अआइईउऊएऐओऔकखगघचछजझटठडढणतथदधनपफबभमयरलवशषसह',
];
/** Letters of one face at most. */
const MOST = 200;
/** Points of one letter at most; what has more is drawn too finely to be told from others by its edge. */
const MOST_POINTS = 1500;

/** One letter of a face. Lengths in thousandths of the em, y up. */
export interface ShapeLetter {
  codePoint: number;
  advance: number;
  xMin: number;
  yMin: number;
  width: number;
  height: number;
  /** Ink of each cell of its box, 0 to 15, two cells a byte, row by row from the bottom. */
  raster: Uint8Array;
  polygons(): Polygon[];
}

export interface FaceShapes {
  letters: ReadonlyMap<number, ShapeLetter>;
}

/**
 * What a face's letters look like, as bytes; null for a face with no letter that could be looked for.
 * @throws FontError when the face cannot be read
 */
export function encodeShapes(face: Face): Uint8Array | null {
  const cmap = face.characters;
  if (!cmap || !face.outlines()) return null;
  const { advances } = face;
  const scale = EM / (face.unitsPerEm || EM);
  const rows: { codePoint: number; advance: number; box: [number, number, number, number]; raster: Uint8Array; outline: Uint8Array }[] = [];
  const known = new Map<number, number>();
  for (const character of [...BASIC, ...FURTHER.join('')]) {
    if (rows.length >= MOST) break;
    const codePoint = character.codePointAt(0)!;
    const glyph = face.glyphOf(codePoint);
    // Faces that write small letters with their capitals have each shape once.
    if (glyph === 0) continue;
    const same = known.get(glyph);
    if (same !== undefined) {
      rows.push({ ...rows[same]!, codePoint });
      continue;
    }
    const pen = new FlattenPen(TOLERANCE / 2 / scale);
    try {
      if (!face.draw(glyph, pen)) continue;
    } catch (error) {
      if (error instanceof FontError) continue;
      throw error;
    }
    pen.closePath();
    const polygons = thinned(pen.polygons, scale);
    let [xMin, yMin, xMax, yMax] = [Infinity, Infinity, -Infinity, -Infinity];
    let points = 0;
    for (const p of polygons) {
      points += p.length / 2;
      for (let i = 0; i < p.length; i += 2) {
        xMin = Math.min(xMin, p[i]!);
        xMax = Math.max(xMax, p[i]!);
        yMin = Math.min(yMin, p[i + 1]!);
        yMax = Math.max(yMax, p[i + 1]!);
      }
    }
    if (!(xMax > xMin && yMax > yMin) || points > MOST_POINTS || Math.max(xMax - xMin, yMax - yMin) > 8 * EM) continue;
    known.set(glyph, rows.length);
    rows.push({
      codePoint,
      advance: Math.round((advances?.advanceWidth(glyph) ?? face.unitsPerEm) * scale),
      box: [xMin, yMin, xMax - xMin, yMax - yMin],
      raster: packed(rasterize(polygons, { xMin, yMin, xMax, yMax }, CELLS, CELLS)),
      outline: outlineBytes(polygons, xMin, yMin),
    });
  }
  if (rows.length === 0) return null;
  const w = new Writer(rows.length * 320);
  w.u8(FORMAT);
  w.u16(rows.length);
  for (const { codePoint, advance, box, raster, outline } of rows) {
    w.u32(codePoint);
    for (const v of [advance, ...box]) w.u16(Math.max(-0x8000, Math.min(0x7fff, v)) & 0xffff);
    w.u16(outline.length);
    w.put(raster);
    w.put(outline);
  }
  return w.done();
}

/** Polygons in whole thousandths of the em, without points that lie on the way between their neighbors. */
function thinned(polygons: readonly Polygon[], scale: number): Polygon[] {
  return polygons.flatMap((p) => {
    const out: number[] = [];
    for (let i = 0; i < p.length; i += 2) {
      const [x, y] = [Math.round(p[i]! * scale), Math.round(p[i + 1]! * scale)];
      if (out.length >= 2 && out[out.length - 2] === x && out[out.length - 1] === y) continue;
      if (out.length >= 4) {
        const [ax, ay, bx, by] = out.slice(-4) as [number, number, number, number];
        const cross = (bx - ax) * (y - ay) - (by - ay) * (x - ax);
        const way = Math.hypot(x - ax, y - ay);
        if (Math.abs(cross) <= 0.7 * way && (bx - ax) * (x - bx) + (by - ay) * (y - by) >= 0) out.length -= 2;
      }
      out.push(x, y);
    }
    return out.length >= 6 ? [out] : [];
  });
}

function packed(cells: Float32Array): Uint8Array {
  const out = new Uint8Array(cells.length / 2);
  for (let i = 0; i < out.length; i++) out[i] = (Math.round(cells[2 * i]! * 15) << 4) | Math.round(cells[2 * i + 1]! * 15);
  return out;
}

/** Points as steps from one to the next, each number zigzag in bytes of seven bits. */
function outlineBytes(polygons: readonly Polygon[], x0: number, y0: number): Uint8Array {
  const w = new Writer(64);
  const put = (v: number): void => {
    let n = v >= 0 ? 2 * v : -2 * v - 1;
    for (; n > 127; n >>>= 7) w.u8((n & 127) | 128);
    w.u8(n);
  };
  put(polygons.length);
  let [x, y] = [x0, y0];
  for (const p of polygons) {
    put(p.length / 2);
    for (let i = 0; i < p.length; i += 2) {
      put(p[i]! - x);
      put(p[i + 1]! - y);
      [x, y] = [p[i]!, p[i + 1]!];
    }
  }
  return w.done();
}

/**
 * Polygons out of their bytes.
 * @throws FontError when they are damaged
 */
function polygonsFrom(bytes: Uint8Array, x0: number, y0: number): Polygon[] {
  let at = 0;
  const next = (): number => {
    let n = 0;
    for (let shift = 0; shift < 28; shift += 7) {
      if (at >= bytes.length) throw damaged();
      const b = bytes[at++]!;
      n |= (b & 127) << shift;
      if (b < 128) break;
    }
    return n & 1 ? -((n + 1) >> 1) : n >> 1;
  };
  const count = next();
  let [x, y] = [x0, y0];
  return Array.from({ length: Math.max(0, Math.min(count, bytes.length)) }, () => {
    const points = next();
    if (points < 0 || points > bytes.length) throw damaged();
    const p: Polygon = [];
    for (let i = 0; i < points; i++) {
      x += next();
      y += next();
      p.push(x, y);
    }
    return p;
  });
}
const damaged = (): FontError => new FontError('bad-table', 'What was kept of the shapes of a face is damaged.');

/**
 * Opens what `encodeShapes` wrote.
 * @throws FontError when it is damaged, or of another version
 */
export function decodeShapes(bytes: Uint8Array): FaceShapes {
  const r = new Reader(bytes, 'shapes');
  if (r.u8(0) !== FORMAT) throw damaged();
  const letters = new Map<number, ShapeLetter>();
  let at = 3;
  for (let i = 0; i < r.u16(1); i++) {
    const length = r.u16(at + 14);
    const raster = r.slice(at + 16, (CELLS * CELLS) / 2);
    const outline = r.slice(at + 16 + (CELLS * CELLS) / 2, length);
    const [xMin, yMin] = [r.i16(at + 6), r.i16(at + 8)];
    const codePoint = r.u32(at);
    letters.set(codePoint, {
      codePoint,
      advance: r.i16(at + 4),
      xMin,
      yMin,
      width: r.i16(at + 10),
      height: r.i16(at + 12),
      raster,
      polygons: () => polygonsFrom(outline, xMin, yMin),
    });
    at += 16 + (CELLS * CELLS) / 2 + length;
  }
  return { letters };
}
