import * as fontkit from 'fontkit';
import { Refused } from './refused.js';

export type Format = 'ttf' | 'otf' | 'ttc' | 'woff' | 'woff2';

/** What a place finds in a file by itself. */
export interface Looked {
  format: Format;
  faces: { family: string; style: string; variable: boolean; colored: boolean; restricted: boolean; bitmapsOnly: boolean }[];
}

const SIGNATURES: Readonly<Record<string, Format>> = {
  '\0\x01\0\0': 'ttf',
  true: 'ttf',
  OTTO: 'otf',
  ttcf: 'ttc',
  wOFF: 'woff',
  wOF2: 'woff2',
};
const NEEDED = ['cmap', 'head', 'hhea', 'hmtx', 'maxp'];
const COLORED = ['COLR', 'SVG ', 'sbix', 'CBDT', 'EBDT'];
/** Characters that are drawn for practice. */
const DRAWN = 24;

interface Opened {
  familyName: string | null;
  subfamilyName: string | null;
  numGlyphs: number;
  unitsPerEm: number;
  characterSet: number[];
  variationAxes: Record<string, unknown>;
  directory: { tables: Record<string, { offset: number; length: number }> };
  head: { magicNumber: number };
  hhea: { numberOfMetrics: number };
  loca?: { offsets: number[] };
  'OS/2'?: { version: number; fsType: Record<string, boolean> };
  glyphForCodePoint(c: number): { id: number; path: { commands: unknown[] }; advanceWidth: number };
  getName(key: string): string | null;
}

export const formatOf = (data: Buffer): Format | null => SIGNATURES[data.subarray(0, 4).toString('latin1')] ?? null;

/** Opens a font with a general font library and looks whether it can be worked with. @throws Refused */
export function look(data: Buffer): Looked {
  const format = formatOf(data);
  if (data.subarray(0, 2).toString('latin1') === 'PK')
    throw new Refused(415, 'This is a ZIP. Take the font files out of it and send them by themselves.');
  if (!format) throw new Refused(415, 'This is no font file.');
  let fonts: Opened[];
  try {
    const opened = fontkit.create(data) as unknown as Opened & { fonts?: Opened[] };
    fonts = format === 'ttc' ? (opened.fonts ?? []) : [opened];
    if (fonts.length === 0) throw new Refused(422, 'The collection is empty.');
    return { format, faces: fonts.map((font) => lookAt(font, data, format)) };
  } catch (error) {
    if (error instanceof Refused) throw error;
    throw new Refused(422, `The file cannot be read (${(error as Error).message.slice(0, 120)}).`);
  }
}

function lookAt(font: Opened, data: Buffer, format: Format): Looked['faces'][number] {
  const { tables } = font.directory;
  for (const tag of NEEDED) if (!tables[tag]) throw new Refused(422, `The file has no ${tag} table.`);
  if (format !== 'woff2')
    for (const [tag, { offset, length }] of Object.entries(tables))
      if (offset + (format === 'woff' ? 0 : length) > data.length) throw new Refused(422, `The ${tag} table lies outside the file.`);
  const colored = COLORED.filter((tag) => tables[tag]);
  const outlines = ['glyf', 'CFF ', 'CFF2'].some((tag) => tables[tag]);
  if (!outlines && colored.length === 0) throw new Refused(422, 'The file has no outlines.');
  if (font.head.magicNumber !== 0x5f0f3cf5) throw new Refused(422, 'The head table is damaged.');
  if (!(font.unitsPerEm >= 16 && font.unitsPerEm <= 16384)) throw new Refused(422, 'The em has an impossible size.');
  if (font.characterSet.length === 0) throw new Refused(422, 'The font has no characters.');
  const hmtx = tables.hmtx!.length;
  const { numberOfMetrics } = font.hhea;
  if (numberOfMetrics < 1 || (format !== 'woff2' && hmtx < 4 * numberOfMetrics + 2 * Math.max(0, font.numGlyphs - numberOfMetrics)))
    throw new Refused(422, 'The widths of the glyphs are cut short.');
  if (tables.glyf && format !== 'woff2' && (font.loca?.offsets.length ?? 0) < font.numGlyphs + 1)
    throw new Refused(422, 'The list of glyphs is cut short.');
  const step = Math.max(1, Math.floor(font.characterSet.length / DRAWN));
  for (let i = 0; i < font.characterSet.length; i += step) {
    const glyph = font.glyphForCodePoint(font.characterSet[i]!);
    if (glyph.id >= font.numGlyphs) throw new Refused(422, 'A character leads to a glyph that is not there.');
    // Reading the path is what fails when outlines are damaged.
    if (outlines && glyph.path.commands.length < 0) throw new Refused(422, 'A glyph is damaged.');
  }
  const type = font['OS/2']?.fsType ?? {};
  return {
    family: font.getName('preferredFamily') ?? font.familyName ?? '',
    style: font.getName('preferredSubfamily') ?? font.subfamilyName ?? 'Regular',
    variable: Boolean(tables.fvar),
    colored: colored.length > 0,
    restricted: Boolean(type.noEmbedding) && !type.viewOnly && !type.editable,
    bitmapsOnly: Boolean(type.bitmapOnly) && (font['OS/2']?.version ?? 0) >= 2,
  };
}

/** A line of text drawn as one SVG path from the file itself, for preview pictures. @throws Refused */
export function drawn(data: Buffer, text: string, size = 40): string {
  try {
    const font = fontkit.create(data) as unknown as {
      unitsPerEm: number;
      ascent: number;
      descent: number;
      layout(text: string): {
        glyphs: { path: { toSVG(): string } }[];
        positions: { xAdvance: number; xOffset: number; yOffset: number }[];
      };
    };
    const { glyphs, positions } = font.layout(text);
    let x = 0;
    const parts = glyphs.map((glyph, i) => {
      const at = positions[i]!;
      const part = `<path transform="translate(${x + at.xOffset} ${at.yOffset})" d="${glyph.path.toSVG()}"/>`;
      x += at.xAdvance;
      return part;
    });
    const scale = size / font.unitsPerEm;
    const height = (font.ascent - font.descent) * scale;
    return `<svg xmlns="http://www.w3.org/2000/svg" width="${Math.ceil(x * scale)}" height="${Math.ceil(height)}"><g transform="translate(0 ${(font.ascent * scale).toFixed(2)}) scale(${scale} ${-scale})" fill="currentColor">${parts.join('')}</g></svg>`;
  } catch (error) {
    throw new Refused(422, `No preview can be drawn (${(error as Error).message.slice(0, 120)}).`);
  }
}

/** Drawings in a font on private-use code points, with their glyphs' names. */
export function iconsIn(data: Buffer): { codePoint: number; name: string }[] {
  const font = fontkit.create(data) as unknown as {
    characterSet: number[];
    glyphForCodePoint(c: number): { name: string | null };
  };
  return font.characterSet
    .filter((c) => (c >= 0xe000 && c <= 0xf8ff) || c >= 0xf0000)
    .slice(0, 3000)
    .map((codePoint) => ({ codePoint, name: (font.glyphForCodePoint(codePoint).name ?? '').replace(/_/g, ' ') || codePoint.toString(16) }));
}
