export { createSubsetter, type Cut, type Subsetter } from './subset.js';
export {
  openPlaced,
  openShaper,
  shapeLine,
  shapingRefusal,
  type PlacedGlyph,
  type ShapedGlyph,
  type ShapedLine,
  type Placed,
  type Shaper,
} from './shape.js';
