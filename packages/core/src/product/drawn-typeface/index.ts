export { buildTypeface, typefaceStops, type BuiltTypeface } from './build.js';
export { describeLetterStep, outlineOf, STEP_LIMITS, type DrawnLetter, type LetterStep } from './letters.js';
export {
  groupOf,
  kindOf,
  nameOf,
  openCells,
  planTypeface,
  type LetterFinding,
  type Plan,
  type PlannedGlyph,
  type SetBearings,
  type Typeface,
  type TypefaceFacts,
} from './typeface.js';
export { contoursOf, letterStepOf, readTypeface, writeTypeface, type TypefaceFile } from './manifest.js';
