import { openShaper, type Shaper } from '../engines/index.js';
import { openOutlines, type Outlines, type Pen } from '../outline/index.js';
import {
  bestName,
  colorTables,
  FLAVOR_CFF,
  expectFontError,
  FontError,
  FVAR,
  glyphOf,
  HEAD,
  HHEA,
  Hmtx,
  MarkAnchors,
  MAXP,
  OS2,
  readCmap,
  readFontFile,
  readName,
  readSubstitutions,
  writeSfnt,
  type Cmap,
  type Codec,
  type FontFormat,
  type Fvar,
  type NameRecord,
  type SfntFont,
  type Substitution,
  type Table,
  type OpenTables,
} from '../sfnt/index.js';
import { missingFrom, toRuns, type MissingCharacter } from '../text/index.js';
import { Setting } from './setting.js';
import { looksLikeSvgFont, readSvgFonts } from './svg-font.js';

/** A font file opened: its format by what is inside, and its faces. */
export interface OpenedFont {
  format: FontFormat;
  faces: Face[];
}

/**
 * Opens a font file of any container, once: nothing is unpacked a second time, and each table is read when it is first
 * asked for and kept.
 * @throws FontError when the file is not a font or its container is damaged
 */
export function openFont(bytes: Uint8Array, codec: Codec): OpenedFont {
  if (looksLikeSvgFont(bytes)) return { format: 'svg', faces: readSvgFonts(bytes).map((font, index) => new Face(font, index, null)) };
  const { format, fonts } = readFontFile(bytes, codec);
  const plain = format === 'ttf' || format === 'otf' || format === 'ttc';
  const faces = fonts.map((font, index) => new Face(font, index, plain ? bytes : null));
  // TTF and OTF by what is inside: a CFF font is an OTF whatever its name.
  if (format === 'ttf' || format === 'otf') return { format: fonts[0]!.flavor === FLAVOR_CFF ? 'otf' : 'ttf', faces };
  return { format, faces };
}

/**
 * One face of a file.
 * @throws FontError as `openFont` does, and when the file holds no face of this number
 */
export function openFace(bytes: Uint8Array, codec: Codec, index = 0): Face {
  const { faces } = openFont(bytes, codec);
  const face = faces[index];
  if (!face)
    throw new FontError(
      'no-such-face',
      `The file holds ${faces.length} ${faces.length === 1 ? 'face' : 'faces'}; there is no number ${index}.`,
    );
  return face;
}

/** Reads something once; what it came to, an error too, is kept. */
class Once<T> {
  private state: { value: T } | { error: unknown } | null = null;
  constructor(private readonly make: () => T) {}
  get(): T {
    if (!this.state)
      try {
        this.state = { value: this.make() };
      } catch (error) {
        this.state = { error };
      }
    if ('error' in this.state) throw this.state.error;
    return this.state.value;
  }
}

export type OutlineKind = 'glyf' | 'CFF' | 'CFF2' | 'none';

/** A face that was opened. Nothing of it can be changed; a changed face is built anew. */
export class Face implements OpenTables {
  private readonly read = new Map<Table<unknown>, Once<unknown>>();
  private readonly own: {
    characters: Once<Cmap | null>;
    outlines: Once<Outlines | null>;
    advances: Once<Hmtx | null>;
    names: Once<{ records: NameRecord[]; skipped: number }>;
    sfnt: Once<{ sfnt: Uint8Array; faceIndex: number }>;
    shaper: Once<Shaper>;
    anchors: Once<MarkAnchors | null>;
    substitutions: Once<Substitution[]>;
    setting: Once<Setting>;
  };

  /**
   * @param index number in the file it came from
   * @param plain the bytes of that file when it is a plain sfnt, which engines can then read as it is
   */
  constructor(
    readonly font: SfntFont,
    readonly index: number,
    plain: Uint8Array | null,
  ) {
    this.own = {
      characters: new Once(() => (this.has('cmap') ? readCmap(this.bytes('cmap')!, this.glyphCount) : null)),
      outlines: new Once(() => openOutlines(this)),
      advances: new Once(() => (this.has('hmtx') ? new Hmtx(this.bytes('hmtx')!, this.need(HHEA).numberOfHMetrics) : null)),
      names: new Once(() => (this.has('name') ? readName(this.bytes('name')!) : { records: [], skipped: 0 })),
      sfnt: new Once(() => (plain ? { sfnt: plain, faceIndex: index } : { sfnt: writeSfnt(font), faceIndex: 0 })),
      shaper: new Once(() => openShaper(this.sfnt.sfnt, this.sfnt.faceIndex)),
      anchors: new Once(() => (this.has('GPOS') ? new MarkAnchors(this.bytes('GPOS')!) : null)),
      substitutions: new Once(() => (this.has('GSUB') ? readSubstitutions(this.bytes('GSUB')!) : [])),
      setting: new Once(() => new Setting(this)),
    };
  }

  /** Whether the directory lists a table, readable or not. */
  has(tag: string): boolean {
    return this.font.tables.has(tag);
  }

  /** A table's bytes, not to be written to; null when the font has none. */
  bytes(tag: string): Uint8Array | null {
    return this.font.tables.get(tag) ?? null;
  }

  table<T>(table: Table<T>): T | null {
    const data = this.bytes(table.tag);
    if (!data) return null;
    let once = this.read.get(table as Table<unknown>);
    if (!once) this.read.set(table as Table<unknown>, (once = new Once(() => table.read(data, this))));
    return once.get() as T;
  }

  need<T>(table: Table<T>): T {
    const value = this.table(table);
    if (value === null)
      throw new FontError('missing-table', `The font has no ${table.tag.trim()} table, and nothing can be done without it.`, {
        table: table.tag,
      });
    return value;
  }

  /** @throws FontError when maxp is missing or damaged */
  get glyphCount(): number {
    return this.need(MAXP).numGlyphs;
  }

  /** Font units an em. @throws FontError when head is missing or damaged */
  get unitsPerEm(): number {
    return this.need(HEAD).unitsPerEm;
  }

  get outlineKind(): OutlineKind {
    if (this.has('CFF2')) return 'CFF2';
    if (this.has('CFF ')) return 'CFF';
    return this.has('glyf') ? 'glyf' : 'none';
  }

  /** Color tables in the words of the specification, COLR with its version. */
  get color(): string[] {
    return colorTables(this.font.tables);
  }

  /** The best character map; null when there is none that can be read. @throws FontError when it is damaged */
  get characters(): Cmap | null {
    return this.own.characters.get();
  }

  /** Code points of the best character map, ascending. @throws FontError when it is damaged */
  get codePoints(): Uint32Array {
    return this.characters?.codePoints ?? new Uint32Array(0);
  }

  /** The same as runs [first, last, ...]. @throws FontError when it is damaged */
  get runs(): number[] {
    return toRuns([...this.codePoints]);
  }

  /** Glyph of a code point, 0 when it has none. @throws FontError when the character map is damaged */
  glyphOf(codePoint: number): number {
    const { characters } = this;
    return characters ? glyphOf(characters, codePoint) : 0;
  }

  /** First character of each glyph that has one. @throws FontError when the character map is damaged */
  textOfGlyphs(): Map<number, string> {
    const texts = new Map<number, string>();
    const { characters } = this;
    characters?.glyphs.forEach((glyph, i) => {
      if (!texts.has(glyph)) texts.set(glyph, String.fromCodePoint(characters.codePoints[i]!));
    });
    return texts;
  }

  /** Null when the face has none. @throws FontError when their table is damaged */
  outlines(): Outlines | null {
    return this.own.outlines.get();
  }

  /** Draws a glyph at the default instance, font units, y up. @returns false when it is damaged or there are no outlines */
  draw(glyph: number, pen: Pen): boolean {
    try {
      const outlines = this.outlines();
      outlines?.draw(glyph, pen);
      return outlines !== null;
    } catch (error) {
      expectFontError(error);
      return false;
    }
  }

  /** Advance widths; null without hmtx. @throws FontError when it is too short for them */
  get advances(): Hmtx | null {
    return this.own.advances.get();
  }

  /** Whether it places glyphs itself. */
  get hasPositions(): boolean {
    return this.has('GPOS');
  }

  /** Height of the letter x by OS/2, font units; 0 where that is not said or cannot be read. */
  get xHeight(): number {
    return this.orNothing(OS2)?.sxHeight ?? 0;
  }

  /** Tangent of the slant by post, positive where letters lean to the right; 0 where that is not said. */
  get slant(): number {
    // The field alone: the names of all glyphs, which the table holds as well, are not wanted here.
    const post = this.bytes('post');
    const angle = post && post.length >= 8 ? new DataView(post.buffer, post.byteOffset).getInt32(4) / 65536 : 0;
    // No face leans further; what does is a mistake in the table.
    return Math.abs(angle) < 45 ? Math.tan((-angle * Math.PI) / 180) : 0;
  }

  /** Advance of a glyph, font units; 0 where that cannot be read. */
  advanceOf(glyph: number): number {
    try {
      return this.advances?.advanceWidth(glyph) ?? 0;
    } catch (error) {
      expectFontError(error);
      return 0;
    }
  }

  /** A table, or null when it is missing or damaged. */
  private orNothing<T>(table: Table<T>): T | null {
    try {
      return this.table(table);
    } catch (error) {
      expectFontError(error);
      return null;
    }
  }

  /** Names that can be read, and how many cannot. @throws FontError when the table is damaged */
  get names(): { records: NameRecord[]; skipped: number } {
    return this.own.names.get();
  }

  /** The value of a name ID in the best language; null when the font has none. */
  name(nameID: number): string | null {
    return bestName(this.names.records, nameID);
  }

  /** Axes and named instances; null when the face is not variable. @throws FontError when they are damaged */
  get variations(): Fvar | null {
    return this.table(FVAR);
  }

  /** The face as a plain sfnt for engines: the whole file it came in, or tables packed anew. */
  get sfnt(): { sfnt: Uint8Array; faceIndex: number } {
    return this.own.sfnt.get();
  }

  /** HarfBuzz over this face. */
  get shaper(): Shaper {
    return this.own.shaper.get();
  }

  /** Where marks attach; null without GPOS. */
  get anchors(): MarkAnchors | null {
    return this.own.anchors.get();
  }

  /** What features put in the place of what, without contexts. */
  get substitutions(): readonly Substitution[] {
    return this.own.substitutions.get();
  }

  /** What it can set, tried by shaping. */
  get setting(): Setting {
    return this.own.setting.get();
  }

  /** What of a text does not come out, in order of first appearance; empty when all does. */
  writes(text: string): MissingCharacter[] {
    return missingFrom(text, this.setting);
  }
}
