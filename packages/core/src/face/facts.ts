import { BoundsPen, openOutlines } from '../outline/index.js';
import {
  bestName,
  colorTables,
  detectFormat,
  FLAVOR_CFF,
  FontError,
  glyphOf,
  Hmtx,
  NAME_ID,
  readCmap,
  readFontFile,
  readFvar,
  readHead,
  readHhea,
  readLayoutTags,
  readMaxp,
  readName,
  readOs2,
  readPost,
  type Cmap,
  type Codec,
  type FontFormat,
  type Head,
  type Hhea,
  type NameRecord,
  type Os2,
  type Post,
  type SfntFont,
} from '../sfnt/index.js';
import { deepCheck } from './deep-check.js';
import { decodeEmbedding, type Embedding } from './embedding.js';
import { toRuns } from './ranges.js';
import { checkSoundness, type Finding } from './soundness.js';

/** Raised with every change that makes `FaceFacts` come out differently, so that kept facts can be told stale. */
export const FACTS_VERSION = 6;

export interface AxisFacts {
  tag: string;
  min: number;
  default: number;
  max: number;
  name: string | null;
  hidden: boolean;
}

/** What a face is. Lengths in font units (see `unitsPerEm`); names in the best language, null where absent. */
export interface FaceFacts {
  index: number;
  family: string | null;
  subfamily: string | null;
  typographicFamily: string | null;
  typographicSubfamily: string | null;
  wwsFamily: string | null;
  wwsSubfamily: string | null;
  fullName: string | null;
  postScriptName: string | null;
  version: string | null;
  copyright: string | null;
  trademark: string | null;
  manufacturer: string | null;
  designer: string | null;
  description: string | null;
  vendorUrl: string | null;
  designerUrl: string | null;
  license: string | null;
  licenseUrl: string | null;
  sampleText: string | null;
  /** OS/2 achVendID, trimmed. */
  vendor: string | null;
  weightClass: number;
  widthClass: number;
  italic: boolean;
  oblique: boolean;
  italicAngle: number;
  monospaced: boolean;
  outlines: 'glyf' | 'CFF' | 'CFF2' | 'none';
  glyphCount: number;
  unitsPerEm: number;
  ascender: number;
  descender: number;
  lineGap: number;
  typoAscender: number | null;
  typoDescender: number | null;
  typoLineGap: number | null;
  winAscent: number | null;
  winDescent: number | null;
  useTypoMetrics: boolean;
  xHeight: number | null;
  capHeight: number | null;
  /** Whether x-height and cap height were measured because OS/2 has none. */
  heightsMeasured: boolean;
  codePoints: number;
  /** Covered code points as inclusive runs [first, last, ...]. */
  runs: number[];
  characterMap: Cmap['encoding'] | 'none';
  embedding: Embedding;
  color: string[];
  axes: AxisFacts[];
  instances: { name: string | null; coordinates: number[] }[];
  features: string[];
  layoutScripts: string[];
  findings: Finding[];
}

export interface FileFacts {
  format: FontFormat;
  faces: FaceFacts[];
}

/** The tables every reader of facts needs, read once. */
export interface FaceTables {
  font: SfntFont;
  head: Head;
  hhea: Hhea;
  os2: Os2 | null;
  post: Post | null;
  cmap: Cmap | null;
  hmtx: Hmtx | null;
  numGlyphs: number;
  names: NameRecord[];
}

/**
 * Reads everything a face's record holds.
 * @throws FontError when the file is not a font, or too damaged to say what it is.
 */
export function readFacts(bytes: Uint8Array, codec: Codec): FileFacts {
  const file = readFontFile(bytes, codec);
  return { format: formatOf(bytes, file.fonts), faces: file.fonts.map((font, index) => faceFacts(font, index)) };
}

/**
 * Reads the facts and looks into every glyph, so that the findings also say what a browser would refuse.
 * @throws FontError as `readFacts` does.
 */
export function inspectFont(bytes: Uint8Array, codec: Codec): FileFacts {
  const file = readFontFile(bytes, codec);
  const faces = file.fonts.map((font, index) => {
    const facts = faceFacts(font, index);
    const known = new Set(facts.findings.map((f) => `${f.code}/${f.table}`));
    const deep = deepCheck(font).filter((f) => !known.has(`${f.code}/${f.table}`));
    return { ...facts, findings: [...deep, ...facts.findings] };
  });
  return { format: formatOf(bytes, file.fonts), faces };
}

/** TTF and OTF by what is inside: a CFF font is an OTF whatever its name. */
function formatOf(bytes: Uint8Array, fonts: SfntFont[]): FontFormat {
  const format = detectFormat(bytes)!;
  if (format === 'ttf' || format === 'otf') return fonts[0]!.flavor === FLAVOR_CFF ? 'otf' : 'ttf';
  return format;
}

function need(font: SfntFont, tag: string): Uint8Array {
  const data = font.tables.get(tag);
  if (!data)
    throw new FontError('missing-table', `The font has no ${tag.trim()} table, and nothing can be done without it.`, { table: tag });
  return data;
}

/** Runs a reader of a table a face can do without; a damaged one becomes a finding and counts as absent. */
function optional<T>(font: SfntFont, tag: string, findings: Finding[], read: (data: Uint8Array) => T): T | null {
  const data = font.tables.get(tag);
  if (!data) return null;
  try {
    return read(data);
  } catch (error) {
    if (!(error instanceof FontError)) throw error;
    findings.push({
      code: 'bad-table',
      severity: 'fault',
      table: tag,
      message: `The ${tag.trim()} table cannot be read: ${error.message}`,
    });
    return null;
  }
}

export function readTables(font: SfntFont, findings: Finding[]): FaceTables {
  const head = readHead(need(font, 'head'));
  if (head.unitsPerEm === 0) throw new FontError('bad-table', 'The font gives its em no size (unitsPerEm is 0).', { table: 'head' });
  const hhea = readHhea(need(font, 'hhea'));
  const { numGlyphs } = readMaxp(need(font, 'maxp'));
  const cmap = optional(font, 'cmap', findings, (data) => readCmap(data, numGlyphs));
  const named = optional(font, 'name', findings, readName);
  if (named && named.skipped > 0)
    findings.push({
      code: 'unreadable-names',
      severity: 'note',
      table: 'name',
      message: `${named.skipped} of the font's names cannot be read and are passed over.`,
    });
  return {
    font,
    head,
    hhea,
    numGlyphs,
    os2: optional(font, 'OS/2', findings, readOs2),
    post: optional(font, 'post', findings, readPost),
    cmap,
    hmtx: optional(font, 'hmtx', findings, (data) => new Hmtx(data, hhea.numberOfHMetrics)),
    names: named?.records ?? [],
  };
}

export function outlineKind(font: SfntFont): FaceFacts['outlines'] {
  if (font.tables.has('CFF2')) return 'CFF2';
  if (font.tables.has('CFF ')) return 'CFF';
  return font.tables.has('glyf') ? 'glyf' : 'none';
}

function faceFacts(font: SfntFont, index: number): FaceFacts {
  const findings: Finding[] = [];
  const tables = readTables(font, findings);
  const { head, hhea, os2, post, cmap, names } = tables;
  const name = (id: number): string | null => bestName(names, id);
  const layout = { scripts: new Set<string>(), features: new Set<string>() };
  for (const tag of ['GSUB', 'GPOS'] as const) {
    const tags = optional(font, tag, findings, (data) => readLayoutTags(data, tag));
    tags?.scripts.forEach((t) => layout.scripts.add(t));
    tags?.features.forEach((t) => layout.features.add(t));
  }
  const fvar = optional(font, 'fvar', findings, readFvar);
  const heights = readHeights(tables);
  const facts: Omit<FaceFacts, 'findings'> = {
    index,
    family: name(NAME_ID.family),
    subfamily: name(NAME_ID.subfamily),
    typographicFamily: name(NAME_ID.typographicFamily),
    typographicSubfamily: name(NAME_ID.typographicSubfamily),
    wwsFamily: name(NAME_ID.wwsFamily),
    wwsSubfamily: name(NAME_ID.wwsSubfamily),
    fullName: name(NAME_ID.fullName),
    postScriptName: name(NAME_ID.postScriptName),
    version: name(NAME_ID.version),
    copyright: name(NAME_ID.copyright),
    trademark: name(NAME_ID.trademark),
    manufacturer: name(NAME_ID.manufacturer),
    designer: name(NAME_ID.designer),
    description: name(NAME_ID.description),
    vendorUrl: name(NAME_ID.vendorUrl),
    designerUrl: name(NAME_ID.designerUrl),
    license: name(NAME_ID.license),
    licenseUrl: name(NAME_ID.licenseUrl),
    sampleText: name(NAME_ID.sampleText),
    vendor: os2?.achVendID.replace(/\0/g, ' ').trim() || null,
    weightClass: os2?.usWeightClass ?? (head.macStyle & 1 ? 700 : 400),
    widthClass: os2?.usWidthClass ?? 5,
    italic: os2 ? (os2.fsSelection & 1) !== 0 : (head.macStyle & 2) !== 0,
    oblique: os2 !== null && os2.version >= 4 && (os2.fsSelection & 0x200) !== 0,
    italicAngle: post?.italicAngle ?? 0,
    monospaced: (post?.isFixedPitch ?? 0) !== 0,
    outlines: outlineKind(font),
    glyphCount: tables.numGlyphs,
    unitsPerEm: head.unitsPerEm,
    ascender: hhea.ascender,
    descender: hhea.descender,
    lineGap: hhea.lineGap,
    typoAscender: os2?.sTypoAscender ?? null,
    typoDescender: os2?.sTypoDescender ?? null,
    typoLineGap: os2?.sTypoLineGap ?? null,
    winAscent: os2?.usWinAscent ?? null,
    winDescent: os2?.usWinDescent ?? null,
    useTypoMetrics: os2 !== null && os2.version >= 4 && (os2.fsSelection & 0x80) !== 0,
    ...heights,
    codePoints: cmap?.codePoints.length ?? 0,
    runs: cmap ? toRuns(cmap.codePoints) : [],
    characterMap: cmap?.encoding ?? 'none',
    embedding: decodeEmbedding(os2?.fsType ?? 0, os2?.version ?? 0),
    color: colorTables(font.tables),
    axes: (fvar?.axes ?? []).map((axis) => ({
      tag: axis.axisTag,
      min: axis.minValue,
      default: axis.defaultValue,
      max: axis.maxValue,
      name: name(axis.axisNameID),
      hidden: axis.hidden,
    })),
    instances: (fvar?.instances ?? []).map((instance) => ({ name: name(instance.subfamilyNameID), coordinates: instance.coordinates })),
    features: [...layout.features].sort(),
    layoutScripts: [...layout.scripts].sort(),
  };
  findings.push(...checkSoundness(tables, facts));
  return { ...facts, findings };
}

/** OS/2 heights where they are given (version 2 and later, not zero), else the tops of x and H as drawn. */
function readHeights(tables: FaceTables): Pick<FaceFacts, 'xHeight' | 'capHeight' | 'heightsMeasured'> {
  const { os2 } = tables;
  const given = { xHeight: os2?.sxHeight || null, capHeight: os2?.sCapHeight || null };
  if (given.xHeight !== null && given.capHeight !== null) return { ...given, heightsMeasured: false };
  const measured = { xHeight: given.xHeight ?? topOf(tables, 'x'), capHeight: given.capHeight ?? topOf(tables, 'H') };
  return { ...measured, heightsMeasured: measured.xHeight !== given.xHeight || measured.capHeight !== given.capHeight };
}

/** Top of a character as drawn at the default instance, rounded to whole units; null when it cannot be drawn. */
function topOf(tables: FaceTables, character: string): number | null {
  const { cmap, font } = tables;
  const glyph = cmap ? glyphOf(cmap, character.codePointAt(0)!) : 0;
  if (glyph === 0) return null;
  const pen = new BoundsPen();
  try {
    openOutlines(font)?.draw(glyph, pen);
  } catch (error) {
    if (error instanceof FontError) return null;
    throw error;
  }
  return pen.bounds === null ? null : Math.round(pen.bounds.yMax);
}
