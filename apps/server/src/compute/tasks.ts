import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import {
  belongings,
  compareVersions,
  compileLicenses,
  convertFont,
  describeLetters,
  drawGlyph,
  findDrawn,
  fontNeeds,
  glyphFor,
  readRepertoire,
  type DrawnGlyph,
  type Repertoire,
  FontError,
  proveEqual,
  inspectFont,
  judgeFont,
  judgeKind,
  likenessOf,
  readFontFile,
  readLetters,
  readPrints,
  readText,
  relateGlyph,
  shapeLine,
  shapingRefusal,
  toSfnt,
  type Belonging,
  type BundleFace,
  type BundleText,
  type Coverage,
  type FileFacts,
  type GlyphRelations,
  type KindJudgement,
  type Likeness,
  type Prints,
  type SfntFont,
  type ShapedLine,
  type VersionChanges,
  type LanguageNeeds,
  type LicenseIndex,
  type TextReading,
  type Proof,
  type TargetFormat,
} from '@orderly-glyph/core';
import { nodeCodec, nodeSubsetter, readDocument } from '@orderly-glyph/node';
import { workspaceExport, type WorkspaceExport } from '@orderly-glyph/schema';
import { sortBytes } from '../intake/classify.js';
import { listZip, takeOut } from '../intake/take-out.js';
import type { ProofPage } from '../proof/page.js';
import { writePdf } from '../rights/document.js';

/** What is computed of a face's drawings. */
export interface FaceShape {
  kind: KindJudgement;
  likeness: Likeness | null;
  prints: Prints | null;
}

/** Facts of a file and, face by face, what it can write (null for a face nothing can be set in) and how it is drawn. */
export interface Inspection {
  facts: FileFacts;
  coverage: (Coverage | null)[];
  shapes: (FaceShape | null)[];
}

/** A face whose outlines cannot be read has no shape; its findings say why. */
function shapeOf(font: SfntFont | undefined): FaceShape | null {
  if (!font) return null;
  try {
    const letters = readLetters(font);
    return { kind: judgeKind(letters), likeness: likenessOf(describeLetters(letters)), prints: readPrints(font) };
  } catch (error) {
    if (!(error instanceof FontError)) throw error;
    return null;
  }
}

/** Bytes, or the path of a file that holds them. */
type Given = Uint8Array | string;
// A Node Buffer slices without copying, so a plain view is made.
const bytesOf = (given: Given): Uint8Array => (typeof given === 'string' ? new Uint8Array(readFileSync(given)) : given);

/** Reads a font's facts, lets HarfBuzz try each face, and judges what it can write. */
function inspect(given: Given): Inspection {
  const bytes = bytesOf(given);
  const facts = inspectFont(bytes, nodeCodec);
  const coverage = facts.faces.map((face) => {
    if (face.findings.some((f) => f.severity === 'blocks')) return null;
    const { sfnt, faceIndex } = toSfnt(bytes, nodeCodec, face.index);
    const refusal = shapingRefusal(sfnt, faceIndex);
    if (refusal) face.findings.unshift({ code: 'shaping-refused', severity: 'blocks', message: refusal });
    return refusal ? null : judgeFont(sfnt, faceIndex, nodeCodec);
  });
  return { facts, coverage, shapes: readFontFile(bytes, nodeCodec).fonts.map(shapeOf) };
}

function convert(bytes: Uint8Array, faceIndex: number, to: TargetFormat): { bytes: Uint8Array; proof: Proof } {
  const out = convertFont(bytes, to, nodeCodec, faceIndex);
  return { bytes: out, proof: proveEqual(bytes, out, nodeCodec, faceIndex) };
}

const plain = (bytes: Uint8Array, faceIndex: number): { sfnt: Uint8Array; faceIndex: number } => toSfnt(bytes, nodeCodec, faceIndex);

async function subset(sfnt: Uint8Array, faceIndex: number, codePoints: number[]): Promise<Uint8Array> {
  return (await nodeSubsetter()).subset(sfnt, faceIndex, codePoints);
}

const repertoire = (bytes: Uint8Array, faceIndex: number): Repertoire => readRepertoire(bytes, faceIndex, nodeCodec);

function glyph(bytes: Uint8Array, faceIndex: number, which: { codePoint?: number; glyph?: number }): DrawnGlyph {
  const id = which.codePoint === undefined ? (which.glyph ?? 0) : glyphFor(bytes, faceIndex, which.codePoint, nodeCodec);
  return drawGlyph(bytes, faceIndex, id, nodeCodec);
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
  relateGlyph(bytes, faceIndex, glyphId, codePoint, nodeCodec);

function needs(bytes: Uint8Array, faceIndex: number, tag: string): LanguageNeeds | null {
  const plainFont = toSfnt(bytes, nodeCodec, faceIndex);
  return fontNeeds(plainFont.sfnt, plainFont.faceIndex, tag, nodeCodec);
}

function faceOf(bytes: Uint8Array, faceIndex: number): SfntFont {
  const font = readFontFile(bytes, nodeCodec).fonts[faceIndex];
  if (!font) throw new FontError('no-such-face', 'There is no such face in the file.');
  return font;
}

const versions = (older: Uint8Array, olderIndex: number, newer: Uint8Array, newerIndex: number): VersionChanges =>
  compareVersions(faceOf(older, olderIndex), faceOf(newer, newerIndex));

const drawn = (bytes: Uint8Array, faceIndex: number, strokes: number[][], pen: number): { codePoint: number; score: number }[] =>
  findDrawn(faceOf(bytes, faceIndex), strokes, pen);

/** Texts set in a face as outlines, each a line. */
const setLines = (sfnt: Uint8Array, faceIndex: number, texts: string[]): ShapedLine[] =>
  texts.map((text) => shapeLine(sfnt, faceIndex, text));

/** A page of a proof sheet as PNG, twice as many pixels as points. */
async function paint(page: ProofPage): Promise<Uint8Array> {
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

/** The record in an export of a workspace, checked field by field. */
function readExport(bytes: Uint8Array): { record: WorkspaceExport | null; problem: string } {
  let raw: unknown;
  try {
    raw = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch {
    return { record: null, problem: 'it is not well-formed JSON.' };
  }
  const checked = workspaceExport.safeParse(raw);
  if (checked.success) return { record: checked.data, problem: '' };
  const issue = checked.error.issues[0]!;
  return { record: null, problem: `“${issue.path.join('.')}”: ${issue.message}.` };
}

export const tasks = {
  readExport,
  listZip,
  takeOut,
  sortBytes,
  inspect,
  convert,
  plain,
  subset,
  readDocument: readGiven,
  recognise,
  belongings: belongs,
  repertoire,
  glyph,
  relations,
  needs,
  versions,
  drawn,
  setLines,
  paint,
  writePdf,
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
