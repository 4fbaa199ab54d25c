import type { Face } from '../../font/index.js';
import {
  areaOf,
  BoundsPen,
  CharStringPen,
  ContourPen,
  drawContour,
  drawQuadratic,
  GlyfPen,
  reversed,
  sameInk,
  type Contour,
} from '../../outline/index.js';
import {
  ARGS_ARE_XY_VALUES,
  CFF,
  DICT,
  FontError,
  GLYF,
  HEAD,
  HMTX,
  LOCA,
  locaFormatFor,
  MAXP,
  operand,
  writeGlyphs,
  writeSfnt,
  type Glyph,
} from '../../sfnt/index.js';
import { Changed, otherDifferences, putMetrics, type Box } from '../changed.js';
import { outlineDistance } from '../compare.js';
import type { Comparison, Step } from '../step.js';

/** How far curves that were cut at a crossing may move, thousandths of the em. */
const TOLERANCE = 0.25;
/** Areas that differ by less, in square thousandths of the em, are the same. */
const SAME_AREA = 30;

/** Makes one outline of contours that overlap, glyph by glyph; glyphs without any stay byte for byte as they are. */
export const OVERLAPS: Step = {
  id: 'overlaps',
  version: 1,
  change: 'outlines',
  label: () => 'given outlines that do not overlap',
  // Nobody refuses overlapping outlines; it is asked for.
  needs: () => [],
  run({ face }, _options, { paths }) {
    if (!paths) throw new FontError('unsupported', 'Overlaps cannot be removed here.');
    if (face.has('fvar'))
      throw new FontError(
        'outline-conversion',
        'This face is variable, and its outlines overlap on purpose. Choose one of its instances first.',
      );
    if (face.outlineKind !== 'glyf' && face.outlineKind !== 'CFF')
      throw new FontError('outline-conversion', 'This face has no outlines whose overlaps could be removed.');
    const united = new Map<number, Contour[]>();
    for (let glyph = 0; glyph < face.glyphCount; glyph++) {
      const contours = contoursOf(face, glyph);
      if (!contours || contours.length === 0) continue;
      const whole = paths.unite(contours, face.unitsPerEm);
      if (whole && overlapped(contours, whole, face.unitsPerEm)) united.set(glyph, whole);
    }
    if (united.size === 0) return writeSfnt(face.font);
    return face.outlineKind === 'glyf' ? inGlyf(face, united) : inCff(face, united);
  },
  prove: proveInk,
};

function contoursOf(face: Face, glyph: number): Contour[] | null {
  const pen = new ContourPen();
  if (!face.draw(glyph, pen)) return null;
  pen.closePath();
  return pen.contours;
}

/** Where nothing overlaps, areas with their signs add up to the ink, and no contour is cut. */
function overlapped(contours: readonly Contour[], united: readonly Contour[], em: number): boolean {
  const area = (list: readonly Contour[]): number => list.reduce((sum, c) => sum + areaOf(c), 0);
  return Math.abs(Math.abs(area(contours)) - area(united)) > SAME_AREA * (em / 1000) ** 2 || contours.length !== united.length;
}

function inGlyf(face: Face, united: ReadonlyMap<number, readonly Contour[]>): Uint8Array {
  const out = new Changed(face, []);
  const glyphs = [...face.need(GLYF)];
  const fresh = (contours: readonly Contour[]): Glyph => {
    const pen = new GlyfPen();
    for (const contour of contours) drawQuadratic(contour, pen, (TOLERANCE * face.unitsPerEm) / 1000);
    return pen.glyph();
  };
  for (const [glyph, contours] of united) glyphs[glyph] = fresh(contours.map(reversed));
  // Parts that are placed by the numbers of points would slip where those points are others now.
  glyphs.forEach((glyph, id) => {
    if (glyph?.kind !== 'composite' || glyph.components.every((c) => c.flags & ARGS_ARE_XY_VALUES)) return;
    if (!glyph.components.some((c) => united.has(c.glyphIndex))) return;
    const contours = contoursOf(face, id);
    if (contours) glyphs[id] = fresh(contours);
  });
  const { glyf, offsets } = writeGlyphs(glyphs);
  const boxes = glyphs.map((g, id): Box | null => (g?.kind === 'composite' ? boxOf(face, id) : g));
  putMetrics(out, face, boxes, locaFormatFor(offsets));
  const simple = glyphs.filter((g) => g?.kind === 'simple');
  const maxp = face.need(MAXP);
  out.put(MAXP, {
    ...maxp,
    maxPoints: simple.reduce((most, g) => Math.max(most, g.x.length), 0),
    maxContours: simple.reduce((most, g) => Math.max(most, g.endPtsOfContours.length), 0),
  });
  out.tables.set('glyf', glyf);
  out.put(LOCA, offsets);
  return writeSfnt({ ...face.font, tables: out.tables, faults: [] });
}

function boxOf(face: Face, glyph: number): Box | null {
  const pen = new BoundsPen();
  face.draw(glyph, pen);
  const b = pen.bounds;
  return b && { xMin: Math.floor(b.xMin), yMin: Math.floor(b.yMin), xMax: Math.ceil(b.xMax), yMax: Math.ceil(b.yMax) };
}

function inCff(face: Face, united: ReadonlyMap<number, readonly Contour[]>): Uint8Array {
  const out = new Changed(face, []);
  const cff = face.need(CFF);
  const { advances } = face.need(HMTX);
  const charStrings = cff.charStrings.slice();
  const boxes = Array.from({ length: face.glyphCount }, (_, glyph) => boxOf(face, glyph));
  for (const [glyph, contours] of united) {
    const dict = cff.fontDicts[cff.fdSelect?.[glyph] ?? 0]?.privateDict?.dict;
    const usual = (dict && operand(dict, DICT.defaultWidthX)) ?? 0;
    const nominal = (dict && operand(dict, DICT.nominalWidthX)) ?? 0;
    const pen = new CharStringPen(advances[glyph] === usual ? null : advances[glyph]! - nominal);
    for (const contour of contours) drawContour(contour, pen);
    charStrings[glyph] = pen.charString();
  }
  putMetrics(out, face, boxes, face.need(HEAD).indexToLocFormat);
  out.put(CFF, { ...cff, charStrings });
  return writeSfnt({ ...face.font, tables: out.tables, faults: [] });
}

/** Tables that may differ; every other stays byte for byte. */
const MAY_DIFFER: ReadonlySet<string> = new Set(['glyf', 'loca', 'CFF ', 'head', 'hhea', 'hmtx', 'maxp', 'DSIG']);

/** Shows that the ink is where it was: every new side lies on an old one, and every old one that is no more lay within the ink. */
function proveInk(before: Face, after: Face): Comparison {
  const differences = otherDifferences(before, after, MAY_DIFFER);
  const em = before.unitsPerEm;
  const { farthest, worstGlyph, glyphsCompared, lost } = outlineDistance(before, after, before.glyphCount, em, 'new on old');
  if (lost.length > 0) differences.push(`Glyphs are not drawn in both: ${lost.slice(0, 6).join(', ')}.`);
  if (farthest > (TOLERANCE * em) / 1000 + 1)
    differences.push(`The outline of glyph ${worstGlyph} is ${farthest.toFixed(2)} units from where it was.`);
  for (let glyph = 0; glyph < before.glyphCount && differences.length < 5; glyph++) {
    const [x, y] = [contoursOf(before, glyph), contoursOf(after, glyph)];
    if (x && y && !sameInk(x, y, Math.max(em / 1000, 1))) differences.push(`The ink of glyph ${glyph} is not what it was.`);
  }
  return { equal: differences.length === 0, differences, glyphsCompared, farthest, worstGlyph };
}
