export { BoundsPen, type Bounds } from './bounds.js';
export { CffOutlines } from './cff.js';
export { GlyfOutlines } from './glyf.js';
export type { Pen } from './pen.js';
