export { createSubsetter, type Subsetter } from './subset.js';
export { openFace, shapeLine, shapingRefusal, type OpenFace, type PlacedGlyph, type ShapedGlyph, type ShapedLine } from './shape.js';
