export { Face, openFace, openFont, type OpenedFont, type OutlineKind } from './face.js';
export { Setting, type SettableFace } from './setting.js';
