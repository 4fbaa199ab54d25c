import { counted, countOf, formats, list, offset16, record, uint16, type Data, type Field } from '../declare/index.js';
import { anchor, chainedContext, classDef, coverage, sequenceContext, valueRecord, type Subtable } from './layout-common.js';
import { layoutOf } from './layout-pack.js';

const covered = { coverage: offset16(coverage) };

const single = formats(uint16, {
  1: record({ ...covered, valueFormat: uint16, valueRecord: valueRecord('valueFormat') }),
  2: record({
    ...covered,
    valueFormat: uint16,
    valueCount: countOf(uint16, 'valueRecords'),
    valueRecords: list('valueCount', valueRecord('valueFormat')),
  }),
});

const pairValues = { valueRecord1: valueRecord('valueFormat1'), valueRecord2: valueRecord('valueFormat2') };
const pair = formats(uint16, {
  1: record({
    ...covered,
    valueFormat1: uint16,
    valueFormat2: uint16,
    /** One set a covered glyph: what may follow it. */
    pairSets: counted(offset16(counted(record({ secondGlyph: uint16, ...pairValues })), true)),
  }),
  2: record({
    ...covered,
    valueFormat1: uint16,
    valueFormat2: uint16,
    classDef1: offset16(classDef),
    classDef2: offset16(classDef),
    class1Count: countOf(uint16, 'class1Records'),
    /** Stands in the data, since without rows it could not be told. */
    class2Count: uint16,
    class1Records: list('class1Count', list('class2Count', record(pairValues))),
  }),
});

const cursive = formats(uint16, {
  1: record({ ...covered, entryExitRecords: counted(record({ entryAnchor: offset16(anchor), exitAnchor: offset16(anchor) })) }),
});

const markArray = counted(record({ markClass: uint16, markAnchor: offset16(anchor) }));
/** One anchor a class of marks. */
const perClass = list('markClassCount', offset16(anchor));
const markToBase = formats(uint16, {
  1: record({
    markCoverage: offset16(coverage),
    baseCoverage: offset16(coverage),
    markClassCount: uint16,
    markArray: offset16(markArray),
    baseArray: offset16(counted(perClass), true),
  }),
});
const markToLigature = formats(uint16, {
  1: record({
    markCoverage: offset16(coverage),
    ligatureCoverage: offset16(coverage),
    markClassCount: uint16,
    markArray: offset16(markArray),
    /** Per ligature, per part of it. */
    ligatureArray: offset16(counted(offset16(counted(perClass), true)), true),
  }),
});
const markToMark = formats(uint16, {
  1: record({
    mark1Coverage: offset16(coverage),
    mark2Coverage: offset16(coverage),
    markClassCount: uint16,
    mark1Array: offset16(markArray),
    mark2Array: offset16(counted(perClass), true),
  }),
});

/** Subtables by lookup type. 9, the extension, is told by `Lookup.extension`. */
const TYPES = {
  1: single,
  2: pair,
  3: cursive,
  4: markToBase,
  5: markToLigature,
  6: markToMark,
  7: sequenceContext,
  8: chainedContext,
};

const layout = layoutOf('GPOS', TYPES as unknown as Record<number, Field<Subtable>>, 9);

/** Glyph positioning, every lookup type; values in font units. Source: OpenType specification, GPOS. */
export const GPOS = layout.table;
export type Gpos = Data<typeof layout.field>;
