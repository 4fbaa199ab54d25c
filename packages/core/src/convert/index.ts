export { FORMAT_INFO } from './formats.js';
export { faceData, glyphFileName, glyphSvg, type FaceData, type GlyphData } from './glyphs.js';
export { accepted, plan } from './plan.js';
export { changesOf, containerRecipe, recipeKey, render, sayRecipe, stepOf, type Rendered } from './recipe.js';
export {
  stateOf,
  type Accepts,
  type FaceState,
  type Made,
  type Options,
  type Comparison,
  type Recipe,
  type RecipeStep,
  type Step,
  type TargetFormat,
  type Tools,
} from './step.js';
export { STEPS } from './steps/index.js';
export { proveEqual } from './steps/container.js';
export { placeOf, styleAt } from './steps/instance.js';
export { USUAL_TOLERANCE } from './steps/outlines.js';
export { estimateBytes, recipeFor, runsOfLanguages, runsOfRanges, runsOfText, type Wish } from './wish.js';
export {
  LENGTH_UNITS,
  piecePath,
  wordShapes,
  wordsSvg,
  type LengthUnit,
  type WordPiece,
  type WordShapes,
  type WordsWish,
} from './words.js';
export { canMend } from './steps/mend.js';
export { GIVEN_NAMES } from './steps/rename.js';
