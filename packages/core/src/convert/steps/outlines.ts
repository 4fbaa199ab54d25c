import { profileOf, type Face } from '../../font/index.js';
import {
  BoundsPen,
  CharStringPen,
  ContourPen,
  cubicContour,
  drawContour,
  drawQuadratic,
  drawQuick,
  GlyfPen,
  ReversePen,
  shareSubroutines,
  type Pen,
  type SharedPrograms,
} from '../../outline/index.js';
import {
  CFF,
  DICT,
  FLAVOR_CFF,
  FLAVOR_TRUETYPE,
  FontError,
  GASP,
  HEAD,
  HMTX,
  LOCA,
  locaFormatFor,
  MAXP,
  POST,
  writeGlyphs,
  writeSfnt,
  type Cff,
  type Glyph,
  type SfntFont,
} from '../../sfnt/index.js';
import { Changed, otherDifferences, PREP, putMetrics, type Box } from '../changed.js';
import { outlineDistance } from '../compare.js';
import { compareAtPlaces } from '../places.js';
import type { Comparison, Options, Step } from '../step.js';
import { variableTrueType } from './vary.js';

/** Farthest that new outlines may be from the old ones when nothing else is asked: thousandths of the em. */
export const USUAL_TOLERANCE = 0.5;
const MOST_TOLERANCE = 10;
/** Half a unit each way, which whole coordinates cost. */
const ROUNDING = Math.SQRT1_2 + 0.01;

/** What whole deltas cost besides: half a unit for each region that counts at a place. */
const VARIED = 2;

/** Tables that only fit one kind of outlines, with what makes them and what instructs them. */
const OF_CFF = ['CFF ', 'VORG'];
const OF_GLYF = ['glyf', 'loca', 'gvar', 'cvt ', 'fpgm', 'prep', 'gasp', 'hdmx', 'LTSH', 'VDMX'];

/** Turns outlines of cubic curves (CFF) into quadratic ones (TrueType), or the other way round. */
export const OUTLINES: Step = {
  id: 'outlines',
  version: 3,
  change: 'outlines',
  label: ({ to }) => (to === 'glyf' ? 'given TrueType outlines' : 'given CFF outlines'),
  needs(state, accepts) {
    // A variable face is made static first, and outlines are only changed where a place takes no file as they are.
    if (state.variable || state.outlines === 'none' || state.outlines === 'CFF2') return [];
    const to = state.outlines === 'glyf' ? 'CFF' : 'glyf';
    const format = to === 'glyf' ? 'ttf' : 'otf';
    if (!accepts.formats.includes(format)) return [];
    return [{ options: { to }, after: { ...state, outlines: to, format } }];
  },
  run({ face }, options) {
    const to = options.to === 'CFF' ? 'CFF' : 'glyf';
    if (face.has('fvar') && !(face.outlineKind === 'CFF2' && to === 'glyf'))
      throw new FontError(
        'outline-conversion',
        'This face is variable. Choose one of its instances first; that can then have other outlines.',
      );
    if (face.outlineKind === 'none') throw new FontError('outline-conversion', 'This face has no outlines that could be converted.');
    if (face.outlineKind === to || (face.outlineKind === 'CFF2' && to === 'CFF'))
      throw new FontError('outline-conversion', `This face has ${to === 'glyf' ? 'TrueType' : 'CFF'} outlines already.`);
    const tolerance = (toleranceOf(options) * face.unitsPerEm) / 1000;
    if (face.has('fvar')) return writeSfnt(variableTrueType(face, tolerance));
    return writeSfnt(to === 'glyf' ? toTrueType(face, tolerance, options.quick === true) : toCff(face, tolerance, options.share !== false));
  },
  prove: (before, after, options) => proveOutlines(before, after, options),
};

/**
 * Thousandths of the em.
 * @throws FontError when it is none that makes sense
 */
export function toleranceOf(options: Options): number {
  const tolerance = options.tolerance === undefined ? USUAL_TOLERANCE : Number(options.tolerance);
  if (!(tolerance >= 0.05 && tolerance <= MOST_TOLERANCE))
    throw new FontError('does-not-fit', `A tolerance lies between 0.05 and ${MOST_TOLERANCE} thousandths of the em.`);
  return tolerance;
}

/** Each glyph of a face drawn; one that is damaged becomes an empty one of the same width. */
function drawInto(face: Face, glyph: number, pen: Pen): void {
  const contours = new ContourPen();
  if (!face.draw(glyph, contours)) return;
  contours.closePath();
  for (const contour of contours.contours) drawContour(contour, pen);
}

function toTrueType(face: Face, tolerance: number, quick: boolean): SfntFont {
  const out = new Changed(face, [...OF_CFF, 'CFF2', ...OF_GLYF]);
  const glyphs: Glyph[] = [];
  for (let id = 0; id < face.glyphCount; id++) {
    const contours = new ContourPen();
    // Filled contours run clockwise in TrueType, and the other way in CFF.
    drawInto(face, id, new ReversePen(contours));
    contours.closePath();
    const pen = new GlyfPen();
    for (const contour of contours.contours) (quick ? drawQuick : drawQuadratic)(contour, pen, tolerance);
    glyphs.push(pen.glyph());
  }
  const { glyf, offsets } = writeGlyphs(glyphs);
  putMetrics(out, face, glyphs, locaFormatFor(offsets));
  out.put(MAXP, { ...profileOf(glyphs, 'glyf'), maxStackElements: 1 });
  const post = face.table(POST);
  const names = namesOf(face);
  if (post) out.put(POST, { ...post, version: names ? 0x00020000 : 0x00030000, glyphNames: names });
  out.tables.set('glyf', glyf);
  out.put(LOCA, offsets);
  out.put(GASP, { version: 1, gaspRanges: [{ rangeMaxPPEM: 0xffff, rangeGaspBehavior: 0x000a }] });
  out.tables.set('prep', PREP);
  return { flavor: FLAVOR_TRUETYPE, tables: out.tables, faults: [] };
}

/** Names of glyphs as a CFF table has them; null in fonts that are keyed by numbers. */
function namesOf(face: Face): string[] | null {
  if (!face.has('CFF ')) return null;
  const { charset } = face.need(CFF);
  return charset.every((name) => typeof name === 'string') && charset.length === face.glyphCount ? (charset as string[]) : null;
}

function toCff(face: Face, tolerance: number, share: boolean): SfntFont {
  const out = new Changed(face, [...OF_GLYF, ...OF_CFF]);
  const { advances } = face.need(HMTX);
  // The width that most glyphs have is not written with each of them.
  const counts = new Map<number, number>();
  for (const a of advances) counts.set(a, (counts.get(a) ?? 0) + 1);
  const usual = [...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]?.[0] ?? 0;
  const others = [...advances].filter((a) => a !== usual).sort((a, b) => a - b);
  const nominal = others[others.length >> 1] ?? usual;
  const boxes: (Box | null)[] = [];
  const charStrings: Uint8Array[] = [];
  for (let id = 0; id < face.glyphCount; id++) {
    const contours = new ContourPen();
    drawInto(face, id, new ReversePen(contours));
    contours.closePath();
    const pen = new CharStringPen(advances[id] === usual ? null : advances[id]! - nominal);
    const bounds = new BoundsPen();
    for (const contour of contours.contours) {
      const cubic = cubicContour(contour, tolerance);
      drawContour(cubic, pen);
      drawContour(cubic, bounds);
    }
    const b = bounds.bounds;
    boxes.push(b && { xMin: Math.floor(b.xMin), yMin: Math.floor(b.yMin), xMax: Math.ceil(b.xMax), yMax: Math.ceil(b.yMax) });
    charStrings.push(pen.charString());
  }
  putMetrics(out, face, boxes, 0);
  out.put(
    MAXP,
    profileOf(
      boxes.map(() => null),
      'CFF',
    ),
  );
  const post = face.table(POST);
  if (post) out.put(POST, { ...post, version: 0x00030000, glyphNames: null });
  const programs = share ? shareSubroutines(charStrings) : { charStrings, globalSubrs: [], localSubrs: [] };
  out.put(CFF, cffOf(face, programs, out.need(HEAD), usual, nominal));
  return { flavor: FLAVOR_CFF, tables: out.tables, faults: [] };
}

function cffOf(
  face: Face,
  { charStrings, globalSubrs, localSubrs }: SharedPrograms,
  box: Box,
  defaultWidth: number,
  nominalWidth: number,
): Cff {
  const texts = new Map<number, string>();
  for (const [operator, id] of [
    [DICT.Notice, 7],
    [DICT.Copyright, 0],
    [DICT.FullName, 4],
    [DICT.FamilyName, 1],
  ] as const) {
    const text = face.name(id);
    if (text && /^[\x20-\x7e]+$/.test(text)) texts.set(operator, text);
  }
  const em = face.unitsPerEm;
  return {
    majorVersion: 1,
    minorVersion: 0,
    name: (face.name(6) ?? 'Unnamed').replace(/[^\x21-\x7e]|[[\](){}<>/%]/g, '').slice(0, 63) || 'Unnamed',
    topDict: new Map<number, number[]>([
      [DICT.FontBBox, [box.xMin, box.yMin, box.xMax, box.yMax]],
      ...(em === 1000 ? [] : ([[DICT.FontMatrix, [1 / em, 0, 0, 1 / em, 0, 0]]] as [number, number[]][])),
    ]),
    texts,
    ros: null,
    charset: charsetOf(face),
    encoding: 0,
    globalSubrs,
    charStrings,
    fontDicts: [
      {
        dict: new Map(),
        privateDict: {
          dict: new Map([
            [DICT.defaultWidthX, [defaultWidth]],
            [DICT.nominalWidthX, [nominalWidth]],
          ]),
          subrs: localSubrs,
        },
      },
    ],
    fdSelect: null,
  };
}

const NAME_OF_GLYPH = /^[A-Za-z_.][A-Za-z0-9._-]{0,62}$/;

/** A name for each glyph, none twice: those of post, then by character (Adobe Glyph List, "uni" names), then by number. */
function charsetOf(face: Face): string[] {
  const given = face.table(POST)?.glyphNames ?? null;
  const texts = face.textOfGlyphs();
  const taken = new Set<string>(['.notdef']);
  return Array.from({ length: face.glyphCount }, (_, id) => {
    if (id === 0) return '.notdef';
    const c = texts.get(id)?.codePointAt(0);
    const hex = c?.toString(16).toUpperCase();
    const choices = [
      given?.[id],
      hex && (hex.length > 4 ? `u${hex}` : `uni${hex.padStart(4, '0')}`),
      `glyph${String(id).padStart(5, '0')}`,
    ];
    const name = choices.find((n) => n && NAME_OF_GLYPH.test(n) && !taken.has(n)) ?? `glyph.${id}`;
    taken.add(name);
    return name;
  });
}

/** Tables that other outlines leave byte for byte as they were. */
const MAY_DIFFER: ReadonlySet<string> = new Set([...OF_CFF, 'CFF2', ...OF_GLYF, 'head', 'hhea', 'hmtx', 'maxp', 'post', 'DSIG']);

/** Shows that outlines are where they were within the tolerance, and that advances, characters, features and names are the same. */
function proveOutlines(before: Face, after: Face, options: Options): Comparison {
  const differences = otherDifferences(before, after, MAY_DIFFER);
  const tolerance = (toleranceOf(options) * before.unitsPerEm) / 1000;
  if (before.has('fvar')) {
    const found = compareAtPlaces(before, after, tolerance + VARIED);
    differences.push(...found.differences);
    const { farthest, worstGlyph, glyphsCompared } = found;
    return { equal: differences.length === 0, differences, glyphsCompared, farthest, worstGlyph };
  }
  // Fitted splines are measured with their rounding; others in whole units may be half a unit off each way besides.
  const limit = options.to === 'CFF' || options.quick ? tolerance + ROUNDING : tolerance * 1.2;
  const { farthest, worstGlyph, glyphsCompared, lost } = outlineDistance(before, after, before.glyphCount, before.unitsPerEm);
  if (lost.length > 0)
    differences.push(
      `${lost.length === 1 ? 'A glyph is' : `${lost.length} glyphs are`} not drawn in both: ${lost.slice(0, 6).join(', ')}.`,
    );
  if (farthest > limit) differences.push(`The outline of glyph ${worstGlyph} is ${farthest.toFixed(2)} units from where it was.`);
  return { equal: differences.length === 0, differences, glyphsCompared, farthest, worstGlyph };
}
