export { distance, likenessOf, rankAlike, type AlikeModel, type Likeness, type Ranked } from './alike.js';
export { describeLetters, LETTERS, RAW_LENGTH } from './descriptor.js';
export { findDrawn } from './drawn.js';
