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
export { createPaths, type Paths, type Stretch, type StrokeStyle } from './paths.js';
export { createSvgEngine, type NormalSvg, type SvgEngine } from './svg.js';
export { codeModules, createCodeReader, type CodeReader, type FoundCode } from './codes.js';
export { bidiLevels } from './bidi.js';
export { drawSvgPath } from './svg-path.js';
export { readXml, type XmlReader } from './xml.js';
