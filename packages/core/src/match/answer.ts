import type { Found, Search } from './search.js';
import { CELLS, type FaceShapes } from './shapes.js';

/** How sure it is that a picture is set in a face. */
export type Sureness = 'surely' | 'probably' | 'nearest' | 'none';

/** Faces of one family, and such as nobody could tell from them by these letters. */
export interface AnsweredFamily<T> {
  /** The face that lies best on the picture. */
  best: Found<T>;
  /** Further faces of the family that come near. */
  siblings: Found<T>[];
  /** Faces of other families that are drawn alike in these letters. */
  twins: Found<T>[];
}

export interface FaceAnswer<T> {
  sureness: Sureness;
  families: AnsweredFamily<T>[];
}

/** Sizes of twins differ by less, thousandths of the em; rasters by less, of all ink. One face in fourteen has such a twin. */
const TWIN_SIZE = 8;
const TWIN_RASTER = 0.05;

/** Whether two faces cannot be told apart by some letters: their sizes and rasters are, on the average, the same. */
export function areTwins(a: FaceShapes, b: FaceShapes, codePoints: Iterable<number>): boolean {
  const pairs = [...new Set(codePoints)].flatMap((c) => {
    const [x, y] = [a.letters.get(c), b.letters.get(c)];
    return x && y ? [[x, y] as const] : [];
  });
  if (pairs.length === 0) return false;
  // Faces may fill the em differently.
  const k = Math.exp(pairs.reduce((s, [x, y]) => s + Math.log(y.height / x.height), 0) / pairs.length);
  let [sizes, rasters] = [0, 0];
  for (const [x, y] of pairs) {
    sizes += Math.abs(x.width * k - y.width) + Math.abs(x.height * k - y.height);
    for (let i = 0; i < x.raster.length; i++) {
      const [p, q] = [x.raster[i]!, y.raster[i]!];
      rasters += Math.abs((p >> 4) - (q >> 4)) + Math.abs((p & 15) - (q & 15));
    }
  }
  return sizes / (2 * pairs.length) < TWIN_SIZE && rasters / (15 * CELLS * CELLS * pairs.length) < TWIN_RASTER;
}

/** What was measured on generated pictures (bench/README.md); limits of scores and of how much farther the next family lies. */
const RULES = {
  letters: { surely: (tall: number) => 0.006 + 0.32 / tall, next: 1.9, probably: (tall: number) => 0.018 + 0.7 / tall, none: 0.075 },
  word: { surely: () => 0.03, next: 2.2, probably: () => 0.08, none: 0.22 },
} as const;
/** Nothing is sure about fewer letters. */
const LEAST_LETTERS = 4;
/** The next family lies this much farther when something is probable. */
const PROBABLY_NEXT = 1.12;
/** Siblings and twins come so near to the best. */
const NEAR = 1.6;
const FAMILIES = 5;

/**
 * The answer to a search: families in their order, twins and siblings with the face that they are like, and how sure it is.
 * @param codePoints the letters that were compared
 * @param asWord whether the word was compared as one shape
 */
export function answerOf<T>(
  { found, tall }: Search<T>,
  familyOf: (item: T) => string,
  shapesOf: (item: T) => FaceShapes,
  codePoints: readonly number[],
  asWord = false,
): FaceAnswer<T> {
  const families: AnsweredFamily<T>[] = [];
  for (const f of found) {
    const own = families.find((a) => familyOf(a.best.item) === familyOf(f.item));
    if (own) {
      if (f.score < NEAR * own.best.score + 0.004) own.siblings.push(f);
      continue;
    }
    const twin = families.find((a) => areTwins(shapesOf(a.best.item), shapesOf(f.item), codePoints));
    if (twin) {
      if (!twin.twins.some((t) => familyOf(t.item) === familyOf(f.item))) twin.twins.push(f);
      continue;
    }
    families.push({ best: f, siblings: [], twins: [] });
  }
  return { sureness: surenessOf(families, tall, new Set(codePoints).size, asWord), families: families.slice(0, FAMILIES) };
}

function surenessOf<T>([first, second]: readonly AnsweredFamily<T>[], tall: number, letters: number, asWord: boolean): Sureness {
  if (!first) return 'none';
  const rule = asWord ? RULES.word : RULES.letters;
  const { score } = first.best;
  // Beside nothing else nobody can say how much nearer it is: then nothing is sure.
  const next = second ? second.best.score / Math.max(1e-6, score) : rule.next;
  if (score > rule.none) return 'none';
  if (letters >= LEAST_LETTERS && score < rule.surely(tall) && next > rule.next) return 'surely';
  if (score < rule.probably(tall) && next > PROBABLY_NEXT) return 'probably';
  return 'nearest';
}
