import type { Paths, SvgEngine } from '../../engines/index.js';
import { Builder, openFace, type FeatureRule } from '../../font/index.js';
import { drawContour, FlattenPen, rasterize, reversed, TransformPen, type Contour, type Pen, type Polygon } from '../../outline/index.js';
import { COLR, CPAL, FontError, writeSfnt, writeWoff, writeWoff2, type Codec, type SfntFont } from '../../sfnt/index.js';
import { fileBase } from '../../webkit/index.js';
import type { GivenCodePoint, ReleaseFile } from '../product.js';
import { dayNumber } from '../day.js';
import { assignCodes, emFor } from './codes.js';
import { inkOf, oneInk, readDrawing, type Drawing, type DrawingTools, type Inking } from './drawing.js';
import { findingsOf, measureInk, setFindings, type IconFinding, type InkMeasures } from './findings.js';
import { glyphName } from './names.js';
import { placed } from './place.js';
import { contradictionsOf, type Icon, type IconFormat, type IconSet, type SetFacts } from './set.js';
import { readSource } from './svg/source.js';

/** A drawing ready to become a glyph. */
export interface ReadIcon {
  drawing: Drawing;
  /** What is done with its paints: as chosen, or as is usual. */
  inking: Inking | 'color';
  /** One-color ink where it stands on the board; counter-clockwise outside, font units. */
  contours: Contour[];
  /** Shapes one over another with their colors (0xRRGGBB), for a colored font. */
  layers: { color: number; alpha: number; contours: Contour[] }[];
  findings: IconFinding[];
  measures: InkMeasures;
}

/** Font units an em of a set: as chosen, or by the boards that most of its drawings have. */
export const emOf = (facts: SetFacts, boards: readonly number[]): number => {
  if (facts.em !== null) return facts.em;
  const counts = new Map<number, number>();
  for (const side of boards) counts.set(side, (counts.get(side) ?? 0) + 1);
  const [most] = [...counts].sort((a, b) => b[1] - a[1]);
  return emFor(most ? most[0] : 24);
};

/**
 * Reads a drawing of a set and finds what is to be said about it.
 * @param em font units
 * @throws FontError in words when it cannot be read
 */
export function readIcon(
  icon: Pick<Icon, 'svg' | 'inking' | 'cut' | 'place'>,
  em: number,
  smallest: number,
  tools: DrawingTools,
): ReadIcon {
  const drawing = readDrawing(readSource(icon.svg), em, tools);
  const inking = icon.inking ?? drawing.inking;
  const { contours: ink, exact } = oneInk(
    drawing,
    inking === 'color' ? drawing.inking : inking,
    tools.paths,
    icon.cut ? 'at the edge' : 'not',
  );
  const contours = inking === 'front' || inking === 'back' ? placedWithBoth(ink, drawing, icon, tools.paths) : placed(ink, icon.place, em);
  const findings = findingsOf(drawing, ink, exact, { inking, smallest });
  return {
    drawing,
    inking,
    contours,
    layers: inking === 'color' ? layersOf(drawing, icon.place, tools.paths) : [],
    findings,
    measures: measureInk(contours, em),
  };
}

/** One layer of two, placed as both together would be: else a step that goes by the ink's box would move them apart. */
function placedWithBoth(ink: readonly Contour[], drawing: Drawing, { place, cut }: Pick<Icon, 'place' | 'cut'>, paths: Paths): Contour[] {
  if (place.length === 0) return [...ink];
  const both = (['front', 'back'] as const).flatMap((side) => oneInk(drawing, side, paths, cut ? 'at the edge' : 'not').contours);
  return placed([...ink, ...both], place, drawing.em).slice(0, ink.length);
}

/** Shapes of one paint after another, placed as the whole drawing is. */
function layersOf({ pieces, em }: Drawing, place: Icon['place'], paths: Paths): ReadIcon['layers'] {
  const out: ReadIcon['layers'] = [];
  for (const { color, alpha, contours } of pieces) {
    const last = out[out.length - 1];
    if (last?.color === color && last.alpha === alpha) last.contours.push(...contours);
    else out.push({ color, alpha, contours: [...contours] });
  }
  // Steps go by the whole drawing's box, so all layers are placed as one and told apart again by their number of contours.
  const united = out.map((l) => ({ ...l, contours: paths.unite(l.contours, em) ?? l.contours }));
  const all = placed(
    united.flatMap((l) => l.contours),
    place,
    em,
  );
  let at = 0;
  return united.map((l) => ({ ...l, contours: all.slice(at, (at += l.contours.length)) }));
}

/** How a glyph compares with its drawing: what both cover by what either does, and the mean difference where it is largest. */
export interface Proof {
  overlap: number;
  local: number;
}

/** Glyphs are compared with their drawings this large, px. */
const PROOF_PX = 192;
/** Below this the two do not cover the same. */
const PROOF_OVERLAP = 0.96;
/** Mean difference over some px at one place above which something local is wrong. */
const PROOF_LOCAL = 0.5;

/**
 * Whether a glyph covers what its drawing does, drawn by another hand. Only drawings that lost nothing and stand as they were
 * drawn can be told so; others give null.
 * @param polygons the glyph as the font has it on its board, flattened; y up
 */
export function proveGlyph(read: ReadIcon, icon: Pick<Icon, 'place' | 'cut'>, polygons: readonly Polygon[], svg: SvgEngine): Proof | null {
  const { drawing, inking } = read;
  if (icon.place.length > 0 || !icon.cut || drawing.losses.some((l) => !['script', 'animation', 'css-variables'].includes(l))) return null;
  const { em, width, height } = drawing;
  const side = Math.max(width, height);
  const columns = Math.max(1, Math.round((PROOF_PX * width) / side));
  const way = inking === 'color' ? drawing.inking : inking;
  const inked = inkOf(drawing, way);
  // Light and dark as black and white, so that half-covered edges mean coverage.
  const dark = way !== 'merge';
  const text = dark
    ? drawing.normal.replace(/#[0-9a-f]{6}\b/gi, (c) => (inked({ color: parseInt(c.slice(1), 16), alpha: 1 }) ? '#000000' : '#ffffff'))
    : drawing.normal;
  const picture = svg.coverage(text, columns);
  const box = {
    xMin: ((side - width) / 2 / side) * em,
    xMax: ((side + width) / 2 / side) * em,
    yMin: ((side - height) / 2 / side) * em,
    yMax: ((side + height) / 2 / side) * em,
  };
  // A picture has whole rows; its last one may be a part.
  const rows = picture.rows;
  const glyph = rasterize(clippedTo(polygons, box), box, picture.columns, rows);
  let [least, most] = [0, 0];
  const off = new Float32Array(picture.columns * rows);
  for (let y = 0; y < rows; y++)
    for (let x = 0; x < picture.columns; x++) {
      const i = y * picture.columns + x;
      const theirs = dark ? picture.alpha[i]! * (1 - picture.rgb[3 * i]! / 255 / Math.max(1e-6, picture.alpha[i]!)) : picture.alpha[i]!;
      const ours = glyph[(rows - 1 - y) * picture.columns + x]!;
      least += Math.min(ours, theirs);
      most += Math.max(ours, theirs);
      off[i] = Math.abs(ours - theirs);
    }
  return { overlap: most > 0 ? least / most : 1, local: worstPlace(off, picture.columns, rows) };
}

/** What lies beside the box is moved onto its edge, since sides outside a raster would count within it. */
const clippedTo = (polygons: readonly Polygon[], box: { xMin: number; xMax: number }): Polygon[] =>
  polygons.map((p) => p.map((v, i) => (i % 2 === 0 ? Math.min(box.xMax, Math.max(box.xMin, v)) : v)));

/** Whether a glyph and its drawing differ by more than rounding and smoothing. */
export const differs = ({ overlap, local }: Proof): boolean => overlap < PROOF_OVERLAP || local > PROOF_LOCAL;

/** The largest mean of four by four places. */
function worstPlace(off: Float32Array, columns: number, rows: number): number {
  let worst = 0;
  for (let y = 0; y + 4 <= rows; y++)
    for (let x = 0; x + 4 <= columns; x++) {
      if (off[(y + 1) * columns + x + 1]! < 0.2) continue;
      let sum = 0;
      for (let v = 0; v < 4; v++) for (let u = 0; u < 4; u++) sum += off[(y + v) * columns + x + u]!;
      worst = Math.max(worst, sum / 16);
    }
  return worst;
}

/** What became of one drawing. */
export interface BuiltIcon {
  id: string;
  name: string;
  glyph: string;
  codePoint: number;
  findings: IconFinding[];
  points: number;
  /** Null where the drawing could not be read; it is not in the font. */
  read: ReadIcon | null;
}

export interface BuiltSet {
  em: number;
  files: ReleaseFile[];
  icons: BuiltIcon[];
  /** All that was given away up to now, under the drawings' ids. */
  given: GivenCodePoint[];
}

export interface BuildTools extends DrawingTools {
  codec: Codec;
  /** Reads or proves several drawings at once on other threads, in the order given; left out, it is done here. */
  readMany?: (orders: readonly ReadOrder[]) => Promise<ReadAnswer[]>;
  proveMany?: (orders: readonly ProofOrder[]) => Promise<(Proof | null)[]>;
  /** Called between drawings, so that others get their turn and memory is freed. */
  pause?: () => Promise<void>;
  progress?: (done: number, total: number) => void;
}

/** How many drawings are read before others get their turn. */
const AT_ONCE = 10;

/**
 * Reads all drawings of a set. What one of them cannot be is its own finding, and the rest goes on.
 */
export async function readIcons(set: IconSet, tools: BuildTools): Promise<{ em: number; reads: ReadAnswer[] }> {
  const boards: number[] = [];
  for (const icon of set.icons) boards.push(sideOf(icon.svg));
  const em = emOf(set.facts, boards);
  const orders = set.icons.map(({ svg, inking, cut, place }): ReadOrder => ({
    icon: { svg, inking, cut, place },
    em,
    smallest: set.facts.smallest,
  }));
  if (tools.readMany) return { em, reads: await tools.readMany(orders) };
  const reads: ReadAnswer[] = [];
  for (const [i, order] of orders.entries()) {
    if (i % AT_ONCE === 0) {
      tools.progress?.(i, set.icons.length);
      await tools.pause?.();
    }
    reads.push(carryOutRead(order, tools));
  }
  return { em, reads };
}

/** Reading one drawing, as another thread can be asked for it. */
export interface ReadOrder {
  icon: Pick<Icon, 'svg' | 'inking' | 'cut' | 'place'>;
  em: number;
  smallest: number;
}
export type ReadAnswer = ReadIcon | { error: string };

/**
 * What cannot be read is an answer, too.
 * @throws Error what is a fault of ours
 */
export function carryOutRead({ icon, em, smallest }: ReadOrder, tools: DrawingTools): ReadAnswer {
  try {
    return readIcon(icon, em, smallest, tools);
  } catch (error) {
    if (!(error instanceof FontError)) throw error;
    return { error: error.message };
  }
}

/** Comparing one glyph, as another thread can be asked for it. */
export interface ProofOrder {
  read: ReadIcon;
  icon: Pick<Icon, 'place' | 'cut'>;
  polygons: Polygon[];
}

/** The longer side of a drawing's board in its own units, by what its outermost element says. */
function sideOf(svg: string): number {
  const head = /<svg[^>]*>/.exec(svg)?.[0] ?? '';
  const box = / viewBox="([^"]*)"/
    .exec(head)?.[1]
    ?.trim()
    .split(/[\s,]+/)
    .map(Number);
  if (box?.length === 4 && box[2]! > 0 && box[3]! > 0) return Math.max(box[2]!, box[3]!);
  const [w, h] = ['width', 'height'].map((n) => Number(new RegExp(` ${n}="([\\d.]+)(?:px)?"`).exec(head)?.[1] ?? NaN));
  return w! > 0 && h! > 0 ? Math.max(w!, h!) : 24;
}

/**
 * Makes the fonts of a set. The same set, number and day give the same bytes.
 * @param day of the release, YYYY-MM-DD; it stands in the fonts
 * @throws FontError in words when the set contradicts itself or a font cannot hold it
 */
export async function buildIconSet(set: IconSet, number: number, day: string, tools: BuildTools, prove = true): Promise<BuiltSet> {
  const [wrong] = contradictionsOf(set);
  if (wrong !== undefined) throw new FontError('does-not-fit', wrong);
  const { facts } = set;
  const { em, reads } = await readIcons(set, tools);
  const codes = assignCodes(set.icons, set.given);
  // Glyphs of the font's own are there already, and long names may be cut to the same.
  const taken = new Set(['space']);
  const icons = set.icons.map((icon, i): BuiltIcon => {
    const glyph = unused(glyphName(icon.name), taken);
    taken.add(glyph);
    const read = reads[i]!;
    const failed = 'error' in read;
    return {
      id: icon.id,
      name: icon.name,
      glyph,
      codePoint: codes[i]!,
      points: failed ? 0 : read.measures.points,
      findings: failed ? [{ code: 'broken-path', severity: 'lost', message: read.error, remedies: [] }] : [...read.findings],
      read: failed ? null : read,
    };
  });
  const members = icons.flatMap((icon, i) =>
    icon.read
      ? [
          {
            i,
            name: icon.name,
            width: icon.read.drawing.width,
            height: icon.read.drawing.height,
            measures: icon.read.measures,
            caps: icon.read.drawing.lines.caps,
          },
        ]
      : [],
  );
  for (const [k, found] of setFindings(members)) icons[members[k]!.i]!.findings.push(...found);

  const drawn = icons.flatMap((icon, i) => (icon.read ? [{ ...icon, read: icon.read, icon: set.icons[i]! }] : []));
  const one = (outlines: 'glyf' | 'CFF'): SfntFont => fontOf(facts, em, number, day, drawn, outlines);
  const plain = one('glyf');
  if (prove) await proveAll(plain, dropOf(facts, em), drawn, icons, tools);
  const base = fileBase(facts.family, 'x').slice(0, -2).toLowerCase();
  const files = facts.formats.map((format): ReleaseFile => ({
    name: `${base}.${format}`,
    format,
    bytes: fileOf(format, plain, one, tools.codec),
  }));
  const known = new Set(set.given.map((g) => g.codePoint));
  const fresh = drawn.flatMap(({ id, codePoint, icon }) => [codePoint, ...icon.characters].map((c) => ({ codePoint: c, name: id })));
  return {
    em,
    files,
    icons,
    given: [...set.given, ...fresh.filter((g) => !known.has(g.codePoint))].sort((a, b) => a.codePoint - b.codePoint),
  };
}

function fileOf(format: IconFormat, plain: SfntFont, one: (outlines: 'CFF') => SfntFont, codec: Codec): Uint8Array {
  switch (format) {
    case 'ttf':
      return writeSfnt(plain);
    case 'otf':
      return writeSfnt(one('CFF'));
    case 'woff':
      return writeWoff(plain, codec);
    case 'woff2':
      return writeWoff2(plain, codec);
  }
}

type Drawn = BuiltIcon & { read: ReadIcon; icon: Icon };

/** Height of capitals, in parts of the em; common practice. */
const CAPITALS = 0.7;
/**
 * How far the board reaches below the baseline, in parts of the em. (1 - CAPITALS) / 2 would set its middle to that of capitals;
 * an eighth is near that, and puts the baseline and with it the drawing onto whole pixels at 16, 24, 32, 48 and 64 px.
 */
const DROP = 1 / 8;
/** How far the board reaches below the baseline, font units. */
const dropOf = ({ line }: SetFacts, em: number): number => (line === 'baseline' ? 0 : Math.round(DROP * em));

function fontOf(facts: SetFacts, em: number, number: number, day: string, drawn: readonly Drawn[], outlines: 'glyf' | 'CFF'): SfntFont {
  const drop = dropOf(facts, em);
  const builder = new Builder({
    outlines,
    unitsPerEm: em,
    names: {
      ...(facts.maker ? { 0: `Copyright ${day.slice(0, 4)} ${facts.maker}`, 8: facts.maker } : {}),
      1: facts.family,
      2: 'Regular',
      5: `Version ${number}.000`,
      ...(facts.license ? { 13: facts.license } : {}),
      ...(facts.licenseUrl ? { 14: facts.licenseUrl } : {}),
    } as Record<number, string>,
    ascender: em - drop,
    descender: -drop,
    lineGap: 0,
    xHeight: Math.round(em * 0.5),
    capHeight: Math.round(em * CAPITALS),
    monospaced: true,
    modified: 86_400 * dayNumber(day),
    revision: number,
    direction: 'as drawn',
    tolerance: Math.min(0.5, em / 4000),
    curves: 'tangents',
  });
  const drawAll =
    (contours: readonly Contour[]) =>
    (pen: Pen): void => {
      for (const contour of contours) {
        const lowered = drop === 0 ? contour : shifted(contour, -drop);
        drawContour(outlines === 'glyf' ? reversed(lowered) : lowered, pen);
      }
    };
  builder.add({ name: '.notdef', codePoints: [], advance: em, draw: drawAll(frame(em)) });
  builder.add({ name: 'space', codePoints: [0x20], advance: Math.round(em / 4), draw: null });
  const words = drawn.flatMap(({ icon, glyph }) => icon.words.map((word) => ({ word, glyph })));
  const letters = [...new Set(words.flatMap(({ word }) => [...word]))].sort();
  // Letters of the words are there without ink or width: what is typed is a drawing or nothing.
  for (const letter of letters)
    builder.add({ name: `letter.u${letter.codePointAt(0)!.toString(16)}`, codePoints: [letter.codePointAt(0)!], advance: 0, draw: null });
  const layers: { base: string; parts: { name: string; color: number; alpha: number }[] }[] = [];
  const byName = new Map(drawn.map((d) => [d.glyph, d]));
  for (const { glyph: name, codePoint, icon, read } of drawn) {
    builder.add({
      name,
      codePoints: [codePoint, ...icon.characters],
      advance: em,
      draw: read.contours.length > 0 ? drawAll(read.contours) : null,
    });
    if (read.inking === 'color' && read.layers.length > 0)
      layers.push({ base: name, parts: read.layers.map((l, i) => ({ name: `${name}.l${i + 1}`, color: l.color, alpha: l.alpha })) });
  }
  for (const { base, parts } of layers) {
    const of = byName.get(base)!;
    parts.forEach((p, i) => builder.add({ name: p.name, codePoints: [], advance: em, draw: drawAll(of.read.layers[i]!.contours) }));
  }
  if (words.length > 0) {
    const rules = words.map(({ word, glyph }): FeatureRule => ({
      kind: 'ligature',
      feature: 'liga',
      from: [...word].map((c) => builder.glyph(`letter.u${c.codePointAt(0)!.toString(16)}`)),
      to: builder.glyph(glyph),
    }));
    builder.features(rules);
  }
  const font = builder.build();
  if (layers.length > 0) colored(font, builder, layers);
  return font;
}

/** A glyph's name that none has yet. */
function unused(name: string, taken: ReadonlySet<string>): string {
  if (!taken.has(name)) return name;
  for (let n = 2; ; n++) if (!taken.has(`${name.slice(0, 56)}_${n}`)) return `${name.slice(0, 56)}_${n}`;
}

const shifted = ({ start, segments }: Contour, dy: number): Contour => ({
  start: [start[0], start[1] + dy],
  segments: segments.map((s) => s.map((v, i) => (i % 2 === 1 ? v + dy : v))),
});

/** A square with a square hole. */
function frame(em: number): Contour[] {
  const square = (inset: number): Contour => ({
    start: [inset, inset],
    segments: [
      [em - inset, inset],
      [em - inset, em - inset],
      [inset, em - inset],
    ],
  });
  return [square(em / 12), reversed(square(em / 6))];
}

/** Adds COLR (version 0) and CPAL. Source: OpenType specification. */
function colored(
  font: SfntFont,
  builder: Builder,
  layers: readonly { base: string; parts: readonly { name: string; color: number; alpha: number }[] }[],
): void {
  const palette = new Map<string, number>();
  const keyOf = (p: { color: number; alpha: number }): string => `${p.color}/${Math.round(p.alpha * 255)}`;
  for (const { parts } of layers) for (const p of parts) if (!palette.has(keyOf(p))) palette.set(keyOf(p), palette.size);
  const records = layers.flatMap(({ parts }) =>
    parts.map((p) => ({ glyphID: builder.glyph(p.name), paletteIndex: palette.get(keyOf(p))! })),
  );
  let at = 0;
  const bases = layers.map(({ base, parts }) => ({
    glyphID: builder.glyph(base),
    firstLayerIndex: (at += parts.length) - parts.length,
    numLayers: parts.length,
  }));
  bases.sort((a, b) => a.glyphID - b.glyphID);
  const tables = { table: () => null, need: () => null as never };
  const colr = {
    version: 0,
    baseGlyphRecords: bases,
    layerRecords: records,
    baseGlyphList: null,
    layerList: null,
    clipList: null,
    varIndexMap: null,
    itemVariationStore: null,
  };
  font.tables.set('COLR', COLR.write(colr as never, tables as never));
  const colors = [...palette.keys()].map((key) => {
    const [color, alpha] = key.split('/').map(Number) as [number, number];
    return { blue: color & 255, green: (color >> 8) & 255, red: (color >> 16) & 255, alpha };
  });
  font.tables.set(
    'CPAL',
    CPAL.write({ version: 0, palettes: [colors], paletteTypes: null, paletteLabels: null, paletteEntryLabels: null }, tables as never),
  );
  font.tables = new Map([...font.tables].sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** Compares every glyph of a font with its drawing, and says where they differ. */
async function proveAll(font: SfntFont, drop: number, drawn: readonly Drawn[], icons: BuiltIcon[], tools: BuildTools): Promise<void> {
  const face = openFace(writeSfnt(font), tools.codec, 0);
  const orders = drawn.map(({ read, icon, codePoint }): ProofOrder => {
    const pen = new FlattenPen(read.drawing.em / 4000);
    face.draw(face.glyphOf(codePoint), new TransformPen([1, 0, 0, 1, 0, drop], pen));
    pen.closePath();
    return { read, icon: { place: icon.place, cut: icon.cut }, polygons: pen.polygons };
  });
  const proofs: (Proof | null)[] = tools.proveMany ? await tools.proveMany(orders) : [];
  if (!tools.proveMany)
    for (const [i, o] of orders.entries()) {
      if (i % AT_ONCE === 0) await tools.pause?.();
      proofs.push(proveGlyph(o.read, o.icon, o.polygons, tools.svg));
    }
  for (const [i, d] of drawn.entries()) {
    const proof = proofs[i];
    if (proof && differs(proof))
      icons
        .find((x) => x.id === d.id)!
        .findings.push({
          code: 'differs',
          severity: 'look',
          message: `The glyph and the drawing differ when both are drawn (${Math.round(proof.overlap * 1000) / 10}% the same). Look at it large.`,
          remedies: [],
        });
  }
}
