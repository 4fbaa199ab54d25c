import { BoundsPen } from '../outline/index.js';
import { openFont, type Face, type OutlineKind } from '../font/index.js';
import {
  bestName,
  expectFontError,
  FontError,
  FVAR,
  HEAD,
  HHEA,
  HIDDEN_AXIS,
  NAME_ID,
  OS2,
  POST_HEADER,
  readLayoutTags,
  type Cmap,
  type Codec,
  type FontFormat,
  type Head,
  type Hhea,
  type Hmtx,
  type NameRecord,
  type Os2,
  type PostHeader,
} from '../sfnt/index.js';
import { toRuns } from '../text/index.js';
import { deepCheck } from './deep-check.js';
import { decodeEmbedding, type Embedding } from './embedding.js';
import { checkSoundness, type Finding } from './soundness.js';

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
  outlines: OutlineKind;
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

/** The tables every reader of facts needs, those that are damaged as null. */
export interface FaceTables {
  face: Face;
  head: Head;
  hhea: Hhea;
  os2: Os2 | null;
  post: PostHeader | null;
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
  const { format, faces } = openFont(bytes, codec);
  return { format, faces: faces.map(factsOf) };
}

/**
 * Reads the facts and looks into every glyph, so that the findings also say what a browser would refuse.
 * @throws FontError as `readFacts` does.
 */
export function inspectFont(bytes: Uint8Array, codec: Codec): FileFacts {
  const { format, faces } = openFont(bytes, codec);
  return { format, faces: faces.map(inspectFace) };
}

/** The facts of an opened face with what a look into every glyph finds. @throws FontError as `factsOf` does */
export function inspectFace(face: Face): FaceFacts {
  const facts = factsOf(face);
  const known = new Set(facts.findings.map((f) => `${f.code}/${f.table}`));
  const deep = deepCheck(face).filter((f) => !known.has(`${f.code}/${f.table}`));
  return { ...facts, findings: [...deep, ...facts.findings] };
}

/** Reads something a face can do without; a damaged table becomes a finding and counts as absent. */
function optional<T>(tag: string, findings: Finding[], read: () => T): T | null {
  try {
    return read();
  } catch (error) {
    expectFontError(error);
    findings.push({
      code: 'bad-table',
      severity: 'fault',
      table: tag,
      message: `The ${tag.trim()} table cannot be read: ${error.message}`,
    });
    return null;
  }
}

function readTables(face: Face, findings: Finding[]): FaceTables {
  const head = face.need(HEAD);
  if (head.unitsPerEm === 0) throw new FontError('bad-table', 'The font gives its em no size (unitsPerEm is 0).', { table: 'head' });
  const hhea = face.need(HHEA);
  const numGlyphs = face.glyphCount;
  const cmap = optional('cmap', findings, () => face.characters);
  const named = optional('name', findings, () => face.names);
  if (named && named.skipped > 0)
    findings.push({
      code: 'unreadable-names',
      severity: 'note',
      table: 'name',
      message: `${named.skipped} of the font's names cannot be read and are passed over.`,
    });
  return {
    face,
    head,
    hhea,
    numGlyphs,
    os2: optional('OS/2', findings, () => face.table(OS2)),
    post: optional('post', findings, () => face.table(POST_HEADER)),
    cmap,
    hmtx: optional('hmtx', findings, () => face.advances),
    names: named?.records ?? [],
  };
}

/** Everything the record of an opened face holds. @throws FontError when it is too damaged to say what it is */
export function factsOf(face: Face): FaceFacts {
  const findings: Finding[] = [];
  const tables = readTables(face, findings);
  const { head, hhea, os2, post, cmap, names } = tables;
  const name = (id: number): string | null => bestName(names, id);
  const layout = { scripts: new Set<string>(), features: new Set<string>() };
  for (const tag of ['GSUB', 'GPOS'] as const) {
    const data = face.bytes(tag);
    const tags = data && optional(tag, findings, () => readLayoutTags(data, tag));
    tags?.scripts.forEach((t) => layout.scripts.add(t));
    tags?.features.forEach((t) => layout.features.add(t));
  }
  const fvar = optional('fvar', findings, () => face.table(FVAR));
  const heights = readHeights(tables);
  const facts: Omit<FaceFacts, 'findings'> = {
    index: face.index,
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
    outlines: face.outlineKind,
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
    color: face.color,
    axes: (fvar?.axes ?? []).map((axis) => ({
      tag: axis.axisTag,
      min: axis.minValue,
      default: axis.defaultValue,
      max: axis.maxValue,
      name: name(axis.axisNameID),
      hidden: (axis.flags & HIDDEN_AXIS) !== 0,
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
function topOf({ cmap, face }: FaceTables, character: string): number | null {
  const glyph = cmap ? face.glyphOf(character.codePointAt(0)!) : 0;
  if (glyph === 0) return null;
  const pen = new BoundsPen();
  if (!face.draw(glyph, pen)) return null;
  return pen.bounds === null ? null : Math.round(pen.bounds.yMax);
}
