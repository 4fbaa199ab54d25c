import { counted, countOf, formats, int16, list, offset16, record, uint16, type Data, type Field } from '../declare/index.js';
import { chainedContext, coverage, sequenceContext, type Subtable } from './layout-common.js';
import { layoutOf } from './layout-pack.js';

const covered = { coverage: offset16(coverage) };

const single = formats(uint16, {
  1: record({ ...covered, deltaGlyphID: int16 }),
  2: record({ ...covered, substituteGlyphIDs: counted(uint16) }),
});
const multiple = formats(uint16, { 1: record({ ...covered, sequences: counted(offset16(counted(uint16))) }) });
const alternate = formats(uint16, { 1: record({ ...covered, alternateSets: counted(offset16(counted(uint16))) }) });
const ligature = record({
  ligatureGlyph: uint16,
  componentCount: countOf(uint16, 'componentGlyphIDs', -1),
  /** The parts after the first, which the coverage names. */
  componentGlyphIDs: list('componentCount', uint16, -1),
});
const ligatures = formats(uint16, { 1: record({ ...covered, ligatureSets: counted(offset16(counted(offset16(ligature)))) }) });
const reverseChained = formats(uint16, {
  1: record({
    ...covered,
    backtrackCoverages: counted(offset16(coverage)),
    lookaheadCoverages: counted(offset16(coverage)),
    substituteGlyphIDs: counted(uint16),
  }),
});

/** Subtables by lookup type. 7, the extension, is told by `Lookup.extension`. */
const TYPES = { 1: single, 2: multiple, 3: alternate, 4: ligatures, 5: sequenceContext, 6: chainedContext, 8: reverseChained };

const layout = layoutOf('GSUB', TYPES as unknown as Record<number, Field<Subtable>>, 7);

/** Glyph substitution, every lookup type. Source: OpenType specification, GSUB. */
export const GSUB = layout.table;
export type Gsub = Data<typeof layout.field>;
