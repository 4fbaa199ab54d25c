import type { Tasks } from './tasks.js';

/**
 * Work that nobody waits for must never stand in the way of work that somebody does, and what strangers send is only read
 * in processes that can be ended without harm. So there are lanes, each with its own workers:
 * - `interactive`: threads for what takes at most 200 ms of the processor, over fonts that were read before. What takes more
 *   is ended there and carried out in `asked`;
 * - `asked`: processes for what a person waits for and may take longer;
 * - `texts`: one thread that keeps the known license texts;
 * - `reading`: processes of low priority in which received archives, documents and fonts are read;
 * - `reports`: one such process for PDF and PNG;
 * - `making`: such processes for what is made of whole faces, with more memory and time, so that nothing received waits for them.
 */
export type LaneName = 'interactive' | 'asked' | 'texts' | 'reading' | 'reports' | 'making';

/** Tasks of a lane; what stands nowhere is read in `reading`. */
const TASKS: Readonly<Record<LaneName, readonly (keyof Tasks)[]>> = {
  interactive: ['subset', 'plain', 'repertoire', 'glyph', 'relations', 'needs', 'setLines', 'drawn', 'letterPoints'],
  asked: [
    'splitFace',
    'glyphPair',
    'drawWords',
    'versions',
    'standIn',
    'glyphDrawings',
    'inspect',
    'planFace',
    'typefaceZip',
    'shapeWord',
    'sheetFile',
  ],
  texts: ['recognise', 'belongings'],
  reading: [
    'rehearse',
    'readExport',
    'readMade',
    'listZip',
    'takeOut',
    'sortBytes',
    'readDocument',
    'addresses',
    'takeIcons',
    'shapeIcon',
    'readIconFile',
    'readTypefaceFile',
    'countPages',
    'vectorLetters',
    'searchAgain',
  ],
  reports: ['paint', 'pagesPdf', 'writePdf', 'houseSheet'],
  making: ['convert', 'makeProduct', 'makeIcons', 'makeTypeface', 'readSheetPage', 'traceBox', 'decodePicture'],
};
const LANE_OF = new Map<string, LaneName>(
  Object.entries(TASKS).flatMap(([lane, tasks]) => tasks.map((t) => [t, lane as LaneName] as const)),
);

/** What is made of the first kind of task when nobody waits for it: received files are read in their own lane. */
export function laneOf(task: keyof Tasks, urgent: boolean): LaneName {
  const lane = LANE_OF.get(task) ?? 'reading';
  return (lane === 'interactive' || lane === 'asked') && !urgent ? 'reading' : lane;
}

/** CPU time of one task in ms at most, where that is not the usual limit. */
export const LIMIT_MS: Partial<Record<keyof Tasks, number>> = {
  recognise: 20_000,
  readDocument: 30_000,
  addresses: 15_000,
  shapeIcon: 15_000,
  traceBox: 15_000,
  writePdf: 180_000,
  pagesPdf: 180_000,
  // A face of 65,535 glyphs takes minutes to be given other outlines and compared.
  convert: 600_000,
  makeProduct: 600_000,
  makeIcons: 600_000,
  makeTypeface: 300_000,
  readIconFile: 180_000,
  readSheetPage: 120_000,
};
export const USUAL_LIMIT_MS = 60_000;
/** CPU time of one task in the lane that may not be held up. */
export const QUICK_MS = 200;
/** The clock ends a task only after so many times its CPU time, and never before half a minute. */
export const BACKSTOP = 10;
export const LEAST_BACKSTOP_MS = 30_000;
/** Bytes of a font above which nothing about it is quick. */
export const QUICK_BYTES = 3 * 1024 * 1024;
/** CPU time after which a task steps back behind the shorter ones of others, ms. */
export const LONG_MS = 1500;

/** What a lane's workers may take, and what is said of work that takes more. */
export interface Bounds {
  /** Resident memory of a process, MiB. */
  memoryMiB: number;
  /** JavaScript heap, MiB. */
  heapMiB: number;
  tooHungry: string;
  /** @param ms of CPU time */
  tooSlow(ms: number): string;
}
const seconds = (ms: number): string =>
  ms >= 120_000 ? `${Math.round(ms / 60_000)} minutes` : `${Math.max(1, Math.round(ms / 1000))} seconds`;
export const READING: Bounds = {
  memoryMiB: 512,
  heapMiB: 384,
  tooSlow: (ms) => `Reading it took more than ${seconds(ms)} of computing time, which is the most it may take.`,
  tooHungry: 'Reading it took more than 512 MiB of memory, which is the most it may take.',
};
export const MAKING: Bounds = {
  memoryMiB: 1024,
  heapMiB: 896,
  tooSlow: (ms) => `Making it took more than ${seconds(ms)} of computing time, and was stopped. Nothing was made.`,
  tooHungry: 'Making it took more than 1 GiB of memory, and was stopped. Nothing was made.',
};
export const BUSY = 'The server was too busy to come to an end with it.';
