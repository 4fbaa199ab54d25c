import { readFile } from 'node:fs/promises';
import {
  decodeShapes,
  drawContour,
  findFaces,
  FlattenPen,
  FontError,
  openFace,
  readWord,
  SvgPathPen,
  TransformPen,
  usualWidths,
  widthsOf,
  wordShapes,
  type IndexedFace,
  type InkField,
  type Sureness,
} from '@orderly-glyph/core';
import { nodeCodec, nodePaths, nodeSvgEngine, pictureAt, pngOf } from '@orderly-glyph/node';

/** Width and height of a picture that is worked on, px; what is larger is made smaller. */
const WORKED_PX = 1600;

/** One picture of a file, small enough to be worked on, as PNG. @param page of a document */
export async function decodePicture(path: string, page: number): Promise<{ width: number; height: number; pages: number; png: string }> {
  const { picture, pages } = await pictureAt(new Uint8Array(await readFile(path)), page, WORKED_PX, nodeSvgEngine);
  return { width: picture.width, height: picture.height, pages, png: Buffer.from(await pngOf(picture)).toString('base64') };
}

/** Words set in a face, as outlines in thousandths of the em. */
export interface ShapedWord {
  /** y up. */
  polygons: number[][];
  /** y down. */
  path: string;
  box: [number, number, number, number];
  missing: string[];
}

/** A text in one face, shaped; null where nothing can be set in it. */
export async function shapeWord(bytes: Uint8Array, faceIndex: number, text: string): Promise<ShapedWord | null> {
  const face = openFace(bytes, nodeCodec, faceIndex);
  const missing = [...new Set([...text].filter((c) => c.trim() !== '' && face.glyphOf(c.codePointAt(0)!) === 0))];
  const lacking = new Set(missing);
  const there = [...text].filter((c) => !lacking.has(c)).join('');
  if (there.trim() === '') return { polygons: [], path: '', box: [0, 0, 0, 0], missing };
  try {
    const { pieces, width, height } = wordShapes(
      face,
      {
        text: there,
        size: 1000,
        unit: 'px',
        measure: 'em',
        letterSpacing: 0,
        lineHeight: null,
        align: 'left',
        features: [],
        at: '',
        pieces: 'one',
      },
      await nodePaths(),
    );
    const flat = new FlattenPen(1);
    const svg = new SvgPathPen(1);
    for (const contour of pieces.flatMap((p) => p.contours)) {
      drawContour(contour, new TransformPen([1, 0, 0, -1, 0, 0], flat));
      drawContour(contour, svg);
    }
    flat.closePath();
    return {
      polygons: flat.polygons.map((p) => p.map((v) => Math.round(v * 10) / 10)),
      path: svg.path,
      box: [0, -height, width, height],
      missing,
    };
  } catch (error) {
    if (error instanceof FontError) return null;
    throw error;
  }
}

/** An inquiry to be looked for again. */
export interface Asked {
  ink: { width: number; height: number; values: string };
  word: string;
  without: number[];
  asWord: boolean | null;
  stretched: boolean;
  slanted: boolean;
}

/** Ink that was kept as a byte a px, 160 for full ink. */
export function inkFrom({ width, height, values }: Asked['ink']): InkField {
  const bytes = Buffer.from(values, 'base64');
  if (bytes.length !== width * height) throw new FontError('bad-table', 'The picture of an inquiry is not as large as it says.');
  return { width, height, values: Float32Array.from(bytes, (v) => v / 160) };
}

/**
 * Looks for kept pictures among some faces.
 * @param faces their shapes as Base64
 */
export function searchAgain(
  asked: readonly Asked[],
  faces: readonly { faceId: string; familyId: string; shapes: string }[],
): ({ faceId: string; score: number; sureness: Sureness } | null)[] {
  const indexed = faces.map(({ faceId, familyId, shapes }): IndexedFace<{ faceId: string; familyId: string }> => ({
    item: { faceId, familyId },
    shapes: decodeShapes(new Uint8Array(Buffer.from(shapes, 'base64'))),
  }));
  const usual = usualWidths(indexed.map((f) => f.shapes));
  return asked.map((a) => {
    const read = readWord(inkFrom(a.ink), widthsOf(a.word, usual));
    if (!read) return null;
    const { answer } = findFaces(a.word, read, indexed, (i) => i.familyId, a);
    const first = answer.families[0]?.best;
    return first ? { faceId: first.item.faceId, score: first.score, sureness: answer.sureness } : null;
  });
}
