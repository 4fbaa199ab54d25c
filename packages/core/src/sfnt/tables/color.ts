import {
  constant,
  counted,
  declare,
  derived,
  f2dot14,
  fixed,
  formats,
  int16,
  late,
  list,
  offset24,
  offset32,
  record,
  rest,
  uint16,
  uint32,
  uint8,
  when,
  type Data,
  type Field,
  type Scope,
  type Table,
} from '../declare/index.js';
import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { Writer } from '../writer.js';
import { deltaSetIndexMap, itemVariationStore } from './variations.js';

/** Color tables present, in the words of the specification, with COLR's version. */
export function colorTables(tables: ReadonlyMap<string, Uint8Array>): string[] {
  const found: string[] = [];
  const colr = tables.get('COLR');
  if (colr && colr.length >= 2) found.push(`COLR${new Reader(colr, 'COLR').u16(0)}`);
  if (tables.has('SVG ')) found.push('SVG');
  if (tables.has('sbix')) found.push('sbix');
  if (tables.has('CBDT')) found.push('CBDT');
  return found;
}

/** One node of a color glyph; the fields are those of its format in the specification. */
export interface Paint {
  format: number;
  [field: string]: unknown;
}

const lengthOf =
  (name: string) =>
  ({ values }: Scope) =>
    ((values[name] as unknown[] | null) ?? []).length;
const base = { varIndexBase: uint32 };
const stop = { stopOffset: f2dot14, paletteIndex: uint16, alpha: f2dot14 };
const colorLine = record({ extend: uint8, colorStops: counted(record(stop)) });
const varColorLine = record({ extend: uint8, colorStops: counted(record({ ...stop, ...base })) });
const affine = { xx: fixed, yx: fixed, xy: fixed, yy: fixed, dx: fixed, dy: fixed };
const paintAt = (): Field<Paint> => paint;
const child = { paint: offset24(paintAt) };
const linear = { x0: int16, y0: int16, x1: int16, y1: int16, x2: int16, y2: int16 };
const radial = { x0: int16, y0: int16, radius0: uint16, x1: int16, y1: int16, radius1: uint16 };
const sweep = { centerX: int16, centerY: int16, startAngle: f2dot14, endAngle: f2dot14 };
const center = { centerX: int16, centerY: int16 };
const [scale, uniform, rotate, skew] = [
  { scaleX: f2dot14, scaleY: f2dot14 },
  { scale: f2dot14 },
  { angle: f2dot14 },
  { xSkewAngle: f2dot14, ySkewAngle: f2dot14 },
];
const translate = { dx: int16, dy: int16 };

/** Source: OpenType specification, COLR, "Paint tables"; even formats vary what the odd ones before them say, from 3 on. */
const paint: Field<Paint> = formats(uint8, {
  1: record({ numLayers: uint8, firstLayerIndex: uint32 }),
  2: record({ paletteIndex: uint16, alpha: f2dot14 }),
  3: record({ paletteIndex: uint16, alpha: f2dot14, ...base }),
  4: record({ colorLine: offset24(colorLine), ...linear }),
  5: record({ colorLine: offset24(varColorLine), ...linear, ...base }),
  6: record({ colorLine: offset24(colorLine), ...radial }),
  7: record({ colorLine: offset24(varColorLine), ...radial, ...base }),
  8: record({ colorLine: offset24(colorLine), ...sweep }),
  9: record({ colorLine: offset24(varColorLine), ...sweep, ...base }),
  10: record({ ...child, glyphID: uint16 }),
  11: record({ glyphID: uint16 }),
  12: record({ ...child, transform: offset24(record(affine)) }),
  13: record({ ...child, transform: offset24(record({ ...affine, ...base })) }),
  14: record({ ...child, ...translate }),
  15: record({ ...child, ...translate, ...base }),
  16: record({ ...child, ...scale }),
  17: record({ ...child, ...scale, ...base }),
  18: record({ ...child, ...scale, ...center }),
  19: record({ ...child, ...scale, ...center, ...base }),
  20: record({ ...child, ...uniform }),
  21: record({ ...child, ...uniform, ...base }),
  22: record({ ...child, ...uniform, ...center }),
  23: record({ ...child, ...uniform, ...center, ...base }),
  24: record({ ...child, ...rotate }),
  25: record({ ...child, ...rotate, ...base }),
  26: record({ ...child, ...rotate, ...center }),
  27: record({ ...child, ...rotate, ...center, ...base }),
  28: record({ ...child, ...skew }),
  29: record({ ...child, ...skew, ...base }),
  30: record({ ...child, ...skew, ...center }),
  31: record({ ...child, ...skew, ...center, ...base }),
  32: record({ sourcePaint: offset24(paintAt), compositeMode: uint8, backdropPaint: offset24(paintAt) }),
}) as unknown as Field<Paint>;

const v1 = (version: number): boolean => version >= 1;

const box = { xMin: int16, yMin: int16, xMax: int16, yMax: int16 };
const clipBox = formats(uint8, { 1: record(box), 2: record({ ...box, ...base }) });

const colr = record({
  version: uint16,
  numBaseGlyphRecords: derived(uint16, lengthOf('baseGlyphRecords')),
  baseGlyphRecords: offset32(list('numBaseGlyphRecords', record({ glyphID: uint16, firstLayerIndex: uint16, numLayers: uint16 })), true),
  layerRecords: late(4, offset32(list('numLayerRecords', record({ glyphID: uint16, paletteIndex: uint16 })), true)),
  numLayerRecords: derived(uint16, lengthOf('layerRecords')),
  baseGlyphList: when('version', v1, offset32(counted(record({ glyphID: uint16, paint: offset32(paint) }), uint32))),
  layerList: when('version', v1, offset32(counted(offset32(paint), uint32))),
  clipList: when(
    'version',
    v1,
    offset32(
      record({
        format: uint8,
        clips: counted(record({ startGlyphID: uint16, endGlyphID: uint16, clipBox: offset24(clipBox) }), uint32),
      }),
    ),
  ),
  varIndexMap: when('version', v1, offset32(deltaSetIndexMap)),
  itemVariationStore: when('version', v1, offset32(itemVariationStore)),
});

/** Colored glyphs in layers (version 0) or as graphs of paints (version 1). Source: OpenType specification, COLR. */
export const COLR = declare('COLR', colr);
export type Colr = Data<typeof colr>;

/** Palettes of colors as BGRA. Source: OpenType specification, CPAL. */
export interface Cpal {
  version: number;
  /** One list of colors a palette, all equally long. */
  palettes: { blue: number; green: number; red: number; alpha: number }[][];
  /** Version 1: bit 0 for light backgrounds, 1 for dark ones; one a palette. */
  paletteTypes: number[] | null;
  /** Version 1: name IDs, 0xFFFF for none. */
  paletteLabels: number[] | null;
  paletteEntryLabels: number[] | null;
}

export const CPAL: Table<Cpal> = {
  tag: 'CPAL',
  read(data) {
    const r = new Reader(data, 'CPAL');
    const version = r.u16(0);
    const [entries, count, records, at] = [r.u16(2), r.u16(4), r.u16(6), r.u32(8)];
    r.need(12, 2 * count);
    r.need(at, 4 * records);
    if (entries * count > 1 << 20)
      throw new FontError('bad-table', 'The CPAL table claims more colors than any font has.', { table: 'CPAL' });
    const palettes = Array.from({ length: count }, (_, p) =>
      Array.from({ length: entries }, (_, i) => {
        const c = at + 4 * (r.u16(12 + 2 * p) + i);
        return { blue: r.u8(c), green: r.u8(c + 1), red: r.u8(c + 2), alpha: r.u8(c + 3) };
      }),
    );
    const more = 12 + 2 * count;
    const listAt = (field: number, size: 2 | 4, length: number): number[] | null => {
      const start = version >= 1 ? r.u32(more + field) : 0;
      return start === 0 ? null : Array.from({ length }, (_, i) => (size === 4 ? r.u32(start + 4 * i) : r.u16(start + 2 * i)));
    };
    return {
      version,
      palettes,
      paletteTypes: listAt(0, 4, count),
      paletteLabels: listAt(4, 2, count),
      paletteEntryLabels: listAt(8, 2, entries),
    };
  },
  write({ version, palettes, paletteTypes, paletteLabels, paletteEntryLabels }) {
    const entries = palettes[0]?.length ?? 0;
    const starts: number[] = [];
    const colors: string[] = [];
    const known = new Map<string, number>();
    const body = new Writer();
    for (const palette of palettes) {
      const key = palette.map((c) => `${c.blue},${c.green},${c.red},${c.alpha}`).join(';');
      if (!known.has(key)) {
        known.set(key, colors.length);
        for (const c of palette) {
          colors.push('');
          for (const part of [c.blue, c.green, c.red, c.alpha]) body.u8(part);
        }
      }
      starts.push(known.get(key)!);
    }
    if (colors.length > 0xffff)
      throw new FontError('does-not-fit', 'The palettes hold more colors than the CPAL table can.', { table: 'CPAL' });
    const w = new Writer();
    const headLength = 12 + 2 * starts.length + (version >= 1 ? 12 : 0);
    for (const v of [version, entries, palettes.length, colors.length]) w.u16(v);
    w.u32(headLength);
    for (const s of starts) w.u16(s);
    let end = headLength + body.length;
    const tail = new Writer();
    if (version >= 1)
      for (const [values, size] of [
        [paletteTypes, 4],
        [paletteLabels, 2],
        [paletteEntryLabels, 2],
      ] as const) {
        w.u32(values ? end : 0);
        for (const v of values ?? []) {
          if (size === 4) tail.u32(v);
          else tail.u16(v);
        }
        end += size * (values?.length ?? 0);
      }
    w.put(body.done());
    w.put(tail.done());
    return w.done();
  },
};

const svg = record({
  version: uint16,
  documents: offset32({
    read(s) {
      const start = s.at;
      return counted(record({ startGlyphID: uint16, endGlyphID: uint16, svgDocOffset: uint32, svgDocLength: uint32 }))
        .read(s)
        .map(({ startGlyphID, endGlyphID, svgDocOffset, svgDocLength }) => ({
          startGlyphID,
          endGlyphID,
          document: s.r.slice(start + svgDocOffset, svgDocLength),
        }));
    },
    write(block, documents, scope) {
      uint16.write(block, documents.length, scope);
      for (const { startGlyphID, endGlyphID, document } of documents) {
        uint16.write(block, startGlyphID, scope);
        uint16.write(block, endGlyphID, scope);
        // One document may draw several ranges; it is stored once.
        block.link(
          4,
          block.child((c) => c.writer.put(document)),
        );
        uint32.write(block, document.length, scope);
      }
    },
  } as Field<{ startGlyphID: number; endGlyphID: number; document: Uint8Array }[]>),
  reserved: constant(uint32, 0),
});
/** SVG documents (plain or gzip) for ranges of glyphs. Source: OpenType specification, SVG. */
export const SVG = declare('SVG ', svg);
export type Svg = Data<typeof svg>;

const sbix = record({
  version: uint16,
  /** Bit 1: the outlines are drawn over the pictures. */
  flags: uint16,
  strikeCount: uint32,
  strikes: rest,
});
/** Header of the bitmap strikes; they themselves are kept as bytes. Source: OpenType specification, sbix. */
export const SBIX = declare('sbix', sbix);

const cbdt = record({ majorVersion: uint16, minorVersion: uint16, data: rest });
/** Header of color bitmaps; the pictures are kept as bytes. Source: OpenType specification, CBDT. */
export const CBDT = declare('CBDT', cbdt);

const cblc = record({ majorVersion: uint16, minorVersion: uint16, numSizes: uint32, sizes: rest });
/** Header of the places of color bitmaps. Source: OpenType specification, CBLC. */
export const CBLC = declare('CBLC', cblc);
