import { areaOf, drawContour, FlattenPen, rasterize, type Contour, type Polygon } from '../../outline/index.js';
import { boardOf, boundsOf, colorsOf, sticksOut, twoTones, type Drawing, type Inking } from './drawing.js';
import type { PaintLoss } from './svg/pieces.js';
import type { SourceLoss } from './svg/source.js';

/** Something about a drawing that may not be as its maker meant it. */
export interface IconFinding {
  code: SourceLoss | PaintLoss | ShapeFinding | SetFinding;
  /** `lost`: part of the drawing is not in the glyph; `look`: it is, and may look wrong; `note`: worth knowing. */
  severity: 'lost' | 'look' | 'note';
  message: string;
  /** What can be chosen about it here; the first is what is done when nobody chooses. */
  remedies: readonly { id: string; label: string }[];
}
export type ShapeFinding =
  'colors' | 'empty' | 'not-square' | 'outside' | 'hairline' | 'closing-hole' | 'specks' | 'many-points' | 'no-caps' | 'differs';
export type SetFinding = 'board-unlike' | 'size-unlike' | 'alike' | 'caps-unlike';

const SOURCE: Readonly<Record<SourceLoss, readonly [IconFinding['severity'], string]>> = {
  script: ['note', 'Scripts in it were left out; they never run here.'],
  external: ['lost', 'It refers to something outside itself, which is never fetched; that part is missing.'],
  animation: ['note', 'It moves; a font stands still. The glyph shows it as it is before it moves.'],
  'css-variables': ['note', 'Its style sheet uses custom properties; their fallback or only value was put in.'],
  'media-queries': ['note', 'Parts of its style sheet hold on some screens only; the glyph shows it without them.'],
  'foreign-object': ['lost', 'It holds a piece of a web page (foreignObject), which cannot become a shape; that part is missing.'],
  'fixed-stroke': [
    'look',
    'It has lines that keep their width whatever the size; a font’s shapes cannot, so they have the width of the drawing’s own size.',
  ],
  text: [
    'lost',
    'It has text whose face is not in the library, or may not be changed; the text is missing. Bring the face in, or turn the text to shapes where you drew it.',
  ],
  blend: ['look', 'Colors blend into one another in it; the glyph takes the shapes without that.'],
  'marker-missing': ['lost', 'A marker that it refers to is not there.'],
  'broken-path': ['lost', 'A path in it breaks off where its numbers cannot be read; what comes after is missing.'],
};
const PAINT: Readonly<Record<PaintLoss, readonly [IconFinding['severity'], string]>> = {
  gradient: ['look', 'It has a gradient, which becomes one flat shape.'],
  pattern: ['lost', 'It has a pattern, which becomes one flat shape.'],
  opacity: ['look', 'Parts of it are see-through; in the glyph they are solid.'],
  mask: ['look', 'It has a mask with half tones; in the glyph each place is either there or not.'],
  filter: ['lost', 'It has a filter (as a shadow or a blur), which is left out.'],
  picture: ['lost', 'It has a picture of pixels in it, which is left out.'],
  blend: ['look', 'Colors blend into one another in it; the glyph takes the shapes without that.'],
  'shape-failed': ['look', 'Shapes that lie over one another could not be joined; they overlap in the glyph, which looks the same.'],
  'clip-failed': ['lost', 'A shape could not be cut where another one covers it; it is whole in the glyph.'],
  'open-filled': [
    'look',
    'An open line is filled as if it were closed, perhaps by accident. If only the line was meant, set its fill to none.',
  ],
};

/** What flat ink is measured by. */
export interface InkMeasures {
  /** Ink in parts of the em square. */
  area: number;
  /** Width and height of the ink in parts of the em. */
  width: number;
  height: number;
  points: number;
  /** Coverage on a grid of 24 by 24, for telling drawings apart. */
  raster: Float32Array;
}

const polygonsOf = (contours: readonly Contour[], tolerance: number): Polygon[] => {
  const pen = new FlattenPen(tolerance);
  for (const contour of contours) drawContour(contour, pen);
  pen.closePath();
  return pen.polygons;
};
const pointsOf = (contours: readonly Contour[]): number =>
  contours.reduce((sum, c) => sum + c.segments.reduce((n, s) => n + s.length / 2, 0), 0);
const GRID = 24;

/** Measures ink on its board. @param em font units */
export function measureInk(contours: readonly Contour[], em: number): InkMeasures {
  const polygons = polygonsOf(contours, em / 2000);
  const bounds = boundsOf(contours);
  const area = contours.reduce((sum, c) => sum + areaOf(c), 0) / (em * em);
  const box = { xMin: Math.min(0, bounds?.xMin ?? 0), yMin: 0, xMax: Math.max(em, bounds?.xMax ?? 0), yMax: em };
  return {
    area,
    width: bounds ? (bounds.xMax - bounds.xMin) / em : 0,
    height: bounds ? (bounds.yMax - bounds.yMin) / em : 0,
    points: pointsOf(contours),
    raster: rasterize(polygons, box, GRID, GRID),
  };
}

/** Cells a px of the smallest size when ink is looked at for lines that are too thin. */
const CELLS = 5;

/**
 * The part of the ink that lies where no dot of a pixel's width fits within it: hairlines, and little of anything else.
 * By opening with a disc. Source: J. Serra, Image Analysis and Mathematical Morphology (1982), chapter II; distances by chamfer
 * 3-4, G. Borgefors, Distance transformations in digital images (1986).
 * @param px of the board's side
 */
function thinShare(polygons: readonly Polygon[], em: number, px: number): number {
  const side = Math.min(400, px * CELLS);
  const within: Polygon[] = [];
  for (const p of polygons) {
    const q = new Array<number>(p.length);
    for (let i = 0; i < p.length; i++) q[i] = Math.min(em, Math.max(0, p[i]!));
    within.push(q);
  }
  const cover = rasterize(within, { xMin: 0, yMin: 0, xMax: em, yMax: em }, side, side);
  const ink = new Uint8Array(cover.length);
  let all = 0;
  for (let i = 0; i < ink.length; i++) if (cover[i]! >= 0.5) all += ink[i] = 1;
  if (all === 0) return 0;
  // A pixel across, less what cells round away on both sides.
  const radius = 3 * ((side / px) * 0.5 - 0.75);
  const inside = distances(ink, side, 0);
  const core = new Uint8Array(ink.length);
  for (let i = 0; i < core.length; i++) core[i] = inside[i]! > radius ? 1 : 0;
  const reach = distances(core, side, 1);
  let thin = 0;
  for (let i = 0; i < ink.length; i++) if (ink[i] && reach[i]! > radius + 3) thin++;
  return thin / all;
}

/** Three times the distance of each cell to the nearest one that has a value, in cells. What lies outside counts as empty. */
function distances(cells: Uint8Array, side: number, value: 0 | 1): Int32Array {
  const far = 1 << 20;
  // A frame of one cell around it saves asking for the edge.
  const wide = side + 2;
  const d = new Int32Array(wide * wide).fill(value === 0 ? 0 : far);
  for (let y = 0; y < side; y++) for (let x = 0; x < side; x++) d[(y + 1) * wide + x + 1] = cells[y * side + x] === value ? 0 : far;
  for (let y = 1; y <= side; y++)
    for (let i = y * wide + 1, end = i + side; i < end; i++) {
      let least = d[i]!;
      if (least === 0) continue;
      if (d[i - 1]! + 3 < least) least = d[i - 1]! + 3;
      if (d[i - wide]! + 3 < least) least = d[i - wide]! + 3;
      if (d[i - wide - 1]! + 4 < least) least = d[i - wide - 1]! + 4;
      if (d[i - wide + 1]! + 4 < least) least = d[i - wide + 1]! + 4;
      d[i] = least;
    }
  for (let y = side; y >= 1; y--)
    for (let i = y * wide + side, end = y * wide; i > end; i--) {
      let least = d[i]!;
      if (least === 0) continue;
      if (d[i + 1]! + 3 < least) least = d[i + 1]! + 3;
      if (d[i + wide]! + 3 < least) least = d[i + wide]! + 3;
      if (d[i + wide + 1]! + 4 < least) least = d[i + wide + 1]! + 4;
      if (d[i + wide - 1]! + 4 < least) least = d[i + wide - 1]! + 4;
      d[i] = least;
    }
  const out = new Int32Array(side * side);
  for (let y = 0; y < side; y++) for (let x = 0; x < side; x++) out[y * side + x] = d[(y + 1) * wide + x + 1]!;
  return out;
}

export interface FindingOptions {
  inking: Inking | 'color';
  /** px of the smallest size at which the set is shown. */
  smallest: number;
}

/** What is to be said about one drawing. @param contours its one-color ink, not placed yet */
export function findingsOf(
  drawing: Drawing,
  contours: readonly Contour[],
  exact: boolean,
  { inking, smallest }: FindingOptions,
): IconFinding[] {
  const out: IconFinding[] = [];
  const say = (
    code: IconFinding['code'],
    severity: IconFinding['severity'],
    message: string,
    remedies: IconFinding['remedies'] = [],
  ): void => void out.push({ code, severity, message, remedies });
  const { em, width, height } = drawing;
  for (const loss of drawing.losses) {
    const [severity, message] =
      (SOURCE as Record<string, (typeof SOURCE)['text']>)[loss] ?? (PAINT as Record<string, (typeof PAINT)['mask']>)[loss]!;
    if (loss !== 'shape-failed' || !exact) say(loss, severity, message);
  }
  if (!exact && !drawing.losses.includes('shape-failed')) say('shape-failed', ...PAINT['shape-failed']);
  const colors = colorsOf(drawing);
  const layered = twoTones(drawing) !== null;
  if (colors.length > 1 || inking === 'front' || inking === 'back') {
    const ways = [
      { id: 'dark', label: 'Keep what is dark, cut out what is light' },
      { id: 'merge', label: 'Join all colors to one shape' },
      { id: 'color', label: 'Keep the colors, with a plain shape beside them' },
      ...(layered ? [{ id: 'front', label: 'Two layers, the lighter one a drawing of its own' }] : []),
    ];
    const chosen = ways.find((w) => w.id === inking);
    // The layer beneath goes with the one in front of it, where both are chosen.
    say(
      'colors',
      inking === 'back' ? 'note' : 'look',
      `It has ${colors.length} ${colors.length === 1 ? 'color' : 'colors'}, and a plain font has one. ${WHAT[inking]}`,
      chosen ? [chosen, ...ways.filter((w) => w !== chosen)] : [],
    );
  }
  if (contours.length === 0) {
    say('empty', 'lost', drawing.pieces.length > 0 ? 'Nothing is left of it in one color.' : 'Nothing is drawn in it.');
    return out;
  }
  if (Math.abs(width - height) > 0.005 * Math.max(width, height))
    say('not-square', 'note', `Its board is ${size(width)} by ${size(height)}, not square; it stands in the middle of a square one.`);
  const ink = drawing.pieces.flatMap((p) => p.contours);
  if (sticksOut(ink, boardOf(width, height, em), em))
    say('outside', 'look', 'Parts of it reach beyond its board; they are cut at the edge, as browsers do.', [
      { id: 'cut', label: 'Cut at the edge' },
      { id: 'keep', label: 'Keep what reaches out' },
    ]);
  const px = 1 / smallest;
  const points = pointsOf(contours);
  if (thinShare(polygonsOf(contours, em / 2000), em, smallest) > THIN_SHARE)
    say('hairline', 'look', `Lines in it are thinner than a pixel at ${smallest} px; they fade there.`);
  const holes = contours.filter((c) => areaOf(c) < 0);
  const closing = holes.filter((c) => thicknessOf(c) / em < px);
  if (closing.length > 0)
    say('closing-hole', 'look', `${closing.length === 1 ? 'A hole' : `${closing.length} holes`} in it would fill in at ${smallest} px.`);
  const specks = contours.filter((c) => areaOf(c) > 0 && areaOf(c) < SPECK * em * em);
  if (specks.length > 0 && specks.length < contours.length)
    say(
      'specks',
      'look',
      `${specks.length === 1 ? 'A speck' : `${specks.length} specks`} in it ${specks.length === 1 ? 'is' : 'are'} too small to be seen as a shape.`,
    );
  if (points > MANY_POINTS)
    say(
      'many-points',
      'note',
      `It has ${Math.round(points).toLocaleString('en-US')} points, which makes the font large; redraw it more simply if it is slow.`,
    );
  return out;
}

const WHAT: Readonly<Record<Inking | 'color', string>> = {
  dark: 'What is dark stays; what is light over it is cut out.',
  merge: 'All of it becomes one shape.',
  front: 'This is the darker of its two layers; the lighter one is a drawing of its own.',
  back: 'This is the lighter of its two layers.',
  color: 'The colors stay where programs show colored fonts; elsewhere a plain shape stands.',
};
const size = (n: number): string => String(Math.round(n * 100) / 100);
/** Ink smaller than this, in square ems, is a speck; the smallest dots that are meant are some twenty times as large. */
const SPECK = 0.00035;
const MANY_POINTS = 1000;
/** More of the ink than corners and tips leave. */
const THIN_SHARE = 0.12;

/** How wide a hole is where it is widest across its length: its area by its longer side, and a round one its diameter. */
function thicknessOf(contour: Contour): number {
  const b = boundsOf([contour]);
  return b ? ((4 / Math.PI) * Math.abs(areaOf(contour))) / Math.max(b.xMax - b.xMin, b.yMax - b.yMin, 1e-6) : 0;
}

/** What a set knows of one of its drawings. */
export interface Member {
  name: string;
  width: number;
  height: number;
  measures: InkMeasures;
  caps: readonly string[];
}

/** What only shows among others, by the drawings' places in the list. */
export function setFindings(members: readonly Member[]): Map<number, IconFinding[]> {
  const out = new Map<number, IconFinding[]>();
  const say = (i: number, code: SetFinding, message: string): void => {
    out.set(i, [...(out.get(i) ?? []), { code, severity: 'note', message, remedies: [] }]);
  };
  const inked = members.map((m, i) => ({ ...m, i })).filter((m) => m.measures.area > 0);
  const boards = counted(members.map((m) => `${size(m.width)} by ${size(m.height)}`));
  const usual = boards[0];
  if (usual && boards.length > 1 && usual[1] * 2 > members.length)
    members.forEach((m, i) => {
      const own = `${size(m.width)} by ${size(m.height)}`;
      if (own !== usual[0]) say(i, 'board-unlike', `Its board is ${own}; most others have ${usual[0]}.`);
    });
  if (inked.length >= 8) {
    const weights = sizesOf(inked.map((m) => m.measures));
    inked.forEach((m, k) => {
      const { off } = weights[k]!;
      if (Math.abs(off) > OUTLIER)
        say(
          m.i,
          'size-unlike',
          `It looks ${off > 0 ? 'larger' : 'smaller'} than the others by ${Math.round(Math.abs(Math.expm1(off)) * 100)}%.`,
        );
    });
    const ends = counted(inked.flatMap((m) => (m.caps.length === 1 ? m.caps : [])));
    const most = ends[0];
    if (most && most[0] !== 'butt' && most[1] * 2 > inked.length)
      for (const m of inked)
        if (m.caps.includes('butt')) say(m.i, 'caps-unlike', `Lines end bluntly in it; in most others their ends are ${most[0]}.`);
  }
  // Alike in area first, then place by place; so thousands are compared in good time.
  const byArea = [...inked].sort((a, b) => a.measures.area - b.measures.area);
  byArea.forEach((a, k) => {
    for (let j = k + 1; j < byArea.length && byArea[j]!.measures.area <= a.measures.area * 1.01 + 1e-5; j++) {
      const b = byArea[j]!;
      if (!alike(a.measures.raster, b.measures.raster, a.measures.area)) continue;
      say(Math.max(a.i, b.i), 'alike', `It is drawn like “${members[Math.min(a.i, b.i)]!.name}”.`);
    }
  });
  return out;
}

/** Natural logarithm of how much larger than usual a drawing looks beyond which it is told. */
const OUTLIER = Math.log(1.3);

/**
 * How large drawings look beside one another: the geometric mean of their longer side and the root of the area of their box. `off`
 * is the logarithm of the ratio to the median; 0 is usual.
 */
export function sizesOf(measures: readonly InkMeasures[]): { size: number; off: number }[] {
  const sizes = measures.map((m) => Math.sqrt(Math.max(m.width, m.height) * Math.sqrt(Math.max(1e-9, m.width * m.height))));
  const sorted = sizes.filter((s) => s > 0).sort((a, b) => a - b);
  const median = sorted[sorted.length >> 1] ?? 1;
  return sizes.map((s) => ({ size: s, off: s > 0 ? Math.log(s / median) : 0 }));
}

const counted = (values: readonly string[]): [string, number][] => {
  const counts = new Map<string, number>();
  for (const v of values) counts.set(v, (counts.get(v) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1]);
};

function alike(a: Float32Array, b: Float32Array, area: number): boolean {
  let off = 0;
  const most = Math.max(0.002, 0.02 * area) * a.length;
  for (let i = 0; i < a.length; i++) {
    off += Math.abs(a[i]! - b[i]!);
    if (off > most) return false;
  }
  return true;
}
