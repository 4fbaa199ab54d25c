export { distance, likenessOf, rankAlike, type AlikeModel, type Likeness, type Ranked } from './alike.js';
export { describeLetters, LETTERS, RAW_LENGTH } from './descriptor.js';
export { findDrawn } from './drawn.js';
export { CELLS, decodeShapes, encodeShapes, type FaceShapes, type ShapeLetter } from './shapes.js';
export { enlarged, findInk, type Color, type FoundInk, type InkChoice, type InkField } from './ink.js';
export {
  fitWord,
  groupsOf,
  letterOf,
  readWord,
  softnessOf,
  linesOf,
  looseLetters,
  inkParts,
  takeApart,
  union,
  type Box,
  type Group,
  type Part,
  type PictureLetter,
  type ReadWord,
  type TakenApart,
} from './letters.js';
export { rankCoarse, rankSoftened, type Coarse, type IndexedFace, type Wanted } from './coarse.js';
export { fitLetters, type LaidOver, type Pairing } from './fine.js';
export { searchFaces, type Found, type NamedLetter, type Search, type SearchOptions } from './search.js';
export { composeWord, LONGEST_WORD, searchWord, type WordShape } from './word.js';
export { answerOf, areTwins, type FaceAnswer, type AnsweredFamily, type Sureness } from './answer.js';
export { findFaces, readsAsWord, type FindOptions, type FoundFaces } from './find.js';
export { editPicture, inkOf, levelLadder, MOST_PICTURE_PX, type Edited, type InkWish, type PictureEdit } from './edits.js';
export { charactersOf, guessLetters, namedLetters, usualWidths, widthsOf, type Guess } from './reader.js';
export { traceInk, tracedSvg } from './outline.js';
