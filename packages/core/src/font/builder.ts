import {
  BoundsPen,
  CharStringPen,
  ContourPen,
  directed,
  drawContour,
  drawTangent,
  GlyfPen,
  QuadraticPen,
  type Pen,
} from '../outline/index.js';
import {
  CFF,
  CMAP,
  DICT,
  FLAVOR_CFF,
  FLAVOR_TRUETYPE,
  FontError,
  GASP,
  GDEF,
  GPOS,
  GSUB,
  HEAD,
  HHEA,
  HMTX,
  LOCA,
  locaFormatFor,
  longMetricsOf,
  MAC_EPOCH,
  MAXP,
  NAME,
  OS2,
  POST,
  windowsNames,
  writeGlyphs,
  type CmapSubtable,
  type Glyph,
  type SfntFont,
  type Table,
  type Tables,
} from '../sfnt/index.js';
import { positioningTable, substitutionTable, type FeatureRule } from './features.js';
import { codePages, unicodeRanges } from './os2-ranges.js';

/** What a new face is called and how its lines stand; lengths in font units. */
export interface NewFace {
  outlines: 'glyf' | 'CFF';
  /** 16 to 16384. */
  unitsPerEm: number;
  /** Names by ID; 1 and 2 at least, the others follow where they can. */
  names: Readonly<Record<number, string>>;
  ascender: number;
  /** Negative below the baseline. */
  descender: number;
  lineGap: number;
  xHeight: number;
  capHeight: number;
  /** 1 to 1000. */
  weightClass: number;
  /** 1 to 9. */
  widthClass: number;
  italic: boolean;
  /** Degrees counter-clockwise from the vertical. */
  italicAngle: number;
  monospaced: boolean;
  /** OS/2 fsType. */
  fsType: number;
  /** Four characters. */
  vendor: string;
  /** Seconds since 1970; the same sources at the same time give the same bytes. */
  modified: number;
  /** head's fontRevision. */
  revision: number;
  /**
   * `by depth` turns contours so that outer ones are filled and those within them are holes; contours that overlap must be
   * left `as drawn`, all of them run the same way.
   */
  direction: 'by depth' | 'as drawn';
  /** Farthest that quadratic curves may be from the cubic ones drawn; font units. */
  tolerance: number;
  /** How cubics become quadratics: `even` keeps the pen's way, `tangents` suits shapes made of circles and straight lines. */
  curves: 'even' | 'tangents';
}

export interface NewGlyph {
  /** As glyph names may be: letters, figures, period, underscore; at most 63. */
  name: string;
  codePoints: readonly number[];
  advance: number;
  /** Draws it; font units, y up. Null for a glyph without ink. */
  draw: ((pen: Pen) => void) | null;
  /** 1 base, 2 ligature, 3 mark, 4 component; 0 when nothing is said. */
  class?: number;
}

const DEFAULTS: NewFace = {
  outlines: 'glyf',
  unitsPerEm: 1000,
  names: {},
  ascender: 800,
  descender: -200,
  lineGap: 0,
  xHeight: 500,
  capHeight: 700,
  weightClass: 400,
  widthClass: 5,
  italic: false,
  italicAngle: 0,
  monospaced: false,
  fsType: 0,
  vendor: '    ',
  modified: 0,
  revision: 1,
  direction: 'by depth',
  tolerance: 0.5,
  curves: 'even',
};

const NAME_OF_GLYPH = /^(\.notdef|[A-Za-z_][A-Za-z0-9._]{0,62})$/;

/** Makes a new face from glyphs, metrics, names and features. */
export class Builder {
  private readonly face: NewFace;
  private readonly glyphs: NewGlyph[] = [];
  private readonly ids = new Map<string, number>();
  private readonly mapped = new Set<number>();
  private readonly rules: FeatureRule[] = [];
  private scripts: readonly string[] = [];

  /** @throws FontError when the em has no possible size or the face no name */
  constructor(face: Partial<NewFace> & Pick<NewFace, 'names'>) {
    this.face = { ...DEFAULTS, ...face };
    if (!(this.face.unitsPerEm >= 16 && this.face.unitsPerEm <= 16384))
      throw new FontError('does-not-fit', 'An em has 16 to 16384 units.', { table: 'head' });
    if (!this.face.names[1]?.trim()) throw new FontError('does-not-fit', 'A face needs a family name.', { table: 'name' });
  }

  /**
   * Adds a glyph; the first must be `.notdef`. Numbers of glyphs go by the order in which they are added.
   * @throws FontError when the name is not one, or is taken, or a code point has a glyph already
   */
  add(glyph: NewGlyph): number {
    const refuse = (why: string): never => {
      throw new FontError('does-not-fit', why, { table: 'post' });
    };
    if (!NAME_OF_GLYPH.test(glyph.name)) refuse(`“${glyph.name}” cannot be the name of a glyph.`);
    if (this.glyphs.length === 0 && glyph.name !== '.notdef') refuse('The first glyph of a face is .notdef.');
    if (this.ids.has(glyph.name)) refuse(`Two glyphs are called “${glyph.name}”.`);
    if (this.glyphs.length >= 0xffff) refuse('A face cannot hold more than 65,535 glyphs.');
    for (const c of glyph.codePoints) {
      if (this.mapped.has(c)) refuse(`U+${c.toString(16).toUpperCase().padStart(4, '0')} has a glyph already.`);
      this.mapped.add(c);
    }
    this.ids.set(glyph.name, this.glyphs.length);
    return this.glyphs.push(glyph) - 1;
  }

  /**
   * Number of a glyph by its name.
   * @throws FontError when there is none
   */
  glyph(name: string): number {
    const id = this.ids.get(name);
    if (id === undefined) throw new FontError('does-not-fit', `There is no glyph called “${name}”.`, { table: 'GSUB' });
    return id;
  }

  /** Adds rules of features. @param scripts OpenType script tags beside DFLT under which they stand */
  features(rules: readonly FeatureRule[], scripts: readonly string[] = ['latn']): void {
    for (const rule of rules) this.rules.push(rule);
    this.scripts = [...new Set([...this.scripts, ...scripts])];
  }

  /**
   * The tables of the face.
   * @throws FontError when something does not fit a font
   */
  build(): SfntFont {
    const { face, glyphs } = this;
    if (glyphs.length === 0) throw new FontError('does-not-fit', 'A face needs at least the glyph .notdef.', { table: 'maxp' });
    const shapes = glyphs.map((g) => this.shapeOf(g));
    const boxes = shapes.map(({ box }) => box);
    const drawn = boxes.filter((b) => b !== null);
    const all = {
      xMin: Math.min(...drawn.map((b) => b.xMin), drawn.length ? Infinity : 0),
      yMin: Math.min(...drawn.map((b) => b.yMin), drawn.length ? Infinity : 0),
      xMax: Math.max(...drawn.map((b) => b.xMax), drawn.length ? -Infinity : 0),
      yMax: Math.max(...drawn.map((b) => b.yMax), drawn.length ? -Infinity : 0),
    };
    const advances = Uint16Array.from(glyphs, (g) => Math.round(g.advance));
    const sideBearings = Int16Array.from(boxes, (b) => b?.xMin ?? 0);
    const codePoints = glyphs.flatMap((g) => g.codePoints).sort((a, b) => a - b);
    const [r1, r2, r3, r4] = unicodeRanges(codePoints);
    const bold = face.weightClass >= 700 && /bold/i.test(face.names[2] ?? '');
    const outlines = face.outlines === 'glyf' ? writeGlyphs(shapes.map((s) => s.glyph)) : null;
    const rsb = boxes.map((b, i) => (b ? advances[i]! - b.xMax : 0));
    const known = new Map<Table<never>, unknown>();
    const tables: Tables = {
      table: (t) => (known.get(t as Table<never>) as never) ?? null,
      need: (t) => known.get(t as Table<never>) as never,
    };
    const out = new Map<string, Uint8Array>();
    const put = <T>(table: Table<T>, value: T): void => {
      known.set(table as unknown as Table<never>, value);
      out.set(table.tag, table.write(value, tables));
    };
    put(HEAD, {
      majorVersion: 1,
      minorVersion: 0,
      fontRevision: face.revision,
      checksumAdjustment: 0,
      magicNumber: 0x5f0f3cf5,
      // Baseline at y = 0, left side bearing at x = 0.
      flags: 3,
      unitsPerEm: face.unitsPerEm,
      created: MAC_EPOCH + face.modified,
      modified: MAC_EPOCH + face.modified,
      ...all,
      macStyle: (bold ? 1 : 0) | (face.italic ? 2 : 0),
      lowestRecPPEM: 6,
      fontDirectionHint: 2,
      indexToLocFormat: outlines ? locaFormatFor(outlines.offsets) : 0,
      glyphDataFormat: 0,
    });
    const numberOfHMetrics = longMetricsOf(advances);
    put(HHEA, {
      majorVersion: 1,
      minorVersion: 0,
      ascender: face.ascender,
      descender: face.descender,
      lineGap: face.lineGap,
      advanceWidthMax: Math.max(...advances),
      minLeftSideBearing: Math.min(...boxes.map((b) => b?.xMin ?? 0)),
      minRightSideBearing: Math.min(...rsb),
      xMaxExtent: all.xMax,
      caretSlopeRise: face.italicAngle === 0 ? 1 : Math.round(1000 * Math.cos((face.italicAngle * Math.PI) / 180)),
      caretSlopeRun: face.italicAngle === 0 ? 0 : Math.round(-1000 * Math.sin((face.italicAngle * Math.PI) / 180)),
      caretOffset: 0,
      metricDataFormat: 0,
      numberOfHMetrics,
    });
    put(
      MAXP,
      profileOf(
        shapes.map((s) => s.glyph),
        face.outlines,
      ),
    );
    put(OS2, {
      version: 4,
      xAvgCharWidth: averageOf(advances),
      usWeightClass: face.weightClass,
      usWidthClass: face.widthClass,
      fsType: face.fsType,
      // Sizes and places of small figures and of the strike-out in parts of the em: common practice.
      ySubscriptXSize: part(face, 0.65),
      ySubscriptYSize: part(face, 0.6),
      ySubscriptXOffset: 0,
      ySubscriptYOffset: part(face, 0.075),
      ySuperscriptXSize: part(face, 0.65),
      ySuperscriptYSize: part(face, 0.6),
      ySuperscriptXOffset: 0,
      ySuperscriptYOffset: part(face, 0.35),
      yStrikeoutSize: part(face, 0.05),
      yStrikeoutPosition: Math.round(face.xHeight * 0.6),
      sFamilyClass: 0,
      panose: new Array<number>(10).fill(0),
      ulUnicodeRange1: r1,
      ulUnicodeRange2: r2,
      ulUnicodeRange3: r3,
      ulUnicodeRange4: r4,
      achVendID: face.vendor.padEnd(4).slice(0, 4),
      fsSelection: (face.italic ? 1 : 0) | (bold ? 0x20 : 0) | (!bold && !face.italic ? 0x40 : 0) | 0x80,
      usFirstCharIndex: Math.min(0xffff, codePoints[0] ?? 0),
      usLastCharIndex: Math.min(0xffff, codePoints[codePoints.length - 1] ?? 0),
      sTypoAscender: face.ascender,
      sTypoDescender: face.descender,
      sTypoLineGap: face.lineGap,
      usWinAscent: Math.max(0, face.ascender, all.yMax),
      usWinDescent: Math.max(0, -face.descender, -all.yMin),
      ulCodePageRange1: codePages(codePoints),
      ulCodePageRange2: 0,
      sxHeight: face.xHeight,
      sCapHeight: face.capHeight,
      usDefaultChar: 0,
      usBreakChar: 0x20,
      usMaxContext: this.rules.reduce(
        (most, r) => Math.max(most, r.kind === 'ligature' ? r.from.length : r.kind === 'single' ? 1 : r.kind === 'turns' ? 3 : 2),
        1,
      ),
      usLowerOpticalPointSize: null,
      usUpperOpticalPointSize: null,
    });
    put(HMTX, { advances, sideBearings });
    put(CMAP, { version: 0, ...characterMap(glyphs) });
    put(NAME, windowsNames(fullNames(face.names, face.revision)));
    put(POST, {
      version: face.outlines === 'glyf' ? 0x00020000 : 0x00030000,
      italicAngle: face.italicAngle,
      underlinePosition: -part(face, 0.1),
      underlineThickness: part(face, 0.05),
      isFixedPitch: face.monospaced ? 1 : 0,
      minMemType42: 0,
      maxMemType42: 0,
      minMemType1: 0,
      maxMemType1: 0,
      glyphNames: face.outlines === 'glyf' ? glyphs.map((g) => g.name) : null,
    });
    const gsub = substitutionTable(this.rules, this.scripts);
    const gpos = positioningTable(this.rules, this.scripts);
    const classes = new Map(glyphs.flatMap((g, i) => (g.class ? [[i, g.class] as const] : [])));
    if (classes.size > 0)
      put(GDEF, {
        majorVersion: 1,
        minorVersion: 0,
        glyphClassDef: classes,
        attachList: null,
        ligCaretList: null,
        markAttachClassDef: null,
        markGlyphSetsDef: null,
        itemVarStore: null,
      });
    if (gsub) put(GSUB, gsub);
    if (gpos) put(GPOS, gpos);
    if (outlines) {
      out.set('glyf', outlines.glyf);
      put(LOCA, outlines.offsets);
      // Without instructions: smoothed at every size. Source: OpenType specification, gasp; common practice for unhinted faces.
      put(GASP, { version: 1, gaspRanges: [{ rangeMaxPPEM: 0xffff, rangeGaspBehavior: 0x000a }] });
    } else
      put(
        CFF,
        this.cff(
          shapes.map((s) => s.program!),
          all,
        ),
      );
    return {
      flavor: face.outlines === 'glyf' ? FLAVOR_TRUETYPE : FLAVOR_CFF,
      tables: new Map([...out].sort(([a], [b]) => (a < b ? -1 : 1))),
      faults: [],
    };
  }

  private shapeOf({ draw, advance }: NewGlyph): {
    glyph: Glyph;
    program: Uint8Array | null;
    box: { xMin: number; yMin: number; xMax: number; yMax: number } | null;
  } {
    const contours = new ContourPen();
    draw?.(contours);
    contours.closePath();
    const { outlines, tolerance, direction } = this.face;
    const list =
      direction === 'as drawn' ? contours.contours : directed(contours.contours, outlines === 'glyf' ? 'clockwise' : 'counter-clockwise');
    if (outlines === 'glyf') {
      const pen = new GlyfPen();
      const quadratic = new QuadraticPen(pen, tolerance);
      for (const contour of list)
        if (this.face.curves === 'tangents') drawTangent(contour, pen, tolerance);
        else drawContour(contour, quadratic);
      const glyph = pen.glyph();
      return { glyph, program: null, box: glyph };
    }
    const pen = new CharStringPen(Math.round(advance));
    const bounds = new BoundsPen();
    for (const contour of list) {
      drawContour(contour, pen);
      drawContour(contour, bounds);
    }
    const b = bounds.bounds;
    return {
      glyph: null,
      program: pen.charString(),
      box: b && { xMin: Math.floor(b.xMin), yMin: Math.floor(b.yMin), xMax: Math.ceil(b.xMax), yMax: Math.ceil(b.yMax) },
    };
  }

  private cff(programs: Uint8Array[], box: { xMin: number; yMin: number; xMax: number; yMax: number }) {
    const { face } = this;
    const texts = new Map<number, string>();
    const names = fullNames(face.names, face.revision);
    // Texts of the dictionary are Latin letters; what is not stands in the name table alone.
    for (const [operator, id] of [
      [DICT.version, 5],
      [DICT.Notice, 0],
      [DICT.FullName, 4],
      [DICT.FamilyName, 1],
    ] as const)
      if (names[id] && /^[\x20-\x7e]*$/.test(names[id])) texts.set(operator, names[id]);
    return {
      majorVersion: 1,
      minorVersion: 0,
      name: names[6]!,
      topDict: new Map<number, number[]>([
        [DICT.FontBBox, [box.xMin, box.yMin, box.xMax, box.yMax]],
        ...(face.unitsPerEm === 1000
          ? []
          : ([[DICT.FontMatrix, [1 / face.unitsPerEm, 0, 0, 1 / face.unitsPerEm, 0, 0]]] as [number, number[]][])),
      ]),
      texts,
      ros: null,
      charset: this.glyphs.map((g) => g.name),
      encoding: 0 as const,
      globalSubrs: [],
      charStrings: programs,
      fontDicts: [{ dict: new Map(), privateDict: { dict: new Map([[DICT.nominalWidthX, [0]]]), subrs: [] } }],
      fdSelect: null,
    };
  }
}

const part = (face: NewFace, share: number): number => Math.round(face.unitsPerEm * share);

/** Mean of the advances that are not zero. Source: OpenType specification, OS/2 version 3 and later, xAvgCharWidth. */
function averageOf(advances: Uint16Array): number {
  const wide = advances.filter((a) => a > 0);
  return wide.length === 0 ? 0 : Math.round(wide.reduce((a, b) => a + b, 0) / wide.length);
}

/** Names that follow from others: 3, 4, 5 and 6 where they are not given. */
function fullNames(names: Readonly<Record<number, string>>, revision: number): Record<number, string> {
  const family = names[16] ?? names[1]!;
  const style = names[17] ?? names[2] ?? 'Regular';
  const version = names[5] ?? `Version ${revision.toFixed(3)}`;
  const full = names[4] ?? (style === 'Regular' ? family : `${family} ${style}`);
  const postScript =
    names[6] ??
    `${family.replace(/[^\x21-\x7e]|[[\](){}<>/%-]/g, '') || 'Unnamed'}-${style.replace(/[^\x21-\x7e]|[[\](){}<>/%-]/g, '') || 'Regular'}`.slice(
      0,
      63,
    );
  return { ...names, 2: names[2] ?? 'Regular', 3: names[3] ?? `${version};${postScript}`, 4: full, 5: version, 6: postScript };
}

const characterMap = (glyphs: readonly NewGlyph[]): ReturnType<typeof unicodeMap> =>
  unicodeMap(glyphs.flatMap((g, id) => g.codePoints.map((c): [number, number] => [c, id])).sort((a, b) => a[0] - b[0]));

/** A character map of Unicode in the forms that programs of today read. @param pairs characters ascending, each with its glyph */
export function unicodeMap(pairs: readonly (readonly [number, number])[]): {
  encodingRecords: { platformID: number; encodingID: number; subtable: number }[];
  subtables: CmapSubtable[];
} {
  const of = (format: 4 | 12, list: readonly (readonly [number, number])[]): CmapSubtable => ({
    format,
    language: 0,
    codePoints: Uint32Array.from(list, (p) => p[0]),
    glyphs: Uint16Array.from(list, (p) => p[1]),
  });
  const basic = pairs.filter(([c]) => c < 0xffff);
  const subtables = [of(4, basic)];
  const encodingRecords = [
    { platformID: 0, encodingID: 3, subtable: 0 },
    { platformID: 3, encodingID: 1, subtable: 0 },
  ];
  if (basic.length < pairs.length) {
    subtables.push(of(12, pairs));
    encodingRecords.splice(1, 0, { platformID: 0, encodingID: 4, subtable: 1 });
    encodingRecords.push({ platformID: 3, encodingID: 10, subtable: 1 });
  }
  return { encodingRecords, subtables };
}

/** The profile of glyphs without instructions. Source: OpenType specification, maxp. */
export function profileOf(glyphs: readonly Glyph[], outlines: 'glyf' | 'CFF') {
  const simple = glyphs.filter((g) => g?.kind === 'simple');
  const most = (of: (g: (typeof simple)[number]) => number): number => Math.max(0, ...simple.map(of));
  const one = outlines === 'glyf';
  return {
    version: one ? 0x00010000 : 0x00005000,
    numGlyphs: glyphs.length,
    maxPoints: one ? most((g) => g.x.length) : null,
    maxContours: one ? most((g) => g.endPtsOfContours.length) : null,
    maxCompositePoints: one ? 0 : null,
    maxCompositeContours: one ? 0 : null,
    maxZones: one ? 1 : null,
    maxTwilightPoints: one ? 0 : null,
    maxStorage: one ? 0 : null,
    maxFunctionDefs: one ? 0 : null,
    maxInstructionDefs: one ? 0 : null,
    maxStackElements: one ? 0 : null,
    maxSizeOfInstructions: one ? 0 : null,
    maxComponentElements: one ? 0 : null,
    maxComponentDepth: one ? 0 : null,
  };
}
