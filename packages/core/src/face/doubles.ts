import { TRAITS, type Prints, type Trait } from './prints.js';

/** A face as the search for doubles sees it. */
export interface DoubleCandidate {
  id: string;
  /** Equal for faces of one family, one style and the same axes. */
  cell: string;
  version: string | null;
  prints: Prints | null;
  /** Axis tags in order, joined; a variable face is no double of a static one that equals its default. */
  axes: string;
  codePoints: number;
}

/** Faces that are one: in order of preference, versions newest first, else the fullest first. */
export interface DoubleGroup {
  kind: 'versions' | 'same-outlines' | 'same-letters';
  ids: string[];
  /**
   * In what its faces are not the same: where anything is named here, no rule may put one behind another. Versions differ by
   * nature; of them only color is named.
   */
  differs: Trait[];
}

/**
 * Major and minor number of a version string, or null when it has none: "Version 1.003;PS 1" gives [1, 3].
 * Source: OpenType specification, name table, name ID 5: two numbers joined by a period, each of digits.
 */
export function versionNumbers(version: string | null): [number, number] | null {
  const match = /(\d+)(?:\.(\d+))?/.exec(version ?? '');
  return match ? [Number(match[1]), Number(match[2] ?? 0)] : null;
}

/** Negative when `a` is the newer; faces without a version count as oldest. */
export function newerFirst(a: string | null, b: string | null): number {
  const x = versionNumbers(a) ?? [-1, 0];
  const y = versionNumbers(b) ?? [-1, 0];
  return y[0] - x[0] || y[1] - x[1];
}

/**
 * Finds faces that stand in a library more than once: older and newer versions of one face, the same outlines under
 * another name, and the same letters and figures where one face has more characters beside them.
 */
export function findDoubles(faces: readonly DoubleCandidate[]): DoubleGroup[] {
  const out: DoubleGroup[] = [];
  const grouped = new Set<string>();
  const groups = (keyOf: (f: DoubleCandidate) => string | null): DoubleCandidate[][] => {
    const map = new Map<string, DoubleCandidate[]>();
    for (const face of faces) {
      if (grouped.has(face.id)) continue;
      const key = keyOf(face);
      if (key === null) continue;
      const list = map.get(key);
      if (list) list.push(face);
      else map.set(key, [face]);
    }
    return [...map.values()].filter((list) => list.length > 1);
  };
  const take = (kind: DoubleGroup['kind'], list: DoubleCandidate[], order: (a: DoubleCandidate, b: DoubleCandidate) => number): void => {
    const named = (kind === 'versions' ? (['color'] as const) : TRAITS).filter(
      (trait) => new Set(list.map((f) => f.prints?.traits[trait] ?? '')).size > 1,
    );
    out.push({ kind, ids: list.sort(order).map((f) => f.id), differs: named });
    for (const f of list) grouped.add(f.id);
  };
  const fullest = (a: DoubleCandidate, b: DoubleCandidate): number => b.codePoints - a.codePoints || newerFirst(a.version, b.version);
  for (const list of groups((f) => `${f.cell}|${f.axes}`))
    take('versions', list, (a, b) => newerFirst(a.version, b.version) || fullest(a, b));
  for (const list of groups((f) => (f.prints ? `${f.prints.all}|${f.axes}` : null))) take('same-outlines', list, fullest);
  for (const list of groups((f) => (f.prints?.basic ? `${f.prints.basic}|${f.axes}` : null))) take('same-letters', list, fullest);
  return out;
}
