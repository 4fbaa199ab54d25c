export { Builder, profileOf, unicodeMap, type NewFace, type NewGlyph } from './builder.js';
export { Face, openFace, openFont, type OpenedFont, type OutlineKind } from './face.js';
export type { FeatureRule } from './features.js';
export { codePages, unicodeRanges } from './os2-ranges.js';
export { Setting, type SettableFace } from './setting.js';
export { looksLikeSvgFont, readSvgFonts, WEIGHT_STYLES } from './svg-font.js';
