export {
  buildIconSet,
  carryOutRead,
  emOf,
  proveGlyph,
  readIcon,
  readIcons,
  type BuildTools,
  type BuiltIcon,
  type BuiltSet,
  type Proof,
  type ProofOrder,
  type ReadAnswer,
  type ReadIcon,
  type ReadOrder,
} from './build.js';
export { assignCodes, collisions, emFor, isPrivateUse, PRIVATE_USE, uPlus, type Collision } from './codes.js';
export { boundsOf, colorsOf, oneInk, readDrawing, twoTones, type Drawing, type DrawingTools, type Inking } from './drawing.js';
export { measureInk, setFindings, sizesOf, type IconFinding, type InkMeasures } from './findings.js';
export { freeName, glyphName, ICON_NAME, iconName, LIGATURE, PREFIX, type CleanName } from './names.js';
export { describeStep, placed, type PlaceStep } from './place.js';
export {
  contradictionsOf,
  DEFAULT_FACTS,
  ICON_FORMATS,
  newIcon,
  type Icon,
  type IconFormat,
  type IconSet,
  type Line,
  type Selector,
  type SetFacts,
} from './set.js';
export { compareReleases, noteText, type ReleaseNote } from './release.js';
export { classOf, iconFontPath, iconKitTexts, BENEATH, labelOf, pasteLine, pathOfInk, svgPaths, type IconKit } from './kit.js';
export { placeStepOf, readManifest, writeManifest, type Manifest } from './manifest.js';
export { takeDrawings, type GivenDrawing, type TakenDrawing } from './take.js';
export { readBoards, readSource, type Board, type Source } from './svg/source.js';
