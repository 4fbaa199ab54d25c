/** Sorted code points as inclusive runs: [first, last, first, last, ...]. */
export function toRuns(codePoints: ArrayLike<number>): number[] {
  const runs: number[] = [];
  for (let i = 0; i < codePoints.length; i++) {
    const c = codePoints[i]!;
    if (runs.length > 0 && c === runs[runs.length - 1]! + 1) runs[runs.length - 1] = c;
    else runs.push(c, c);
  }
  return runs;
}

const hex = (c: number): string => c.toString(16).toUpperCase().padStart(4, '0');

/** Runs in the notation of CSS `unicode-range`: "U+0020-007E", "U+00A0". */
export function formatRuns(runs: readonly number[]): string[] {
  const out: string[] = [];
  for (let i = 0; i < runs.length; i += 2)
    out.push(runs[i] === runs[i + 1] ? `U+${hex(runs[i]!)}` : `U+${hex(runs[i]!)}-${hex(runs[i + 1]!)}`);
  return out;
}
