import { damagedGlyphs, inspectFace, type Finding } from '../../face/index.js';
import { profileOf, unicodeMap, type Face } from '../../font/index.js';
import {
  areaOf,
  BoundsPen,
  CharStringPen,
  ContourPen,
  drawContour,
  GlyfPen,
  HashPen,
  ReversePen,
  sameInk,
  type Contour,
  type Pen,
} from '../../outline/index.js';
import {
  CFF,
  CMAP,
  DICT,
  expectFontError,
  HEAD,
  HHEA,
  HMTX,
  LOCA,
  locaFormatFor,
  longMetricsOf,
  MAXP,
  NAME,
  NAME_ID,
  operand,
  OS2,
  POST,
  POST_HEADER,
  readGlyph,
  windowsNames,
  writeGlyphs,
  writeSfnt,
  type Glyph,
} from '../../sfnt/index.js';
import { Changed } from '../changed.js';
import type { Comparison, Step } from '../step.js';

/** One kind of repair: what the reader finds that it puts right, and how. */
interface Mend {
  /** Codes of findings; with a table behind a slash, of that table alone. */
  codes: readonly string[];
  /** @returns what was done, as a sentence, or null when it could not be */
  mend(face: Face, out: Changed): string | null;
}

const MAGIC = 0x5f0f3cf5;

/** Widths and bearings as far as they are there; the last width goes on, and bearings are those of the outlines. */
function metricsOf(face: Face): { advances: Uint16Array; sideBearings: Int16Array; known: number } {
  const data = face.bytes('hmtx') ?? new Uint8Array(0);
  const view = new DataView(data.buffer, data.byteOffset, data.length);
  const count = face.glyphCount;
  const said = Math.min(face.need(HHEA).numberOfHMetrics || count, count);
  const known = Math.min(said, Math.floor(data.length / 4));
  const usual = known > 0 ? view.getUint16(4 * (known - 1)) : Math.round(face.unitsPerEm / 2);
  return {
    advances: Uint16Array.from({ length: count }, (_, i) => (i < known ? view.getUint16(4 * i) : usual)),
    sideBearings: Int16Array.from({ length: count }, (_, i) => Math.floor(boundsOf(face, i)?.xMin ?? 0)),
    known,
  };
}

function boundsOf(face: Face, glyph: number): { xMin: number; yMin: number; xMax: number; yMax: number } | null {
  const pen = new BoundsPen();
  return face.draw(glyph, pen) ? pen.bounds : null;
}

/** Top and bottom of all that is drawn. */
function inkOf(face: Face): { top: number; bottom: number } {
  let [top, bottom] = [-Infinity, Infinity];
  for (let i = 0; i < face.glyphCount; i++) {
    const b = boundsOf(face, i);
    if (b) [top, bottom] = [Math.max(top, b.yMax), Math.min(bottom, b.yMin)];
  }
  return top > bottom ? { top: Math.ceil(top), bottom: Math.floor(bottom) } : { top: face.unitsPerEm, bottom: 0 };
}

/** Whether the face calls itself slanted, and bold, by its names and its angle. */
function styleSaid(face: Face): { italic: boolean; bold: boolean } {
  const style = `${face.name(NAME_ID.typographicSubfamily) ?? ''} ${face.name(NAME_ID.subfamily) ?? ''}`;
  return {
    italic: /italic|oblique|kursiv/i.test(style) || (face.table(POST_HEADER)?.italicAngle ?? 0) !== 0,
    bold: /\bbold\b/i.test(style),
  };
}

const postScript = (text: string): string => text.replace(/[^\x21-\x7e]|[[\](){}<>/%]/g, '').slice(0, 63) || 'Unnamed';

/** All repairs, in the order in which they are made. */
const MENDS: readonly Mend[] = [
  {
    codes: ['misaligned-table', 'bad-checksum', 'overlapping-tables', 'unsorted-directory', 'duplicate-table', 'gap-or-trailing-data'],
    // All of it comes out right when the tables are written again.
    mend: () => 'The tables were written again: each once, in order, with right checksums.',
  },
  {
    codes: ['bad-magic'],
    mend(face, out) {
      out.put(HEAD, { ...face.need(HEAD), magicNumber: MAGIC });
      return 'The magic number of the head table was put in.';
    },
  },
  {
    codes: ['bad-loca-format'],
    mend(face, out) {
      const length = face.bytes('loca')?.length ?? 0;
      const format = length === 4 * (face.glyphCount + 1) ? 1 : length === 2 * (face.glyphCount + 1) ? 0 : null;
      if (format === null) return null;
      out.put(HEAD, { ...out.need(HEAD), indexToLocFormat: format });
      return `The form of the loca table (${format === 1 ? 'long' : 'short'}) is told rightly.`;
    },
  },
  {
    codes: ['bad-table/maxp'],
    mend(face, out) {
      const cff = !face.has('glyf');
      const glyphs = cff ? Array.from({ length: face.glyphCount }, () => null) : glyphsOf(face).glyphs;
      const old = face.table(MAXP);
      const depth = depthOf(glyphs);
      const made = profileOf(glyphs, cff ? 'CFF' : 'glyf');
      // Room for instructions as it was told; where nothing was, as much as there may be.
      const room = (value: number | null | undefined, most: number): number => value ?? most;
      out.put(
        MAXP,
        cff
          ? made
          : {
              ...made,
              ...depth,
              maxZones: 2,
              maxTwilightPoints: room(old?.maxTwilightPoints, 16),
              maxStorage: room(old?.maxStorage, 64),
              maxFunctionDefs: room(old?.maxFunctionDefs, 256),
              maxInstructionDefs: room(old?.maxInstructionDefs, 0),
              maxStackElements: room(old?.maxStackElements, 1024),
              maxSizeOfInstructions: room(old?.maxSizeOfInstructions, 8192),
            },
      );
      return 'The maxp table was computed anew from the outlines.';
    },
  },
  {
    codes: ['bad-metrics-count', 'short-hmtx', 'missing-table/hmtx'],
    mend(face, out) {
      const { advances, sideBearings, known } = metricsOf(face);
      out.put(HHEA, { ...face.need(HHEA), numberOfHMetrics: longMetricsOf(advances) });
      out.put(HMTX, { advances, sideBearings });
      const lost = face.glyphCount - known;
      return `The widths were written anew${lost > 0 ? `; ${lost === 1 ? 'one that was not there is' : `${lost} that were not there are`} as the last that was` : ''}.`;
    },
  },
  {
    codes: ['contradictory-metrics/hhea'],
    mend(face, out) {
      const os2 = face.table(OS2);
      const ink = inkOf(face);
      const usable = os2 && (os2.sTypoAscender ?? 0) - (os2.sTypoDescender ?? 0) > 0;
      const [ascender, descender] = usable ? [os2.sTypoAscender!, os2.sTypoDescender!] : [ink.top, ink.bottom];
      out.put(HHEA, { ...out.need(HHEA), ascender, descender, lineGap: Math.max(0, out.need(HHEA).lineGap) });
      return `Lines stand ${ascender - descender} units apart now, by ${usable ? 'the metrics of OS/2' : 'the highest and the lowest ink'}.`;
    },
  },
  {
    codes: ['contradictory-metrics/OS/2'],
    mend(face, out) {
      const os2 = face.need(OS2);
      const [ascender, descender, lineGap] = [os2.sTypoAscender!, os2.sTypoDescender!, os2.sTypoLineGap ?? 0];
      if (ascender - descender <= 0) return null;
      out.put(HHEA, { ...out.need(HHEA), ascender, descender, lineGap });
      return 'The line metrics of hhea are those of OS/2 now, which the face asks programs to use.';
    },
  },
  {
    codes: ['missing-table/OS/2'],
    mend(face, out) {
      const { ascender, descender, lineGap } = out.need(HHEA);
      const { italic, bold } = styleSaid(face);
      const em = face.unitsPerEm;
      const part = (share: number): number => Math.round(em * share);
      const ink = inkOf(face);
      const map = face.characters?.codePoints ?? new Uint32Array(0);
      const wide = out.need(HMTX).advances.filter((a) => a > 0);
      out.put(OS2, {
        version: 4,
        xAvgCharWidth: wide.length === 0 ? 0 : Math.round(wide.reduce((a, b) => a + b, 0) / wide.length),
        usWeightClass: bold ? 700 : 400,
        usWidthClass: 5,
        fsType: 0,
        ySubscriptXSize: part(0.65),
        ySubscriptYSize: part(0.6),
        ySubscriptXOffset: 0,
        ySubscriptYOffset: part(0.075),
        ySuperscriptXSize: part(0.65),
        ySuperscriptYSize: part(0.6),
        ySuperscriptXOffset: 0,
        ySuperscriptYOffset: part(0.35),
        yStrikeoutSize: part(0.05),
        yStrikeoutPosition: part(0.25),
        sFamilyClass: 0,
        panose: new Array<number>(10).fill(0),
        ulUnicodeRange1: 0,
        ulUnicodeRange2: 0,
        ulUnicodeRange3: 0,
        ulUnicodeRange4: 0,
        achVendID: '    ',
        fsSelection: (italic ? 1 : 0) | (bold ? 0x20 : 0) | (!italic && !bold ? 0x40 : 0),
        usFirstCharIndex: Math.min(0xffff, map[0] ?? 0),
        usLastCharIndex: Math.min(0xffff, map[map.length - 1] ?? 0),
        sTypoAscender: ascender,
        sTypoDescender: descender,
        sTypoLineGap: lineGap,
        usWinAscent: Math.max(0, ink.top),
        usWinDescent: Math.max(0, -ink.bottom),
        ulCodePageRange1: 0,
        ulCodePageRange2: 0,
        sxHeight: 0,
        sCapHeight: 0,
        usDefaultChar: 0,
        usBreakChar: 0x20,
        usMaxContext: 0,
        usLowerOpticalPointSize: null,
        usUpperOpticalPointSize: null,
      });
      return 'An OS/2 table was made from the names and metrics. It sets no embedding permission: what the license says counts.';
    },
  },
  {
    codes: ['contradictory-style'],
    mend(face, out) {
      const { italic, bold } = styleSaid(face);
      const [head, os2] = [out.need(HEAD), out.need(OS2)];
      const linked = (italic ? 1 : 0) | (bold ? 0x20 : 0);
      out.put(HEAD, { ...head, macStyle: (head.macStyle & ~3) | (bold ? 1 : 0) | (italic ? 2 : 0) });
      out.put(OS2, { ...os2, fsSelection: (os2.fsSelection & ~0x61) | linked | (linked === 0 ? 0x40 : 0) });
      return `Both tables say ${bold ? 'bold' : 'not bold'} and ${italic ? 'italic' : 'not italic'} now, as its names do.`;
    },
  },
  {
    codes: ['bad-weight'],
    mend(face, out) {
      const os2 = out.need(OS2);
      const weight = os2.usWeightClass < 1 ? (styleSaid(face).bold ? 700 : 400) : 1000;
      out.put(OS2, { ...os2, usWeightClass: weight });
      return `The weight class is ${weight} now.`;
    },
  },
  {
    codes: ['bad-width'],
    mend(_face, out) {
      out.put(OS2, { ...out.need(OS2), usWidthClass: 5 });
      return 'The width class is 5, the usual one, now.';
    },
  },
  {
    codes: ['missing-table/name'],
    mend(face, out) {
      const cff = face.has('CFF ') ? face.need(CFF) : null;
      const family = cff?.texts.get(DICT.FamilyName) ?? cff?.name ?? 'Unnamed';
      out.put(NAME, windowsNames({ 1: family, 2: 'Regular', 3: postScript(family), 4: family, 5: 'Version 1.000', 6: postScript(family) }));
      return `A name table was made; the face calls itself “${family}”.`;
    },
  },
  {
    codes: ['bad-postscript-name'],
    mend(face, out) {
      const table = out.need(NAME);
      const name = postScript(face.name(NAME_ID.postScriptName)?.replace(/\s+/g, '') ?? '');
      const records = table.records.filter((r) => r.nameID !== NAME_ID.postScriptName);
      out.put(NAME, { ...table, records: [...records, ...windowsNames({ [NAME_ID.postScriptName]: name }).records] });
      return `The PostScript name is “${name}” now.`;
    },
  },
  {
    codes: ['bad-character-map', 'dangling-characters', 'mac-encoding'],
    mend(face, out) {
      const map = face.characters;
      if (!map || map.encoding === 'symbol') return null;
      const pairs = Array.from(map.codePoints, (c, i): [number, number] => [c, map.glyphs[i]!]).filter(([, g]) => g !== 0);
      const selectors = (() => {
        try {
          return face.table(CMAP)?.subtables.filter((s) => s.format === 14) ?? [];
        } catch (error) {
          expectFontError(error);
          return [];
        }
      })();
      const made = unicodeMap(pairs);
      if (selectors[0]) {
        made.encodingRecords.splice(
          made.encodingRecords.findIndex((r) => r.platformID === 3),
          0,
          {
            platformID: 0,
            encodingID: 5,
            subtable: made.subtables.length,
          },
        );
        made.subtables.push(selectors[0]);
      }
      out.put(CMAP, { version: 0, ...made });
      return `The character map was written anew with ${pairs.length.toLocaleString('en-US')} characters, each once; of two entries the first counts.`;
    },
  },
  {
    codes: ['bad-table/post', 'missing-table/post'],
    mend(face, out) {
      const header = ((): ReturnType<typeof POST_HEADER.read> | null => {
        try {
          return face.table(POST_HEADER);
        } catch (error) {
          expectFontError(error);
          return null;
        }
      })();
      const glyphNames = face.has('glyf') ? namesFor(face) : null;
      out.put(POST, {
        italicAngle: header?.italicAngle ?? 0,
        underlinePosition: header?.underlinePosition ?? -Math.round(face.unitsPerEm / 10),
        underlineThickness: header?.underlineThickness ?? Math.round(face.unitsPerEm / 20),
        isFixedPitch: header?.isFixedPitch ?? 0,
        minMemType42: 0,
        maxMemType42: 0,
        minMemType1: 0,
        maxMemType1: 0,
        version: glyphNames ? 0x00020000 : 0x00030000,
        glyphNames,
      });
      return `The post table was written anew${glyphNames ? ', with names of glyphs by their characters' : ''}.`;
    },
  },
  {
    codes: ['contradictory-pitch', 'unmarked-pitch'],
    mend(face, out) {
      const fixed = face.table(POST_HEADER)?.isFixedPitch ?? 0;
      out.put(POST, { ...out.need(POST), isFixedPitch: fixed === 0 ? 1 : 0 });
      return fixed === 0
        ? 'The face says that its characters have one width.'
        : 'The face no longer says that its characters have one width.';
    },
  },
  {
    codes: ['bad-glyph', 'bad-loca'],
    mend(face, out) {
      if (face.has('glyf')) {
        const { glyphs, damaged } = glyphsOf(face);
        if (damaged.length === 0) return null;
        const { glyf, offsets } = writeGlyphs(glyphs);
        out.put(HEAD, { ...out.need(HEAD), indexToLocFormat: locaFormatFor(offsets) });
        out.tables.set('glyf', glyf);
        out.put(LOCA, offsets);
        return emptied(damaged);
      }
      const damaged = damagedGlyphs(face);
      if (!face.has('CFF ') || damaged.length === 0) return null;
      const cff = face.need(CFF);
      const charStrings = cff.charStrings.slice();
      for (const glyph of damaged) charStrings[glyph] = new CharStringPen(widthOperand(face, glyph)).charString();
      out.put(CFF, { ...cff, charStrings });
      return emptied(damaged);
    },
  },
];

const emptied = (damaged: readonly number[]): string =>
  `${damaged.length === 1 ? 'The glyph' : `${damaged.length} glyphs`} with damaged outlines ${damaged.length === 1 ? 'is' : 'are'} empty now: ${damaged.slice(0, 8).join(', ')}${damaged.length > 8 ? ' …' : ''}.`;

/** What a charstring says of its width: null when it is the usual one of its font. */
function widthOperand(face: Face, glyph: number): number | null {
  const cff = face.need(CFF);
  const dict = cff.fontDicts[cff.fdSelect?.[glyph] ?? 0]?.privateDict?.dict;
  const advance = face.advances?.advanceWidth(glyph) ?? 0;
  return advance === ((dict && operand(dict, DICT.defaultWidthX)) ?? 0)
    ? null
    : advance - ((dict && operand(dict, DICT.nominalWidthX)) ?? 0);
}

/** Glyphs read one by one, damaged ones as empty. */
function glyphsOf(face: Face): { glyphs: Glyph[]; damaged: number[] } {
  const glyf = face.bytes('glyf')!;
  const offsets = face.table(LOCA) ?? new Uint32Array(face.glyphCount + 1);
  const wrong = new Set(damagedGlyphs(face));
  const damaged: number[] = [];
  const glyphs = Array.from({ length: face.glyphCount }, (_, id): Glyph => {
    const [from, to] = [offsets[id] ?? 0, offsets[id + 1] ?? 0];
    if (!wrong.has(id) && from <= to && to <= glyf.length)
      try {
        return readGlyph(glyf.subarray(from, to));
      } catch (error) {
        expectFontError(error);
      }
    damaged.push(id);
    return null;
  });
  return { glyphs, damaged };
}

/** Limits of composed glyphs. Source: OpenType specification, maxp. */
function depthOf(
  glyphs: readonly Glyph[],
): Record<'maxCompositePoints' | 'maxCompositeContours' | 'maxComponentElements' | 'maxComponentDepth', number> {
  const known = new Map<number, { points: number; contours: number; depth: number }>();
  const look = (id: number, within: number): { points: number; contours: number; depth: number } => {
    const glyph = glyphs[id];
    if (!glyph || within > 16) return { points: 0, contours: 0, depth: 0 };
    const old = known.get(id);
    if (old) return old;
    const parts = glyph.kind === 'composite' ? glyph.components.map((c) => look(c.glyphIndex, within + 1)) : [];
    const sum =
      glyph.kind === 'simple'
        ? { points: glyph.x.length, contours: glyph.endPtsOfContours.length, depth: 0 }
        : {
            points: parts.reduce((n, p) => n + p.points, 0),
            contours: parts.reduce((n, p) => n + p.contours, 0),
            depth: 1 + parts.reduce((n, p) => Math.max(n, p.depth), 0),
          };
    known.set(id, sum);
    return sum;
  };
  const out = { maxCompositePoints: 0, maxCompositeContours: 0, maxComponentElements: 0, maxComponentDepth: 0 };
  glyphs.forEach((glyph, id) => {
    if (glyph?.kind !== 'composite') return;
    const { points, contours, depth } = look(id, 0);
    out.maxCompositePoints = Math.max(out.maxCompositePoints, points);
    out.maxCompositeContours = Math.max(out.maxCompositeContours, contours);
    out.maxComponentElements = Math.max(out.maxComponentElements, glyph.components.length);
    out.maxComponentDepth = Math.max(out.maxComponentDepth, depth);
  });
  return out;
}

/** Names of glyphs by their characters, none twice. Source: Adobe Glyph List specification, "uni" and "u" names. */
function namesFor(face: Face): string[] {
  const texts = face.textOfGlyphs();
  const taken = new Set<string>();
  return Array.from({ length: face.glyphCount }, (_, id) => {
    if (id === 0) return '.notdef';
    const c = texts.get(id)?.codePointAt(0);
    const hex = c?.toString(16).toUpperCase();
    const wanted = hex === undefined ? `glyph${id}` : hex.length > 4 ? `u${hex}` : `uni${hex.padStart(4, '0')}`;
    const name = taken.has(wanted) ? `glyph${id}` : wanted;
    taken.add(name);
    return name;
  });
}

/** Glyphs whose outer contours run the wrong way, all of them turned. */
function turned(face: Face): number[] {
  const wanted = face.outlineKind === 'glyf' ? -1 : 1;
  const out: number[] = [];
  for (let id = 0; id < face.glyphCount; id++) {
    const pen = new ContourPen();
    if (!face.draw(id, pen)) continue;
    pen.closePath();
    const area = pen.contours.reduce((sum, c) => sum + areaOf(c), 0);
    if (area * wanted < 0) out.push(id);
  }
  return out;
}

/** Contours run the other way round; the ink is the same. Composed glyphs follow their parts. */
function turnGlyphs(face: Face, out: Changed, glyphs: Glyph[]): string | null {
  const wrong = new Set(turned(face));
  if (wrong.size === 0) return null;
  const draw = (id: number, pen: ContourPen): void => {
    face.draw(id, new ReversePen(pen));
    pen.closePath();
  };
  let count = 0;
  if (face.has('glyf')) {
    for (const id of wrong) {
      const glyph = glyphs[id];
      if (glyph?.kind !== 'simple') continue;
      glyphs[id] = reversedGlyph(glyph);
      count++;
    }
    if (count === 0) return null;
    const { glyf, offsets } = writeGlyphs(glyphs);
    out.put(HEAD, { ...out.need(HEAD), indexToLocFormat: locaFormatFor(offsets) });
    out.tables.set('glyf', glyf);
    out.put(LOCA, offsets);
  } else if (face.has('CFF ')) {
    const cff = out.need(CFF);
    const charStrings = cff.charStrings.slice();
    for (const id of wrong) {
      const contours = new ContourPen();
      draw(id, contours);
      const pen = new CharStringPen(widthOperand(face, id));
      for (const c of contours.contours) drawContour(c, pen);
      charStrings[id] = pen.charString();
      count++;
    }
    out.put(CFF, { ...cff, charStrings });
  }
  return count === 0
    ? null
    : `The contours of ${count === 1 ? 'a glyph run' : `${count} glyphs run`} the right way round now; the ink is the same, and their instructions are gone.`;
}

/** The same points in the other order, each contour from its first point on; instructions, which count points, go. */
function reversedGlyph(glyph: Glyph & { kind: 'simple' }): Glyph {
  const order: number[] = [];
  let first = 0;
  for (const last of glyph.endPtsOfContours) {
    order.push(first);
    for (let i = last; i > first; i--) order.push(i);
    first = last + 1;
  }
  return {
    ...glyph,
    x: Int16Array.from(order, (i) => glyph.x[i]!),
    y: Int16Array.from(order, (i) => glyph.y[i]!),
    onCurve: Uint8Array.from(order, (i) => glyph.onCurve[i]!),
    instructions: new Uint8Array(0),
  };
}

/**
 * Glyph 0 stands for what is missing, and an empty one hides that something is: it becomes a box.
 * Source: OpenType specification, "Recommendations for OpenType Fonts", glyph 0.
 */
function drawNotdef(face: Face, out: Changed, glyphs: Glyph[]): string | null {
  if (face.glyphCount === 0 || boundsOf(face, 0) !== null) return null;
  const em = face.unitsPerEm;
  const { advances, sideBearings } = out.need(HMTX);
  const width = advances[0]! > em / 10 ? advances[0]! : Math.round(em / 2);
  const [left, right, height, stroke] = [0.1 * width, 0.9 * width, 0.7 * em, 0.05 * em].map(Math.round) as [number, number, number, number];
  const outer = face.has('glyf') ? 1 : -1;
  const box = (pen: Pen): void => {
    for (const [inset, way] of [
      [0, outer],
      [stroke, -outer],
    ] as const) {
      const corners: [number, number][] = [
        [left + inset, inset],
        [left + inset, height - inset],
        [right - inset, height - inset],
        [right - inset, inset],
      ];
      if (way < 0) corners.reverse();
      pen.moveTo(...corners[0]!);
      for (const corner of corners.slice(1)) pen.lineTo(...corner);
      pen.closePath();
    }
  };
  const widths = Uint16Array.from([width, ...advances.subarray(1)]);
  const boxed = { advances: widths, sideBearings: Int16Array.from([left, ...sideBearings.subarray(1)]) };
  if (face.has('glyf')) {
    const pen = new GlyfPen();
    box(pen);
    glyphs[0] = pen.glyph();
    const { glyf, offsets } = writeGlyphs(glyphs);
    const maxp = out.need(MAXP);
    out.put(MAXP, { ...maxp, maxPoints: Math.max(8, maxp.maxPoints ?? 0), maxContours: Math.max(2, maxp.maxContours ?? 0) });
    out.put(HEAD, { ...out.need(HEAD), indexToLocFormat: locaFormatFor(offsets) });
    out.tables.set('glyf', glyf);
    out.put(LOCA, offsets);
  } else if (face.has('CFF ')) {
    const cff = out.need(CFF);
    const dict = cff.fontDicts[cff.fdSelect?.[0] ?? 0]?.privateDict?.dict;
    const usual = (dict && operand(dict, DICT.defaultWidthX)) ?? 0;
    const pen = new CharStringPen(width === usual ? null : width - ((dict && operand(dict, DICT.nominalWidthX)) ?? 0));
    box(pen);
    out.put(CFF, { ...cff, charStrings: [pen.charString(), ...cff.charStrings.slice(1)] });
  } else return null;
  out.put(HHEA, { ...out.need(HHEA), numberOfHMetrics: longMetricsOf(widths) });
  out.put(HMTX, boxed);
  return 'Glyph 0, which stands for what is missing, was empty and is a box now.';
}

const matches = (code: string, finding: Pick<Finding, 'code' | 'table'>): boolean =>
  code === finding.code || code === `${finding.code}/${finding.table ?? ''}`;

/** Whether what the reader found can be put right here. */
export const canMend = (finding: Pick<Finding, 'code' | 'table'>): boolean => MENDS.some((m) => m.codes.some((c) => matches(c, finding)));

/** Puts right what can be without anybody's taste: order, checksums, contradictions, damaged tables and glyphs. */
export const MEND: Step = {
  id: 'mend',
  version: 2,
  change: 'outlines',
  label: () => 'mended where it was faulty',
  needs: () => [],
  // A sound face comes out with the tables it came with.
  run: ({ face }) => mended(face).bytes,
  prove: proveMended,
};

function mended(face: Face): { bytes: Uint8Array; changes: string[] } {
  const findings = inspectFace(face).findings;
  const out = new Changed(face, []);
  const changes: string[] = [];
  for (const { codes, mend } of MENDS) {
    if (!findings.some((f) => codes.some((c) => matches(c, f)))) continue;
    const done = mend(face, out);
    if (done) changes.push(done);
  }
  // Damaged outlines come first; those that are sound are looked at for what the reader has no finding of.
  if (!findings.some((f) => f.severity === 'blocks') && !face.has('fvar')) {
    // Both work on one list, so that neither undoes what the other did.
    const glyphs = face.has('glyf') ? [...glyphsOf(face).glyphs] : [];
    for (const look of [turnGlyphs, drawNotdef]) {
      const done = look(face, out, glyphs);
      if (done) changes.push(done);
    }
  }
  return { bytes: writeSfnt({ ...face.font, tables: out.tables, faults: [] }), changes };
}

/** Shows that what was found is gone, nothing new was found, and that every glyph that could be drawn is drawn as it was. */
function proveMended(before: Face, after: Face): Comparison {
  const differences: string[] = [];
  const { changes } = mended(before);
  const was = inspectFace(before).findings;
  const is = inspectFace(after).findings;
  for (const f of is)
    if (f.severity !== 'note' && !was.some((w) => w.code === f.code && w.table === f.table))
      differences.push(`It has a fault that it had not: ${f.message}`);
  const damaged = new Set(was.some((f) => f.code === 'bad-glyph' || f.code === 'bad-loca') ? glyphsThatFail(before) : []);
  const print = (face: Face, glyph: number): string => {
    const pen = new HashPen();
    return face.draw(glyph, pen) ? pen.digest : '';
  };
  const turnedNow = new Set(was.some((f) => f.severity === 'blocks') || before.has('fvar') ? [] : turned(before));
  let glyphsCompared = 0;
  const map = before.characters;
  map?.codePoints.forEach((c, i) => {
    const glyph = map.glyphs[i]!;
    if (damaged.has(glyph)) return;
    glyphsCompared++;
    // Contours that run the other way draw other steps and the same ink.
    const same = turnedNow.has(glyph)
      ? sameInk(contoursOf(before, glyph), contoursOf(after, after.glyphOf(c)), before.unitsPerEm / 1000) &&
        before.advances?.advanceWidth(glyph) === after.advances?.advanceWidth(after.glyphOf(c))
      : print(before, glyph) === print(after, after.glyphOf(c));
    if (!same && differences.length < 5) differences.push(`U+${c.toString(16).toUpperCase().padStart(4, '0')} is drawn differently.`);
  });
  return { equal: differences.length === 0, differences, glyphsCompared, changes };
}

function contoursOf(face: Face, glyph: number): Contour[] {
  const pen = new ContourPen();
  face.draw(glyph, pen);
  pen.closePath();
  return pen.contours;
}

function glyphsThatFail(face: Face): number[] {
  try {
    return face.has('glyf') ? glyphsOf(face).damaged : damagedGlyphs(face);
  } catch (error) {
    expectFontError(error);
    return [];
  }
}
