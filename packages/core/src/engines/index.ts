export { createSubsetter, type Subsetter } from './subset.js';
export { shapeLine, shapingRefusal, type ShapedGlyph, type ShapedLine } from './shape.js';
