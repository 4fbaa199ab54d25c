import {
  constant,
  counted,
  countOf,
  damaged,
  f2dot14,
  follow,
  formats,
  int16,
  list,
  lookUp,
  offset16,
  offset32,
  record,
  tag,
  uint16,
  uint24,
  uint32,
  when,
  type Data,
  type Field,
  type Source,
} from '../declare/index.js';

// What GSUB, GPOS and GDEF share. Source: OpenType specification, chapter 2, "OpenType Layout common table formats".

/** Glyph ids in the order of their coverage index, which ascends in a sound font. */
export const coverage: Field<number[]> = {
  read(s) {
    const format = uint16.read(s);
    if (format === 1) return counted(uint16).read(s);
    if (format !== 2) damaged(s, `a coverage of it is of format ${format}, which does not exist.`);
    const ranges = counted(record({ start: uint16, end: uint16, startCoverageIndex: uint16 })).read(s);
    const out: number[] = [];
    for (const { start, end, startCoverageIndex } of ranges) {
      if (startCoverageIndex !== out.length || end < start) damaged(s, 'the ranges of a coverage do not follow one another.');
      for (let g = start; g <= end && out.length < 0x10000; g++) out.push(g);
    }
    return out;
  },
  write(block, glyphs, scope) {
    const ranges = rangesOf(glyphs);
    const ascends = glyphs.every((g, i) => i === 0 || g > glyphs[i - 1]!);
    if (ascends && 6 * ranges.length < 2 * glyphs.length) {
      uint16.write(block, 2, scope);
      uint16.write(block, ranges.length, scope);
      let index = 0;
      for (const [start, end] of ranges) {
        for (const value of [start, end, index]) uint16.write(block, value, scope);
        index += end - start + 1;
      }
    } else {
      uint16.write(block, 1, scope);
      counted(uint16).write(block, glyphs, scope);
    }
  },
};

function rangesOf(glyphs: readonly number[]): [number, number][] {
  const ranges: [number, number][] = [];
  for (const g of glyphs) {
    const last = ranges[ranges.length - 1];
    if (last && last[1] + 1 === g) last[1] = g;
    else ranges.push([g, g]);
  }
  return ranges;
}

/** Class of each glyph that has another than 0, by ascending glyph. */
export const classDef: Field<Map<number, number>> = {
  read(s) {
    const format = uint16.read(s);
    const classes: [number, number][] = [];
    if (format === 1) {
      const start = uint16.read(s);
      counted(uint16)
        .read(s)
        .forEach((value, i) => value !== 0 && classes.push([start + i, value]));
    } else if (format === 2) {
      let covered = 0;
      for (const range of counted(record({ start: uint16, end: uint16, class: uint16 })).read(s)) {
        covered += Math.max(0, range.end - range.start + 1);
        if (covered > 0x10000) damaged(s, 'its classes name more glyphs than a font can have.');
        for (let g = range.start; g <= range.end; g++) if (range.class !== 0) classes.push([g, range.class]);
      }
    } else damaged(s, `a list of classes in it is of format ${format}, which does not exist.`);
    return new Map(classes.sort((a, b) => a[0] - b[0]));
  },
  write(block, classes, scope) {
    const glyphs = [...classes.keys()].sort((a, b) => a - b);
    const ranges: { start: number; end: number; class: number }[] = [];
    for (const g of glyphs) {
      const last = ranges[ranges.length - 1];
      const value = classes.get(g)!;
      if (last && last.end + 1 === g && last.class === value) last.end = g;
      else ranges.push({ start: g, end: g, class: value });
    }
    const first = glyphs[0] ?? 0;
    const span = glyphs.length === 0 ? 0 : glyphs[glyphs.length - 1]! - first + 1;
    if (6 + 2 * span < 4 + 6 * ranges.length) {
      uint16.write(block, 1, scope);
      uint16.write(block, first, scope);
      counted(uint16).write(
        block,
        Array.from({ length: span }, (_, i) => classes.get(first + i) ?? 0),
        scope,
      );
    } else {
      uint16.write(block, 2, scope);
      counted(record({ start: uint16, end: uint16, class: uint16 })).write(block, ranges, scope);
    }
  },
};

const VARIATION_INDEX = 0x8000;
/** Correction by size in pixels, or (format 0x8000) a place in the item variation store: outer index, inner index. */
export const device = record({
  startSize: uint16,
  endSize: uint16,
  deltaFormat: uint16,
  /** Packed words, 2, 4 or 8 bits a size. */
  deltaValue: list((s) => {
    const format = lookUp(s, 'deltaFormat') as number;
    if (format === VARIATION_INDEX || format < 1 || format > 3) return 0;
    const sizes = (lookUp(s, 'endSize') as number) - (lookUp(s, 'startSize') as number) + 1;
    return Math.ceil((sizes * 2 ** format) / 16);
  }, uint16),
});

/** Adjustments of one glyph in font units; only what the value format names is there. */
export interface ValueRecord {
  xPlacement?: number;
  yPlacement?: number;
  xAdvance?: number;
  yAdvance?: number;
  xPlaDevice?: Data<typeof device> | null;
  yPlaDevice?: Data<typeof device> | null;
  xAdvDevice?: Data<typeof device> | null;
  yAdvDevice?: Data<typeof device> | null;
}
const VALUES = ['xPlacement', 'yPlacement', 'xAdvance', 'yAdvance'] as const;
const DEVICES = ['xPlaDevice', 'yPlaDevice', 'xAdvDevice', 'yAdvDevice'] as const;

/** A value record whose format stands in the field `format`. */
export function valueRecord(format: string): Field<ValueRecord> {
  const toDevice = offset16(device);
  return {
    read(s) {
      const bits = lookUp(s.scope, format) as number;
      const value: ValueRecord = {};
      VALUES.forEach((name, i) => {
        if (bits & (1 << i)) value[name] = int16.read(s);
      });
      DEVICES.forEach((name, i) => {
        if (bits & (16 << i)) value[name] = toDevice.read(s);
      });
      return value;
    },
    write(block, value, scope) {
      const bits = lookUp(scope, format) as number;
      VALUES.forEach((name, i) => {
        if (bits & (1 << i)) int16.write(block, value[name] ?? 0, scope);
      });
      DEVICES.forEach((name, i) => {
        if (bits & (16 << i)) toDevice.write(block, value[name] ?? null, scope);
      });
    },
  };
}

/** A point of a glyph in font units. */
export const anchor = formats(uint16, {
  1: record({ xCoordinate: int16, yCoordinate: int16 }),
  2: record({ xCoordinate: int16, yCoordinate: int16, anchorPoint: uint16 }),
  3: record({ xCoordinate: int16, yCoordinate: int16, xDevice: offset16(device), yDevice: offset16(device) }),
});
export type Anchor = Data<typeof anchor>;

const lookupRecords = { seqLookupCount: countOf(uint16, 'seqLookupRecords') };
const records = { seqLookupRecords: list('seqLookupCount', record({ sequenceIndex: uint16, lookupListIndex: uint16 })) };

/** A rule: the glyphs (or classes) after the first one, and what happens at which of them. */
const rule = record({
  glyphCount: countOf(uint16, 'inputSequence', -1),
  ...lookupRecords,
  inputSequence: list('glyphCount', uint16, -1),
  ...records,
});
const ruleSets = counted(offset16(counted(offset16(rule))));

/** Lookups in the context of what comes after. Source: chapter 2, "Sequence context". */
export const sequenceContext = formats(uint16, {
  1: record({ coverage: offset16(coverage), seqRuleSets: ruleSets }),
  2: record({ coverage: offset16(coverage), classDef: offset16(classDef), classSeqRuleSets: ruleSets }),
  3: record({
    glyphCount: countOf(uint16, 'coverages'),
    ...lookupRecords,
    coverages: list('glyphCount', offset16(coverage)),
    ...records,
  }),
});

const chainedRule = record({
  backtrackSequence: counted(uint16),
  inputGlyphCount: countOf(uint16, 'inputSequence', -1),
  inputSequence: list('inputGlyphCount', uint16, -1),
  lookaheadSequence: counted(uint16),
  ...lookupRecords,
  ...records,
});
const chainedRuleSets = counted(offset16(counted(offset16(chainedRule))));

/** Lookups in the context of what comes before and after. Source: chapter 2, "Chained sequence context". */
export const chainedContext = formats(uint16, {
  1: record({ coverage: offset16(coverage), chainedSeqRuleSets: chainedRuleSets }),
  2: record({
    coverage: offset16(coverage),
    backtrackClassDef: offset16(classDef),
    inputClassDef: offset16(classDef),
    lookaheadClassDef: offset16(classDef),
    chainedClassSeqRuleSets: chainedRuleSets,
  }),
  3: record({
    backtrackCoverages: counted(offset16(coverage)),
    inputCoverages: counted(offset16(coverage)),
    lookaheadCoverages: counted(offset16(coverage)),
    ...lookupRecords,
    ...records,
  }),
});

/** One lookup: subtables of one type, of which the first that fits acts. */
export interface Lookup {
  lookupType: number;
  /** Bit 0 right to left, 1 ignore bases, 2 ligatures, 3 marks, 4 mark filtering set; high byte mark attachment class. */
  lookupFlag: number;
  /** Whether the subtables stand behind extension subtables, whose offsets have 32 bits. */
  extension: boolean;
  subtables: Subtable[];
  markFilteringSet: number | null;
}
/** The fields of a subtable are those of its type and format in the specification. */
export interface Subtable {
  format: number;
  [field: string]: unknown;
}

const USE_MARK_FILTERING_SET = 0x0010;

/** A field whose write can be told to put every lookup behind extension subtables. */
export interface Packing {
  allExtensions: boolean;
}

function lookupOf(types: Readonly<Record<number, Field<Subtable>>>, extensionType: number, packing: Packing): Field<Lookup> {
  const kindOf = (type: number, s: Source): Field<Subtable> =>
    types[type] ?? damaged(s, `a lookup of it is of type ${type}, which does not exist.`);
  return {
    read(s) {
      const stated = uint16.read(s);
      const lookupFlag = uint16.read(s);
      let lookupType = stated;
      const subtables: Subtable[] = [];
      for (const offset of counted(uint16).read(s)) {
        let at = s.base + offset;
        if (stated === extensionType) {
          lookupType = s.r.u16(at + 2);
          at += s.r.u32(at + 4);
        }
        subtables.push(follow(s, kindOf(lookupType, s), at));
      }
      return {
        lookupType,
        lookupFlag,
        extension: stated === extensionType,
        subtables,
        markFilteringSet: lookupFlag & USE_MARK_FILTERING_SET ? uint16.read(s) : null,
      };
    },
    write(block, lookup, scope) {
      const extension = lookup.extension || packing.allExtensions;
      uint16.write(block, extension ? extensionType : lookup.lookupType, scope);
      uint16.write(block, lookup.lookupFlag, scope);
      uint16.write(block, lookup.subtables.length, scope);
      const kind = types[lookup.lookupType]!;
      for (const subtable of lookup.subtables) {
        if (!extension) {
          block.link(
            2,
            block.child((c) => kind.write(c, subtable, null)),
          );
          continue;
        }
        block.link(
          2,
          block.child((c) => {
            uint16.write(c, 1, null);
            uint16.write(c, lookup.lookupType, null);
            // A pool of its own: sharing parts with another subtable would chain them together within 16 bits again.
            const pool = new Map();
            c.link(
              4,
              c.child((d) => {
                d.pool = pool;
                kind.write(d, subtable, null);
              }),
            );
          }),
        );
      }
      if (lookup.lookupFlag & USE_MARK_FILTERING_SET) uint16.write(block, lookup.markFilteringSet ?? 0, scope);
    },
  };
}

const langSys = record({
  lookupOrderOffset: constant(uint16, 0),
  /** 0xFFFF for none. */
  requiredFeatureIndex: uint16,
  featureIndices: counted(uint16),
});
const script = record({
  defaultLangSys: offset16(langSys),
  langSysRecords: counted(record({ langSysTag: tag, langSys: offset16(langSys) })),
});
const scriptList = counted(record({ scriptTag: tag, script: offset16(script) }));

/** What some features say of themselves: `size`, `ss01` to `ss20`, `cv01` to `cv99`. */
const parameters: Field<Record<string, unknown> | null> = {
  read(s) {
    const name = lookUp(s.scope, 'featureTag') as string;
    return paramsOf(name)?.read(s) ?? null;
  },
  write(block, value, scope) {
    if (value) paramsOf(lookUp(scope, 'featureTag') as string)!.write(block, value, scope);
  },
};
const sizeParams = record({
  /** Tenths of a point. */
  designSize: uint16,
  subfamilyIdentifier: uint16,
  subfamilyNameID: uint16,
  rangeStart: uint16,
  rangeEnd: uint16,
});
const stylisticParams = record({ version: uint16, uiNameID: uint16 });
const characterParams = record({
  format: uint16,
  featUiLabelNameID: uint16,
  featUiTooltipTextNameID: uint16,
  sampleTextNameID: uint16,
  numNamedParameters: uint16,
  firstParamUiLabelNameID: uint16,
  characters: counted(uint24),
});
function paramsOf(name: string): Field<Record<string, unknown>> | null {
  if (name === 'size') return sizeParams as Field<Record<string, unknown>>;
  if (/^ss\d\d$/.test(name)) return stylisticParams as Field<Record<string, unknown>>;
  if (/^cv\d\d$/.test(name)) return characterParams as Field<Record<string, unknown>>;
  return null;
}

const feature = record({ featureParams: offset16(parameters, true), lookupListIndices: counted(uint16) });
const featureList = counted(record({ featureTag: tag, feature: offset16(feature, true) }));

const condition = formats(uint16, {
  1: record({ axisIndex: uint16, filterRangeMinValue: f2dot14, filterRangeMaxValue: f2dot14 }),
});
/** A feature that stands in for another has no name of its own here; parameters are those of what it replaces. */
const alternate = record({ featureParams: constant(uint16, 0), lookupListIndices: counted(uint16) });
const featureVariations = record({
  majorVersion: uint16,
  minorVersion: uint16,
  featureVariationRecords: counted(
    record({
      conditionSet: offset32(counted(offset32(condition))),
      featureTableSubstitution: offset32(
        record({
          majorVersion: uint16,
          minorVersion: uint16,
          substitutions: counted(record({ featureIndex: uint16, alternateFeature: offset32(alternate) })),
        }),
      ),
    }),
    uint32,
  ),
});

/** The whole of GSUB or GPOS. */
export function layoutTable(types: Readonly<Record<number, Field<Subtable>>>, extensionType: number, packing: Packing) {
  return record({
    majorVersion: uint16,
    minorVersion: uint16,
    scriptList: offset16(scriptList),
    featureList: offset16(featureList),
    lookupList: offset16(counted(offset16(lookupOf(types, extensionType, packing)))),
    featureVariations: when('minorVersion', (v) => v >= 1, offset32(featureVariations)),
  });
}
