export { BoundsPen, type Bounds } from './bounds.js';
export { CffOutlines } from './cff.js';
export { FlattenPen, type Polygon } from './flatten.js';
export { GlyfOutlines } from './glyf.js';
export { HashPen } from './hash.js';
export { openOutlines, type Outlines } from './open.js';
export type { Pen } from './pen.js';
export { rasterize, spansAtX, spansAtY, type Spans } from './raster.js';
