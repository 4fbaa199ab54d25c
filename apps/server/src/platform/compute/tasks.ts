import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import {
  belongings,
  compareVersions,
  compileLicenses,
  drawGlyph,
  findDrawn,
  FontError,
  inspect,
  fallbackFor,
  needsFor,
  type Fallback,
  openFace,
  PRODUCTS,
  readRepertoire,
  readText,
  relateGlyph,
  render,
  shapeLine,
  type Belonging,
  type Built,
  type GivenCodePoint,
  type LicenseRecord,
  type ProductFinding,
  type BundleFace,
  type BundleText,
  type DrawnGlyph,
  type Face,
  type FontFormat,
  type GlyphRelations,
  type Inspection,
  type LanguageNeeds,
  type LicenseIndex,
  type Comparison,
  type Recipe,
  type Repertoire,
  type ShapedLine,
  type TextReading,
  type VersionChanges,
  type WordsWish as CoreWordsWish,
  type FilePart,
  HHEA,
  openPlaced,
  placeOf,
  splitForLanguages,
  SvgPathPen,
  wordShapes,
  wordsSvg,
} from '@orderly-glyph/core';
import { nodeCodec, nodePaths, nodeSubsetter, readDocument, sortBytes, wordsPdf, wordsPng } from '@orderly-glyph/node';
import { madePart, workspaceExport, type MadePart, type WorkspaceExport } from '@orderly-glyph/schema';
import type { z } from 'zod';
import { writePdf } from './work/document.js';
import { glyphDrawings, makeIcons, readIconFile, shapeIcon, takeIcons } from './work/icons.js';
import {
  countPages,
  letterPoints,
  makeTypeface,
  planFace,
  readSheetPage,
  readTypefaceFile,
  sheetFile,
  traceDrawn,
  typefaceZip,
  vectorLetters,
} from './work/typefaces.js';
import { decodePicture, searchAgain, shapeWord } from './work/pictures.js';
import { houseSheet, type HousePart } from './work/house-sheet.js';
import { pagesPdf, type SheetPage } from './work/page.js';
import { davAddresses, fontAddresses, sheetAddresses } from './work/links.js';
import { listZip, takeOut } from './work/take-out.js';

/** Bytes, or the path of a file that holds them. */
type Given = Uint8Array | string;
// A Node Buffer slices without copying, so a plain view is made.
const bytesOf = (given: Given): Uint8Array => (typeof given === 'string' ? new Uint8Array(readFileSync(given)) : given);

/** The facts of all faces of a file, or those of some ids. */
const inspectGiven = (given: Given, fileName: string, ids?: readonly string[]): Inspection =>
  inspect(bytesOf(given), nodeCodec, { fileName }, ids);

/** A face carried through a recipe, with what it is afterwards. */
async function convert(
  bytes: Uint8Array,
  faceIndex: number,
  recipe: Recipe,
): Promise<{ bytes: Uint8Array; format: FontFormat; comparison: Comparison }> {
  const {
    bytes: out,
    format,
    comparison,
  } = render(bytes, faceIndex, recipe, { codec: nodeCodec, subsetter: await nodeSubsetter(), paths: await nodePaths() });
  return { bytes: out, format, comparison };
}

/** What stands in the way of a product, and, when nothing does, its release. */
async function makeProduct(
  kind: string,
  given: { name: string; bytes: Uint8Array; faceIndex: number; licenses: LicenseRecord[] }[],
  recipe: object,
  number: number,
  codePoints: GivenCodePoint[],
): Promise<{ findings: ProductFinding[]; built: Built | null }> {
  const product = PRODUCTS.find((p) => p.id === kind)!;
  const sources = given.map((g) => ({ name: g.name, licenses: g.licenses, face: openFace(g.bytes, nodeCodec, g.faceIndex) }));
  const findings = product.check(sources, recipe as never);
  if (findings.some((f) => f.severity === 'stops')) return { findings, built: null };
  const previous = number > 1 ? { number: number - 1, codePoints } : null;
  const tools = { codec: nodeCodec, subsetter: await nodeSubsetter() };
  return { findings, built: product.build(sources, recipe as never, number, previous, tools) };
}

const faceOf = (bytes: Uint8Array, faceIndex: number): Face => openFace(bytes, nodeCodec, faceIndex);

const plain = (bytes: Uint8Array, faceIndex: number): { sfnt: Uint8Array; faceIndex: number } => faceOf(bytes, faceIndex).sfnt;

async function subset(sfnt: Uint8Array, faceIndex: number, codePoints: number[]): Promise<Uint8Array> {
  return (await nodeSubsetter()).subset(sfnt, faceIndex, codePoints);
}

const repertoire = (bytes: Uint8Array, faceIndex: number): Repertoire => readRepertoire(faceOf(bytes, faceIndex));

function glyph(bytes: Uint8Array, faceIndex: number, which: { codePoint?: number; glyph?: number }): DrawnGlyph {
  const face = faceOf(bytes, faceIndex);
  return drawGlyph(face, which.codePoint === undefined ? (which.glyph ?? 0) : face.glyphOf(which.codePoint));
}

let known: LicenseIndex | null = null;

/** Known licenses in a text and what its own words say. */
function recognise(text: string): TextReading {
  if (!known) {
    const list = createRequire(import.meta.url)('spdx-license-list/full') as Record<string, { licenseText?: string }>;
    known = compileLicenses(Object.entries(list).map(([spdxId, license]) => ({ spdxId, text: license.licenseText ?? '' })));
  }
  return readText(text, known);
}

const relations = (bytes: Uint8Array, faceIndex: number, glyphId: number, codePoint: number | null): GlyphRelations =>
  relateGlyph(faceOf(bytes, faceIndex), glyphId, codePoint);

/** What a reader's own face must become to stand in for a face; null where that cannot be computed. */
const standIn = (bytes: Uint8Array, faceIndex: number, local: string, tags: readonly string[]): Fallback | null =>
  fallbackFor(faceOf(bytes, faceIndex), local, tags);

const needs = (bytes: Uint8Array, faceIndex: number, tag: string): LanguageNeeds | null => needsFor(faceOf(bytes, faceIndex), tag);

const versions = (older: Uint8Array, olderIndex: number, newer: Uint8Array, newerIndex: number): VersionChanges =>
  compareVersions(faceOf(older, olderIndex), faceOf(newer, newerIndex));

const drawn = (bytes: Uint8Array, faceIndex: number, strokes: number[][], pen: number): { codePoint: number; score: number }[] =>
  findDrawn(faceOf(bytes, faceIndex), strokes, pen);

/** Texts set in a face as outlines, each a line. */
const setLines = (sfnt: Uint8Array, faceIndex: number, texts: string[]): ShapedLine[] =>
  texts.map((text) => shapeLine(sfnt, faceIndex, text));

/** Files that a face is split into by what languages need. */
const splitFace = (bytes: Uint8Array, faceIndex: number, tags: readonly string[]): FilePart[] =>
  splitForLanguages(faceOf(bytes, faceIndex), tags);

/** A glyph of a face and the same one of another made of it: by its number where both have the same glyphs, else by its character. */
function glyphPair(
  before: Uint8Array,
  faceIndex: number,
  after: Uint8Array,
  which: { glyph: number | null; character: string },
  at: string | null,
): {
  glyph: number;
  character: string;
  before: string | null;
  after: string | null;
  advance: number;
  advanceAfter: number;
  unitsPerEm: number;
  ascender: number;
  descender: number;
} {
  const [a, b] = [faceOf(before, faceIndex), faceOf(after, 0)];
  const same = a.glyphCount === b.glyphCount;
  // Numbers are those of the face that was made; where glyphs were left out they are others than before.
  const own = b.textOfGlyphs();
  const usual = b.characters?.codePoints.find((c) => c > 0x20 && a.glyphOf(c) !== 0) ?? null;
  const codePoint =
    which.character.codePointAt(0) ?? (which.glyph === null ? usual : (own.get(which.glyph)?.codePointAt(0) ?? (same ? null : usual)));
  const first = same && which.glyph !== null && which.character === '' ? which.glyph : codePoint === null ? 0 : a.glyphOf(codePoint);
  const second = same && which.character === '' ? first : codePoint === null ? 0 : b.glyphOf(codePoint);
  const path = (face: Face, glyph: number): string | null => {
    const pen = new SvgPathPen();
    return face.draw(glyph, pen) ? pen.path : null;
  };
  // An instance is held against the variable face where its axes stand.
  const there = at !== null && a.has('fvar') ? openPlaced(a.sfnt.sfnt, a.sfnt.faceIndex, placeOf(a, { at })) : null;
  const placed = (glyph: number): string => {
    const pen = new SvgPathPen();
    there!.draw(glyph, pen);
    return pen.path;
  };
  const { ascender, descender } = a.need(HHEA);
  return {
    glyph: first,
    character: codePoint === null ? '' : String.fromCodePoint(codePoint),
    before: there ? placed(first) : path(a, first),
    after: path(b, second),
    advance: there ? there.advance(first) : (a.advances?.advanceWidth(first) ?? 0),
    advanceAfter: b.advances?.advanceWidth(second) ?? 0,
    unitsPerEm: a.unitsPerEm,
    ascender,
    descender,
  };
}

/** Words as outlines in the format that was asked for. */
async function drawWords(
  bytes: Uint8Array,
  faceIndex: number,
  wish: CoreWordsWish,
  color: string,
  about: string,
  as: 'svg' | 'pdf' | 'png',
  columns: number,
): Promise<{ bytes: Uint8Array; width: number; height: number; notes: string[] }> {
  const words = wordShapes(faceOf(bytes, faceIndex), wish, await nodePaths());
  const out =
    as === 'svg'
      ? new TextEncoder().encode(wordsSvg(words, color, about))
      : as === 'pdf'
        ? await wordsPdf(words, color, about)
        : wordsPng(words, color, columns);
  return { bytes: out, width: words.width, height: words.height, notes: words.notes };
}

/** A page of a proof sheet as PNG, twice as many pixels as points. */
async function paint(page: SheetPage): Promise<Uint8Array> {
  const { createCanvas, Path2D } = await import('@napi-rs/canvas');
  const scale = 2;
  const canvas = createCanvas(Math.round(page.width * scale), Math.round(page.height * scale));
  const context = canvas.getContext('2d');
  context.fillStyle = page.paper;
  context.fillRect(0, 0, canvas.width, canvas.height);
  for (const shape of page.shapes) {
    context.fillStyle = shape.color;
    if (shape.kind === 'rule') {
      context.setTransform(scale, 0, 0, scale, 0, 0);
      context.fillRect(shape.x, shape.y, shape.width, shape.height);
    } else {
      context.setTransform(scale * shape.scale, 0, 0, -scale * shape.scale, scale * shape.x, scale * shape.y);
      context.fill(new Path2D(shape.path));
    }
  }
  return new Uint8Array(await canvas.encode('png'));
}

const belongs = (texts: readonly BundleText[], faces: readonly BundleFace[]): Belonging[] => belongings(texts, faces);

const readGiven = (given: Given, kind: Parameters<typeof readDocument>[1]): ReturnType<typeof readDocument> =>
  readDocument(bytesOf(given), kind);

/** What stands in a file of an export, checked field by field. */
function readChecked<T>(
  bytes: Uint8Array,
  schema: { safeParse(v: unknown): z.ZodSafeParseResult<T> },
): { record: T | null; problem: string } {
  let raw: unknown;
  try {
    raw = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch {
    return { record: null, problem: 'it is not well-formed JSON.' };
  }
  const checked = schema.safeParse(raw);
  if (checked.success) return { record: checked.data, problem: '' };
  const issue = checked.error.issues[0]!;
  return { record: null, problem: `“${issue.path.join('.')}”: ${issue.message}.` };
}
/** The record in an export of a workspace. */
const readExport = (bytes: Uint8Array): { record: WorkspaceExport | null; problem: string } => readChecked(bytes, workspaceExport);
/** A part in which stands what was made. */
const readMade = (bytes: Uint8Array): { record: MadePart | null; problem: string } => readChecked(bytes, madePart);

/** Faces that ship with the server, of both outline encodings it meets most. */
const SHIPPED = [
  '@expo-google-fonts/noto-sans/400Regular/NotoSans_400Regular.ttf',
  '@expo-google-fonts/noto-sans/600SemiBold/NotoSans_600SemiBold.ttf',
];

const PRACTICE_DRAWING =
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M4 12h16" stroke="#000" stroke-width="2" stroke-linecap="round"/></svg>';

/**
 * Reads faces that ship with the server over and over, as code that was just loaded runs several times slower until it was
 * compiled for what it meets.
 * @param drawings whether this worker will read drawings, too
 */
async function rehearse(milliseconds: number, drawings = true): Promise<void> {
  // What draws SVG is loaded, too, so that nobody's first drawing waits for it.
  if (drawings) await shapeIcon({ svg: PRACTICE_DRAWING, inking: null, cut: true, place: [] }, 16);
  const { resolve } = createRequire(import.meta.url);
  const faces = SHIPPED.map((path) => new Uint8Array(readFileSync(resolve(path))));
  const letters = [...'Orderly Glyph'].map((c) => c.codePointAt(0)!);
  for (const until = performance.now() + milliseconds; performance.now() < until;)
    for (const face of faces) {
      if (drawings) inspect(face, nodeCodec, { fileName: 'shipped.ttf' });
      else {
        const { sfnt, faceIndex } = plain(face, 0);
        await subset(sfnt, faceIndex, letters);
        setLines(sfnt, faceIndex, ['Orderly Glyph']);
      }
    }
}

export const tasks = {
  /** Addresses that a page or a style sheet of a place loads; both are somebody else's. */
  addresses: (kind: 'sheets' | 'fonts' | 'dav', text: string, at: string): string[] =>
    kind === 'sheets' ? sheetAddresses(text, at) : kind === 'fonts' ? fontAddresses(text, at) : davAddresses(text, at),
  rehearse,
  readExport,
  readMade,
  listZip,
  takeOut,
  sortBytes,
  inspect: inspectGiven,
  convert,
  makeProduct,
  takeIcons,
  shapeIcon,
  glyphDrawings,
  makeIcons,
  readIconFile,
  planFace,
  letterPoints,
  makeTypeface,
  typefaceZip,
  readTypefaceFile,
  countPages,
  readSheetPage,
  traceBox: traceDrawn,
  vectorLetters,
  sheetFile,
  decodePicture,
  searchAgain,
  shapeWord,
  plain,
  subset,
  readDocument: readGiven,
  recognise,
  belongings: belongs,
  repertoire,
  glyph,
  relations,
  needs,
  standIn,
  versions,
  drawn,
  setLines,
  drawWords,
  splitFace,
  glyphPair,
  paint,
  pagesPdf,
  writePdf,
  houseSheet: async (title: string, author: string, parts: HousePart[]): Promise<Uint8Array> =>
    houseSheet(title, author, parts, await nodePaths()),
};
export type Tasks = typeof tasks;

/** Errors cross the thread as plain data. */
export interface TaskFailure {
  code: string;
  message: string;
}

export function describeFailure(error: unknown): TaskFailure {
  if (error instanceof FontError) return { code: error.code, message: error.message };
  return { code: 'internal', message: error instanceof Error ? (error.stack ?? error.message) : String(error) };
}
