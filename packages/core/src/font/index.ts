export { Builder, profileOf, type NewFace, type NewGlyph } from './builder.js';
export { Face, openFace, openFont, type OpenedFont, type OutlineKind } from './face.js';
export type { FeatureRule } from './features.js';
export { codePages, unicodeRanges } from './os2-ranges.js';
export { Setting, type SettableFace } from './setting.js';
