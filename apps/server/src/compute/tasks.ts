import { createRequire } from 'node:module';
import {
  compileTemplates,
  convertFont,
  drawGlyph,
  glyphFor,
  readRepertoire,
  type DrawnGlyph,
  type Repertoire,
  FontError,
  proveEqual,
  inspectFont,
  judgeFont,
  recogniseText,
  shapingRefusal,
  toSfnt,
  type Coverage,
  type FileFacts,
  type LicenseTemplate,
  type Proof,
  type Recognition,
  type TargetFormat,
} from '@orderly-glyph/core';
import { nodeCodec, nodeSubsetter } from '@orderly-glyph/node';

/** Facts of a file and, face by face, what it can write; null for a face nothing can be set in. */
export interface Inspection {
  facts: FileFacts;
  coverage: (Coverage | null)[];
}

/** Reads a font's facts, lets HarfBuzz try each face, and judges what it can write. */
function inspect(bytes: Uint8Array): Inspection {
  const facts = inspectFont(bytes, nodeCodec);
  const coverage = facts.faces.map((face) => {
    if (face.findings.some((f) => f.severity === 'blocks')) return null;
    const { sfnt, faceIndex } = toSfnt(bytes, nodeCodec, face.index);
    const refusal = shapingRefusal(sfnt, faceIndex);
    if (refusal) face.findings.unshift({ code: 'shaping-refused', severity: 'blocks', message: refusal });
    return refusal ? null : judgeFont(sfnt, faceIndex, nodeCodec);
  });
  return { facts, coverage };
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

let templates: LicenseTemplate[] | null = null;

function recognise(text: string): Recognition | null {
  if (!templates) {
    const list = createRequire(import.meta.url)('spdx-license-list/full') as Record<string, { licenseText?: string }>;
    templates = compileTemplates(Object.entries(list).map(([spdxId, license]) => ({ spdxId, text: license.licenseText ?? '' })));
  }
  return recogniseText(text, templates);
}

export const tasks = { inspect, convert, plain, subset, recognise, repertoire, glyph };
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
