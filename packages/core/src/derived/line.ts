import type { Embedding } from '../face/index.js';
import type { Kind } from '../kinds/index.js';
import { expectFontError } from '../sfnt/index.js';
import type { Derived } from './derived.js';
import { COVERAGE } from './coverage.js';
import { FACTS } from './facts.js';
import { KIND } from './kind.js';

/** What a list of faces needs of one, short enough to be read for thousands. */
export interface LineFacts {
  /**
   * What it writes: code points as "first-last" runs in base 36, joined by commas; then, after a bar, letters with marks that
   * have no character of their own, joined by spaces.
   */
  runs: string;
  version: string | null;
  ascender: number;
  descender: number;
  unitsPerEm: number;
  variable: boolean;
  blocked: string | null;
  embedding: Embedding;
  features: string[];
  scripts: string[];
  /** Tags of languages it writes in full, and nearly. */
  languages: string[];
  near: string[];
  codePoints: number;
  axes: string[];
  /** From and to, of the axes wght and wdth. */
  ranges: { wght?: [number, number]; wdth?: [number, number] };
  color: boolean;
  kind: Kind | null;
  confidence: number;
}

/** Null where a face is too damaged for a fact. */
function known<T>(read: () => T): T | null {
  try {
    return read();
  } catch (error) {
    expectFontError(error);
    return null;
  }
}

export const LINE: Derived<LineFacts> = {
  id: 'line',
  version: 8,
  from(made) {
    const facts = made.of(FACTS);
    const coverage = known(() => made.of(COVERAGE));
    const kind = known(() => made.of(KIND));
    const { runs: writable, loose } = coverage?.writes ?? { runs: [], loose: [] };
    const runs: string[] = [];
    for (let i = 0; i < writable.length; i += 2) runs.push(`${writable[i]!.toString(36)}-${writable[i + 1]!.toString(36)}`);
    const level = (wanted: 'full' | 'near'): string[] => coverage?.languages.filter((l) => l.level === wanted).map((l) => l.tag) ?? [];
    return {
      runs: loose.length > 0 ? `${runs.join()}|${loose.join(' ')}` : runs.join(),
      version: facts.version,
      ascender: facts.ascender,
      descender: facts.descender,
      unitsPerEm: facts.unitsPerEm,
      variable: facts.axes.length > 0,
      blocked: facts.findings.find((f) => f.severity === 'blocks')?.message ?? null,
      embedding: facts.embedding,
      features: facts.features,
      scripts: coverage?.scripts.filter((x) => x.level === 'full').map((x) => x.script) ?? [],
      languages: level('full'),
      near: level('near'),
      codePoints: facts.codePoints,
      axes: facts.axes.map((a) => a.tag),
      ranges: Object.fromEntries(
        facts.axes.filter((a) => a.tag === 'wght' || a.tag === 'wdth').map((a) => [a.tag, [a.min, a.max]]),
      ) as LineFacts['ranges'],
      color: facts.color.length > 0,
      kind: kind?.value ?? null,
      confidence: kind?.confidence ?? 0,
    };
  },
};
