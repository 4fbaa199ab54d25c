/** A worker carries out one order at a time, so whoever computes may say how far it is without being handed anything. */
let listener: ((done: number, total: number, what: string) => void) | null = null;
let last = 0;

export function listen(to: typeof listener): void {
  listener = to;
  last = 0;
}

/** Says how far the order at hand is; a few times a second are enough. */
export function report(done: number, total: number, what: string): void {
  const now = performance.now();
  if (now - last < 150 && done < total) return;
  last = now;
  listener?.(done, total, what);
}
