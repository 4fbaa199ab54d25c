import { counted, countOf, declare, formats, int16, list, offset16, offset32, record, uint16, when, type Data } from '../declare/index.js';
import { classDef, coverage, device } from './layout-common.js';
import { itemVariationStore } from './variations.js';

const caret = formats(uint16, {
  1: record({ /** Font units from the origin. */ coordinate: int16 }),
  2: record({ caretValuePointIndex: uint16 }),
  3: record({ coordinate: int16, device: offset16(device) }),
});

const fields = record({
  majorVersion: uint16,
  minorVersion: uint16,
  /** 1 base, 2 ligature, 3 mark, 4 component. */
  glyphClassDef: offset16(classDef),
  attachList: offset16(record({ coverage: offset16(coverage), attachPoints: counted(offset16(counted(uint16))) })),
  ligCaretList: offset16(record({ coverage: offset16(coverage), ligGlyphs: counted(offset16(counted(offset16(caret)))) })),
  markAttachClassDef: offset16(classDef),
  markGlyphSetsDef: when(
    'minorVersion',
    (v) => v >= 2,
    offset16(
      record({
        format: uint16,
        markGlyphSetCount: countOf(uint16, 'coverages'),
        coverages: list('markGlyphSetCount', offset32(coverage)),
      }),
    ),
  ),
  itemVarStore: when('minorVersion', (v) => v >= 3, offset32(itemVariationStore)),
});

/** Glyph definitions, versions 1.0 to 1.3. Source: OpenType specification, GDEF. */
export const GDEF = declare('GDEF', fields);
export type Gdef = Data<typeof fields>;
