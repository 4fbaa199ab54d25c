import type { Gpos, Gsub, Lookup, ValueRecord } from '../sfnt/index.js';

// Substitutions and adjustments as a maker thinks of them, turned into lookups. Glyph ids; font units.

/** One feature of a new face. Rules of one feature act in the order in which they are listed here. */
export type FeatureRule =
  | { kind: 'single'; feature: string; from: number; to: number }
  | { kind: 'alternates'; feature: string; from: number; to: readonly number[] }
  | { kind: 'ligature'; feature: string; from: readonly number[]; to: number }
  | { kind: 'pair'; feature: string; left: number; right: number; value: number }
  /** Kerning of groups: one row a group of first glyphs, one column a group of second ones. No glyph is in two groups of a side. */
  | {
      kind: 'groups';
      feature: string;
      firsts: readonly (readonly number[])[];
      seconds: readonly (readonly number[])[];
      values: readonly (readonly number[])[];
      exceptions: readonly { left: number; right: number; value: number }[];
    }
  /**
   * Drawings of letters in turn: after a first drawing comes a second one, after that a third; also over one glyph of `between`.
   * Each list has the drawings of one letter, the usual one first.
   */
  | { kind: 'turns'; feature: string; letters: readonly (readonly number[])[]; between: readonly number[] }
  /** Glyphs that become others before certain ones, as i loses its dot under an accent. */
  | {
      kind: 'before';
      feature: string;
      from: readonly number[];
      /** A glyph, or several in its place. */
      to: readonly (number | readonly number[])[];
      ahead: readonly number[];
      /** Glyphs of which one or two may stand between. */
      over?: readonly number[];
    }
  | ({ kind: 'mark' } & Attachment)
  /** The base is itself a mark. */
  | ({ kind: 'mkmk' } & Attachment);

/** A mark whose anchor lies on that of its base. */
export interface Attachment {
  feature: string;
  base: number;
  mark: number;
  baseX: number;
  baseY: number;
  markX: number;
  markY: number;
  class: string;
}

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

/** One glyph becomes one or several. Source: OpenType specification, GSUB lookup type 2. */
function multiples(to: ReadonlyMap<number, readonly number[]>): Lookup {
  const coverage = ascending(to.keys());
  return lookup(2, { format: 1, coverage, sequences: coverage.map((g) => [...to.get(g)!]) });
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

/** Marks on letters, or (`mkmk`) on marks: both are written alike. Source: OpenType specification, GPOS lookup types 4 and 6. */
function marks(rules: readonly Of<'mark' | 'mkmk'>[]): Lookup {
  const onMarks = rules[0]!.kind === 'mkmk';
  const classes = [...new Set(rules.map((r) => r.class))];
  const anchor = (xCoordinate: number, yCoordinate: number): object => ({ format: 1, xCoordinate, yCoordinate });
  const markCoverage = ascending(rules.map((r) => r.mark));
  const baseCoverage = ascending(rules.map((r) => r.base));
  const byMark = new Map(rules.map((r) => [r.mark, r]));
  const byBase = new Map(rules.map((r) => [`${r.base} ${r.class}`, r]));
  const markArray = markCoverage.map((g) => {
    const rule = byMark.get(g)!;
    return { markClass: classes.indexOf(rule.class), markAnchor: anchor(rule.markX, rule.markY) };
  });
  const baseArray = baseCoverage.map((g) =>
    classes.map((c) => {
      const rule = byBase.get(`${g} ${c}`);
      return rule ? anchor(rule.baseX, rule.baseY) : null;
    }),
  );
  const markClassCount = classes.length;
  return onMarks
    ? lookup(6, {
        format: 1,
        mark1Coverage: markCoverage,
        mark2Coverage: baseCoverage,
        markClassCount,
        mark1Array: markArray,
        mark2Array: baseArray,
      })
    : lookup(4, { format: 1, markCoverage, baseCoverage, markClassCount, markArray, baseArray });
}

/** Kerning of groups. Source: OpenType specification, GPOS, pair adjustment format 2; class 0 is what is in no group. */
function groups({ feature, firsts, seconds, values, exceptions }: Of<'groups'>): Lookup {
  const classes = (list: readonly (readonly number[])[]): Map<number, number> =>
    new Map(list.flatMap((group, i) => group.map((g) => [g, i + 1] as const)).sort((a, b) => a[0] - b[0]));
  const none = { valueRecord1: { xAdvance: 0 } satisfies ValueRecord, valueRecord2: {} };
  // Rows by rows, so that all offsets of a subtable fit sixteen bits.
  const perPart = Math.max(1, Math.floor(MOST_PAIR_BYTES / (2 * (seconds.length + 1))) - 1);
  const part = (from: number): Lookup['subtables'][number] => ({
    format: 2,
    coverage: ascending(firsts.slice(from, from + perPart).flat()),
    valueFormat1: X_ADVANCE,
    valueFormat2: 0,
    classDef1: classes(firsts.slice(from, from + perPart)),
    classDef2: classes(seconds),
    class2Count: seconds.length + 1,
    class1Records: [
      Array.from({ length: seconds.length + 1 }, () => none),
      ...values
        .slice(from, from + perPart)
        .map((row) => [none, ...row.map((xAdvance) => ({ valueRecord1: { xAdvance } satisfies ValueRecord, valueRecord2: {} }))]),
    ],
  });
  const parts = Array.from({ length: Math.ceil(firsts.length / perPart) }, (_, i) => part(i * perPart));
  const whole = { ...lookup(2, parts[0]!), extension: parts.length > 1, subtables: parts };
  if (exceptions.length === 0) return whole;
  // Single pairs stand before the groups: the first subtable that has a pair says what it is.
  const single = pairs(exceptions.map((e) => ({ kind: 'pair', feature, ...e })));
  return { ...single, extension: true, subtables: [...single.subtables, ...whole.subtables] };
}

/** A rule that looks around: what a lookup does to the first glyph of its middle. Source: OpenType specification, chained contexts format 3. */
const around = (before: readonly (readonly number[])[], at: readonly number[], ahead: readonly (readonly number[])[], index: number) => ({
  format: 3,
  backtrackCoverages: before.map(ascending),
  inputCoverages: [ascending(at)],
  lookaheadCoverages: ahead.map(ascending),
  seqLookupRecords: [{ sequenceIndex: 0, lookupListIndex: index }],
});

/** Lookups that only others call stand under no feature. */
const CALLED = '';

/** Lookups by which drawings take turns. @param first number of the first lookup that this adds */
function inTurn({ feature, letters, between }: Of<'turns'>, first: number): { feature: string; lookup: Lookup }[] {
  const most = Math.max(...letters.map((l) => l.length));
  const called: { feature: string; lookup: Lookup }[] = [];
  const rules: ReturnType<typeof around>[] = [];
  for (let k = 1; k < most; k++) {
    const able = letters.filter((l) => l.length > k);
    const from = able.map((l) => l[0]!);
    called.push({
      feature: CALLED,
      lookup: singles(able.map((l) => ({ kind: 'single', feature, from: l[0]!, to: l[k]! }))),
    });
    const before = letters.map((l) => l[k - 1]).filter((g): g is number => g !== undefined);
    rules.push(around([before], from, [], first + k - 1));
    // Over a letter that has one drawing only; backtracks are told from the middle outward.
    if (between.length > 0) rules.push(around([between, before], from, [], first + k - 1));
  }
  return [...called, { feature, lookup: { ...lookup(6, rules[0]!), subtables: rules } }];
}

function beforeOthers({ feature, from, to, ahead, over = [] }: Of<'before'>, first: number): { feature: string; lookup: Lookup }[] {
  return [
    { feature: CALLED, lookup: multiples(new Map(from.map((f, i) => [f, [to[i]!].flat()]))) },
    {
      feature,
      lookup: {
        ...lookup(6, around([], from, [ahead], first)),
        subtables: [
          [ahead],
          ...(over.length > 0
            ? [
                [over, ahead],
                [over, over, ahead],
              ]
            : []),
        ].map((list) => around([], from, list, first)),
      },
    },
  ];
}

/** Lookups by feature, and the features of every script and language. */
function assemble(lookups: readonly { feature: string; lookup: Lookup }[], scripts: readonly string[]) {
  const tags = [...new Set(lookups.map((l) => l.feature))].filter((tag) => tag !== CALLED).sort();
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
  // Composition comes first, and turns last: they see what the others made.
  for (const rule of rules) if (rule.kind === 'before') lookups.push(...beforeOthers(rule, lookups.length));
  for (const rule of rules) if (rule.kind === 'turns') lookups.push(...inTurn(rule, lookups.length));
  return lookups.length > 0 ? assemble(lookups, scripts) : null;
}

/** GPOS of a new face, null without adjustments. @param scripts OpenType script tags beside DFLT */
export function positioningTable(rules: readonly FeatureRule[], scripts: readonly string[]): Gpos | null {
  const lookups = [
    ...grouped(rules, 'pair', pairs),
    ...rules.flatMap((rule) => (rule.kind === 'groups' ? [{ feature: rule.feature, lookup: groups(rule) }] : [])),
    ...grouped(rules, 'mark', marks),
    ...grouped(rules, 'mkmk', marks),
  ];
  return lookups.length > 0 ? assemble(lookups, scripts) : null;
}
