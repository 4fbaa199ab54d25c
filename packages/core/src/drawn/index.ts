export { channelOf, type Channel, type Gray, type Picture } from './picture.js';
export {
  BOX,
  DOT,
  EM_LIMITS,
  GUIDES,
  layOut,
  pageCode,
  PAPERS,
  readPageCode,
  RING,
  SALMON,
  SALMON_TEXT,
  sheetShapes,
  type Cell,
  type Paper,
  type PlacedCell,
  type PlacedWords,
  type SheetPage,
  type SheetPlan,
  type SheetShape,
} from './sheet.js';
export { findMarks, findPages, type FoundPage } from './find.js';
export { fitContour } from './fit.js';
export { areaWithin, isolines } from './contour.js';
export { GAP, INK_EM, LEAST_PX, readPage, SPECK, type ReadCell, type ReadFinding, type ReadPage } from './read.js';
export { classKerning, kernPairs, type ClassKerning, type Kernable, type LetterKind, type Pair } from './kerning.js';
export { connectedSides, connectionOf, leadOutOf, type Connection, type LeadOut } from './joins.js';
export { edgesOf, shapeOf, type Shape } from './profile.js';
export { projective, solve } from './warp.js';
export { bearingsOf, usualTarget, writtenTarget, type Band, type Bearings, type Heights, type Spaceable } from './spacing.js';
export {
  cellsFor,
  DRAWN_SCRIPTS,
  partsOf,
  recipeOf,
  wantedCharacters,
  wordsFor,
  type CharacterWish,
  type Composition,
} from './characters.js';
export { SPACING } from './characters.js';
export { anchorsOf, compose, withoutDot, type Adjustment, type Anchors, type Composed, type Parts } from './compose.js';
export { lettersOf, traceBox } from './picked.js';
