import type { Comparison, Tools } from '../convert/index.js';
import type { Face } from '../font/index.js';
import type { Change, LicenseRecord } from '../rights/index.js';
import { FontError, type FontFormat } from '../sfnt/index.js';

/** What a product is made from. */
export interface ProductSource {
  name: string;
  face: Face;
  /** What is on record for it; what is made from it may not be used for more. */
  licenses: readonly LicenseRecord[];
}

/** What stands in the way of making it, as a sentence; `stops` nothing is made. */
export interface ProductFinding {
  code: string;
  severity: 'stops' | 'note';
  message: string;
}

/** A file of a release. */
export interface ReleaseFile {
  name: string;
  format: FontFormat;
  bytes: Uint8Array;
}

/** A code point that a product has given away; it never means anything else again. */
export interface GivenCodePoint {
  codePoint: number;
  name: string;
}

/** What a release before this one fixed. */
export interface Previous {
  number: number;
  codePoints: readonly GivenCodePoint[];
}

export interface Built {
  files: ReleaseFile[];
  comparison: Comparison;
  /** All code points that it has given away, those of earlier releases among them. */
  codePoints: GivenCodePoint[];
}

/** A kind of thing made here. One folder, and a line in the index. */
export interface ProductKind<R> {
  id: string;
  name: string;
  /** What is done to its sources, for the license to allow. */
  changes: readonly Change[];
  /** Holds what was entered, and the sources, against what the kind can make. */
  check(sources: readonly ProductSource[], recipe: R): ProductFinding[];
  /**
   * Makes a release; the same sources, recipe and number give the same bytes.
   * @throws FontError when it cannot be made
   */
  build(
    sources: readonly Pick<ProductSource, 'name' | 'face'>[],
    recipe: R,
    number: number,
    previous: Previous | null,
    tools: Tools,
  ): Built;
}

/**
 * Holds a release's code points against those given away before.
 * @throws FontError when a release would take a code point back or give it to something else: pages out there use it
 */
export function keepsCodePoints(previous: readonly GivenCodePoint[], next: readonly GivenCodePoint[]): void {
  const now = new Map(next.map((c) => [c.codePoint, c.name]));
  for (const { codePoint, name } of previous) {
    if (now.get(codePoint) === name) continue;
    const where = `U+${codePoint.toString(16).toUpperCase().padStart(4, '0')}`;
    throw new FontError(
      'does-not-fit',
      now.has(codePoint)
        ? `${where} was “${name}” in a release and would become “${now.get(codePoint)}”. Code points never move.`
        : `${where} was “${name}” in a release and would be gone. Code points never go.`,
    );
  }
}
