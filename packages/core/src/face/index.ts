export { damagedGlyphs, deepCheck } from './deep-check.js';
export { decodeEmbedding, type Embedding } from './embedding.js';
export { factsOf, inspectFace, inspectFont, readFacts, type AxisFacts, type FaceFacts, type FileFacts } from './facts.js';
export { faceKey, familyName, leadOrder, nameKey, styleName, versionKey } from './identity.js';
export {
  drawGlyph,
  readRepertoire,
  relateGlyph,
  type DrawnGlyph,
  type GlyphRelations,
  type Repertoire,
  type Variant,
} from './repertoire.js';
export type { Finding } from './soundness.js';
export { MEASURED, MEASURES, measure, readLetters, type Letter, type Letters, type ShapeNumbers } from './shape.js';
export { judgeKind, classify, type KindJudgement, type LogisticModel } from './kind.js';
export { nameFace, opticalOrder, weightWord, widthWord, type Naming, type Repair } from './naming.js';
export {
  compareVersions,
  glyphPrints,
  readPrints,
  TRAITS,
  type GlyphPrint,
  type Prints,
  type Trait,
  type Traits,
  type VersionChanges,
} from './prints.js';
export { findDoubles, newerFirst, versionNumbers, type DoubleCandidate, type DoubleGroup } from './doubles.js';
export { styleTable, type StyledFace, type StyleTable } from './styles.js';
