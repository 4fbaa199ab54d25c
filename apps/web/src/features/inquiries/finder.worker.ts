import {
  decodeShapes,
  editPicture,
  findFaces,
  guessLetters,
  inkOf,
  levelLadder,
  looseLetters,
  linesOf,
  inkParts,
  readsAsWord,
  readWord,
  tracedSvg,
  usualWidths,
  widthsOf,
  type Box,
  type Edited,
  type FaceAnswer,
  type FaceShapes,
  type Found,
  type FoundInk,
  type IndexedFace,
  type InkWish,
  type PictureEdit,
  type ReadWord,
} from '@orderly-glyph/core/match';
import type { FinderAnswer, FinderTasks, PreparedPicture, ReadLetters } from './finder-tasks';

/** A picture, its letters, and the faces they are looked for in: all computation of finding a face. */

interface Item {
  faceId: string;
  familyId: string;
}
const faces: IndexedFace<Item>[] = [];
const shapes = new Map<string, FaceShapes>();
let usual = new Map<number, number>();
let original: { width: number; height: number; data: Uint8ClampedArray } | null = null;
let edited: Edited | null = null;
let found: FoundInk | null = null;
let read: { word: string; result: ReadWord } | null = null;

function addShapes(pack: ArrayBuffer): number {
  const view = new DataView(pack);
  const text = new TextDecoder();
  const count = view.getUint32(0);
  let at = 4;
  for (let i = 0; i < count; i++) {
    const [a, b, c] = [view.getUint32(at), view.getUint32(at + 4), view.getUint32(at + 8)];
    at += 12;
    const faceId = text.decode(new Uint8Array(pack, at, a));
    const familyId = text.decode(new Uint8Array(pack, at + a, b));
    const own = decodeShapes(new Uint8Array(pack, at + a + b, c));
    at += a + b + c;
    shapes.set(faceId, own);
    faces.push({ item: { faceId, familyId }, shapes: own });
  }
  usual = usualWidths(shapes.values());
  return count;
}

function setPicture(picture: { width: number; height: number; data: Uint8ClampedArray }): void {
  original = picture;
  edited = null;
  found = null;
  read = null;
}

function prepare(edits: readonly PictureEdit[], wish: InkWish, ladder: boolean): PreparedPicture {
  if (!original) throw new Error('There is no picture yet.');
  edited = editPicture(original, edits);
  found = inkOf(edited, wish);
  read = null;
  const { field } = found;
  const parts = inkParts(field);
  const lines = linesOf(parts);
  return {
    width: field.width,
    height: field.height,
    picture: new Uint8ClampedArray(edited.picture.data),
    // What is seen where only ink is shown.
    ink: Uint8ClampedArray.from(field.values, (v) => 255 * Math.min(1, v)),
    ground: found.ground,
    color: found.ink,
    parts: parts.length,
    lines: lines.map((line) => boxAround(line.map((i) => parts[i]!.box))),
    ladder: ladder ? levelLadder(edited, wish) : [],
  };
}

const boxAround = (boxes: readonly Box[]): Box => ({
  x0: Math.min(...boxes.map((b) => b.x0)),
  y0: Math.min(...boxes.map((b) => b.y0)),
  x1: Math.max(...boxes.map((b) => b.x1)),
  y1: Math.max(...boxes.map((b) => b.y1)),
});

/** Letters of the line: as many as the word has, or as the ink falls into while there is no word yet. */
function readLetters(word: string): ReadLetters {
  if (!found) throw new Error('There is no picture yet.');
  if (word.trim() === '') {
    const letters = looseLetters(found.field);
    const guesses = guessLetters(letters, faces);
    return {
      letters: letters.map((l, i) => ({ box: l.box, guesses: guesses[i]!.map((g) => String.fromCodePoint(g.codePoint)) })),
      asWord: false,
    };
  }
  const result = readWord(found.field, widthsOf(word, usual));
  read = result ? { word, result } : null;
  return {
    letters: (result?.letters ?? []).map((l) => ({ box: l?.box ?? null, guesses: [] })),
    asWord: result !== null && readsAsWord(result),
  };
}

interface Asked {
  without: readonly number[];
  asWord: boolean | null;
  stretched: boolean;
  slanted: boolean;
}

function search(asked: Asked): FinderAnswer {
  if (!read) throw new Error('The word comes first.');
  const began = performance.now();
  const { answer, asWord, letters } = findFaces(read.word, read.result, faces, (i) => i.familyId, asked);
  return described(answer, asWord, performance.now() - began, letters);
}

/** The nearest faces anew, with the word as they shape it: kerned, joined, with their ligatures. */
function searchShaped(words: readonly { faceId: string; polygons: number[][] }[], asked: Asked): FinderAnswer | null {
  if (!read?.result.whole) return null;
  const by = new Map(words.map((w) => [w.faceId, w.polygons]));
  const some = faces.filter((f) => by.has(f.item.faceId));
  const began = performance.now();
  const { answer, letters } = findFaces(
    read.word,
    read.result,
    some,
    (i) => i.familyId,
    asked,
    (face) => wordOf(by.get(face.item.faceId)!),
  );
  return described(answer, true, performance.now() - began, letters);
}

function wordOf(polygons: number[][]): { polygons: number[][]; xMin: number; yMin: number; width: number; height: number } | null {
  let [xMin, yMin, xMax, yMax] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const p of polygons)
    for (let i = 0; i < p.length; i += 2) {
      xMin = Math.min(xMin, p[i]!);
      xMax = Math.max(xMax, p[i]!);
      yMin = Math.min(yMin, p[i + 1]!);
      yMax = Math.max(yMax, p[i + 1]!);
    }
  return xMax > xMin && yMax > yMin ? { polygons, xMin, yMin, width: xMax - xMin, height: yMax - yMin } : null;
}

function described(answer: FaceAnswer<Item>, asWord: boolean, took: number, letters: number): FinderAnswer {
  const one = (f: Found<Item>) => ({
    faceId: f.item.faceId,
    score: f.score,
    stretch: f.stretch,
    slant: f.slant,
    scale: f.scale,
    differs: f.differs.filter((d) => d.codePoint > 0).slice(0, 80),
  });
  return {
    sureness: answer.sureness,
    asWord,
    took,
    letters,
    turned: ((answer.families[0]?.best.turn ?? 0) * 180) / Math.PI,
    faces: faces.length,
    families: answer.families.map((f) => ({
      ...one(f.best),
      outline: f.best.outline(),
      siblings: f.siblings.slice(0, 60).map((s) => s.item.faceId),
      twins: f.twins.slice(0, 40).map((t) => t.item.faceId),
    })),
  };
}

const TASKS: FinderTasks = {
  addShapes,
  setPicture,
  prepare,
  readLetters,
  search,
  searchShaped,
  trace: (color: string) => (found ? tracedSvg(found.field, color) : ''),
  /** The ink of the edited picture, to be looked for again: a byte a px, 160 for full ink. */
  keptInk: () => {
    if (!found) return null;
    const { width, height, values } = found.field;
    return { width, height, values: Uint8Array.from(values, (v) => Math.min(255, Math.round(160 * v))) };
  },
};

self.onmessage = ({ data }: MessageEvent<{ id: number; task: keyof FinderTasks; args: unknown[] }>) => {
  try {
    const work = TASKS[data.task] as (...args: unknown[]) => unknown;
    self.postMessage({ id: data.id, value: work(...data.args) });
  } catch (error) {
    // Refusals of the core are sentences; anything else is a fault of ours.
    const isSentence = error instanceof Error && (error.name === 'FontError' || /\.$/.test(error.message));
    self.postMessage({ id: data.id, problem: isSentence ? error.message : 'The picture could not be worked on. Nothing was lost.' });
  }
};
