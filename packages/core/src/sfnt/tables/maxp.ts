import { declare, record, since, uint16, uint32, type Data } from '../declare/index.js';

/** Fields that only version 1.0, of TrueType outlines, has. */
const ONE = 0x00010000;

const fields = record({
  /** 0x00005000 for CFF outlines, 0x00010000 for TrueType. */
  version: uint32,
  numGlyphs: uint16,
  maxPoints: since(ONE, 2, uint16),
  maxContours: since(ONE, 2, uint16),
  maxCompositePoints: since(ONE, 2, uint16),
  maxCompositeContours: since(ONE, 2, uint16),
  maxZones: since(ONE, 2, uint16),
  maxTwilightPoints: since(ONE, 2, uint16),
  maxStorage: since(ONE, 2, uint16),
  maxFunctionDefs: since(ONE, 2, uint16),
  maxInstructionDefs: since(ONE, 2, uint16),
  maxStackElements: since(ONE, 2, uint16),
  maxSizeOfInstructions: since(ONE, 2, uint16),
  maxComponentElements: since(ONE, 2, uint16),
  maxComponentDepth: since(ONE, 2, uint16),
});

/** Maximum profile. Source: OpenType specification, maxp. */
export const MAXP = declare('maxp', fields);
export type Maxp = Data<typeof fields>;
