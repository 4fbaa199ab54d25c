import type { GivenCodePoint } from '../product.js';

/** Private-use areas. Source: The Unicode Standard, 23.5, "Private-Use Characters"; U+F8FF is left out, systems draw signs of their own there. */
export const PRIVATE_USE: readonly (readonly [number, number])[] = [
  [0xe000, 0xf8fe],
  [0xf0000, 0xffffd],
];
/** Whether a code point lies in an area that is kept for private use, and is given away here. */
export const isPrivateUse = (c: number): boolean => PRIVATE_USE.some(([from, to]) => c >= from && c <= to);

/** "U+E001". */
export const uPlus = (c: number): string => `U+${c.toString(16).toUpperCase().padStart(4, '0')}`;

/** A drawing and the code point it has, if any yet. */
export interface Coded {
  name: string;
  codePoint: number | null;
}

/**
 * Gives code points in order to drawings that have none. What a release gave away stays with its drawing for ever, and what it gave
 * to a drawing that is gone is never given again.
 * @param given what releases gave away, under the names of their drawings
 * @param from where new ones begin
 * @returns code points in the order of the drawings
 */
export function assignCodes(icons: readonly Coded[], given: readonly GivenCodePoint[], from: number = PRIVATE_USE[0]![0]): number[] {
  const taken = new Set([...given.map((g) => g.codePoint), ...icons.flatMap((i) => i.codePoint ?? [])]);
  let at = from;
  const next = (): number => {
    while (taken.has(at) || !isPrivateUse(at)) at = at > 0xf8fe && at < 0xf0000 ? 0xf0000 : at + 1;
    taken.add(at);
    return at;
  };
  return icons.map((icon) => icon.codePoint ?? next());
}

export interface Collision {
  codePoint: number;
  /** What it means in this set. */
  name: string;
  /** What else has it: a sentence's part. */
  with: string;
}

/** Code points that mean two things: in the set, or in it and in something else that pages may load. */
export function collisions(
  icons: readonly Coded[],
  given: readonly GivenCodePoint[],
  others: readonly { what: string; codePoints: readonly number[] }[],
): Collision[] {
  const out: Collision[] = [];
  const names = new Map<number, string>();
  const own = new Map(given.map((g) => [g.codePoint, g.name]));
  for (const { name, codePoint } of icons) {
    if (codePoint === null) continue;
    const other = names.get(codePoint);
    if (other !== undefined) out.push({ codePoint, name, with: `“${other}” of this set` });
    names.set(codePoint, name);
    const before = own.get(codePoint);
    if (before !== undefined && before !== name) out.push({ codePoint, name, with: `“${before}”, which a release gave it to` });
  }
  for (const { what, codePoints } of others)
    for (const codePoint of codePoints) {
      const name = names.get(codePoint);
      if (name !== undefined) out.push({ codePoint, name, with: what });
    }
  return out;
}

/** Font units of an em on which a drawing's grid falls whole: 1,200 for 24, 1,024 for 16, 1,000 for 500. @param grid units of a board's side */
export function emFor(grid: number): number {
  if (!Number.isInteger(grid) || grid < 1 || grid > 8192) return 1000;
  const least = Math.ceil(1000 / grid);
  const tens = least <= 9 ? least : Math.ceil(least / 10) * 10;
  const twos = 2 ** Math.ceil(Math.log2(least));
  return grid * Math.min(tens, twos);
}
