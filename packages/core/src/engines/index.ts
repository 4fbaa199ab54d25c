export { createSubsetter, type Subsetter } from './subset.js';
export { openShaper, shapeLine, shapingRefusal, type PlacedGlyph, type ShapedGlyph, type ShapedLine, type Shaper } from './shape.js';
