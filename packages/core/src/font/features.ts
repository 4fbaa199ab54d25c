import type { Gpos, Gsub, Lookup, ValueRecord } from '../sfnt/index.js';

// Substitutions and adjustments as a maker thinks of them, turned into lookups. Glyph ids; font units.

/** One feature of a new face. Rules of one feature act in the order in which they are listed here. */
export type FeatureRule =
  | { kind: 'single'; feature: string; from: number; to: number }
  | { kind: 'alternates'; feature: string; from: number; to: readonly number[] }
  | { kind: 'ligature'; feature: string; from: readonly number[]; to: number }
  | { kind: 'pair'; feature: string; left: number; right: number; value: number }
  | {
      kind: 'mark';
      feature: string;
      base: number;
      mark: number;
      baseX: number;
      baseY: number;
      markX: number;
      markY: number;
      class: string;
    };

type Of<K extends FeatureRule['kind']> = Extract<FeatureRule, { kind: K }>;
const ascending = (values: Iterable<number>): number[] => [...new Set(values)].sort((a, b) => a - b);

const lookup = (lookupType: number, subtable: Lookup['subtables'][number]): Lookup => ({
  lookupType,
  lookupFlag: 0,
  extension: false,
  subtables: [subtable],
  markFilteringSet: null,
});

function singles(rules: readonly Of<'single'>[]): Lookup {
  const to = new Map(rules.map((r) => [r.from, r.to]));
  const coverage = ascending(to.keys());
  return lookup(1, { format: 2, coverage, substituteGlyphIDs: coverage.map((g) => to.get(g)!) });
}

function alternates(rules: readonly Of<'alternates'>[]): Lookup {
  const to = new Map(rules.map((r) => [r.from, r.to]));
  const coverage = ascending(to.keys());
  return lookup(3, { format: 1, coverage, alternateSets: coverage.map((g) => [...to.get(g)!]) });
}

function ligatures(rules: readonly Of<'ligature'>[]): Lookup {
  const byFirst = new Map<number, Of<'ligature'>[]>();
  for (const rule of rules) {
    const own = byFirst.get(rule.from[0]!);
    if (own) own.push(rule);
    else byFirst.set(rule.from[0]!, [rule]);
  }
  const coverage = ascending(byFirst.keys());
  return lookup(4, {
    format: 1,
    coverage,
    // The longest first: shaping takes the first that fits.
    ligatureSets: coverage.map((g) =>
      byFirst
        .get(g)!
        .sort((a, b) => b.from.length - a.from.length)
        .map((r) => ({ ligatureGlyph: r.to, componentGlyphIDs: r.from.slice(1) })),
    ),
  });
}

const X_ADVANCE = 0x0004;
/** Bytes of a subtable of pairs, so that all its offsets fit sixteen bits. */
const MOST_PAIR_BYTES = 48_000;
function pairs(rules: readonly Of<'pair'>[]): Lookup {
  const byLeft = new Map<number, Map<number, number>>();
  for (const { left, right, value } of rules) {
    let rights = byLeft.get(left);
    if (!rights) byLeft.set(left, (rights = new Map()));
    rights.set(right, value);
  }
  const subtable = (coverage: readonly number[]): Lookup['subtables'][number] => ({
    format: 1,
    coverage,
    valueFormat1: X_ADVANCE,
    valueFormat2: 0,
    pairSets: coverage.map((g) =>
      [...byLeft.get(g)!]
        .sort((a, b) => a[0] - b[0])
        .map(([secondGlyph, xAdvance]) => ({ secondGlyph, valueRecord1: { xAdvance } satisfies ValueRecord, valueRecord2: {} })),
    ),
  });
  const parts: number[][] = [[]];
  let bytes = 0;
  for (const left of ascending(byLeft.keys())) {
    // An offset, a place in the coverage and a count, and four bytes a pair.
    const own = 6 + 4 * byLeft.get(left)!.size;
    if (bytes > 0 && bytes + own > MOST_PAIR_BYTES) {
      parts.push([]);
      bytes = 0;
    }
    parts[parts.length - 1]!.push(left);
    bytes += own;
  }
  return { ...lookup(2, subtable(parts[0]!)), extension: parts.length > 1, subtables: parts.map(subtable) };
}

function marks(rules: readonly Of<'mark'>[]): Lookup {
  const classes = [...new Set(rules.map((r) => r.class))];
  const anchor = (xCoordinate: number, yCoordinate: number): object => ({ format: 1, xCoordinate, yCoordinate });
  const markCoverage = ascending(rules.map((r) => r.mark));
  const baseCoverage = ascending(rules.map((r) => r.base));
  return lookup(4, {
    format: 1,
    markCoverage,
    baseCoverage,
    markClassCount: classes.length,
    markArray: markCoverage.map((g) => {
      const rule = rules.find((r) => r.mark === g)!;
      return { markClass: classes.indexOf(rule.class), markAnchor: anchor(rule.markX, rule.markY) };
    }),
    baseArray: baseCoverage.map((g) =>
      classes.map((c) => {
        const rule = rules.find((r) => r.base === g && r.class === c);
        return rule ? anchor(rule.baseX, rule.baseY) : null;
      }),
    ),
  });
}

/** Lookups by feature, and the features of every script and language. */
function assemble(lookups: readonly { feature: string; lookup: Lookup }[], scripts: readonly string[]) {
  const tags = [...new Set(lookups.map((l) => l.feature))].sort();
  return {
    majorVersion: 1,
    minorVersion: 0,
    scriptList: [...new Set(['DFLT', ...scripts])].sort().map((scriptTag) => ({
      scriptTag,
      script: { defaultLangSys: { requiredFeatureIndex: 0xffff, featureIndices: tags.map((_, i) => i) }, langSysRecords: [] },
    })),
    featureList: tags.map((featureTag) => ({
      featureTag,
      feature: {
        featureParams: null,
        lookupListIndices: lookups.flatMap((l, i) => (l.feature === featureTag ? [i] : [])),
      },
    })),
    lookupList: lookups.map((l) => l.lookup),
    featureVariations: null,
  };
}

function grouped<K extends FeatureRule['kind']>(rules: readonly FeatureRule[], kind: K, make: (list: readonly Of<K>[]) => Lookup) {
  const own = rules.filter((r): r is Of<K> => r.kind === kind);
  return [...new Set(own.map((r) => r.feature))].map((feature) => ({ feature, lookup: make(own.filter((r) => r.feature === feature)) }));
}

/** GSUB of a new face, null without substitutions. @param scripts OpenType script tags beside DFLT */
export function substitutionTable(rules: readonly FeatureRule[], scripts: readonly string[]): Gsub | null {
  const lookups = [
    ...grouped(rules, 'single', singles),
    ...grouped(rules, 'alternates', alternates),
    ...grouped(rules, 'ligature', ligatures),
  ];
  return lookups.length > 0 ? assemble(lookups, scripts) : null;
}

/** GPOS of a new face, null without adjustments. @param scripts OpenType script tags beside DFLT */
export function positioningTable(rules: readonly FeatureRule[], scripts: readonly string[]): Gpos | null {
  const lookups = [...grouped(rules, 'pair', pairs), ...grouped(rules, 'mark', marks)];
  return lookups.length > 0 ? assemble(lookups, scripts) : null;
}
