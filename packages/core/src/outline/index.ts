export { BoundsPen, type Bounds } from './bounds.js';
export { CffOutlines } from './cff.js';
export { FlattenPen, type Polygon } from './flatten.js';
export { GlyfOutlines } from './glyf.js';
export { HashPen } from './hash.js';
export { openOutlines, type Outlines } from './open.js';
export { coversInk, sameInk, type Ink } from './ink.js';
export type { Pen } from './pen.js';
export { rasterize, spansAtX, spansAtY, type Fill, type Spans } from './raster.js';
export { CharStringPen } from './pens/charstring.js';
export { ESCAPE, OP } from './charstring-operators.js';
export {
  areaOf,
  ContourPen,
  directed,
  DirectionPen,
  drawContour,
  reversed,
  ReversePen,
  type Contour,
  type Segment,
} from './pens/contours.js';
export { cubicContour, nearestOnCubic } from './fit-cubic.js';
export { drawQuadratic } from './fit-quadratic.js';
export { drawTangent } from './tangent-quadratic.js';
export { drawQuick } from './quick-quadratic.js';
export { GlyfPen } from './pens/glyf.js';
export { shareSubroutines, type SharedPrograms } from './subroutines.js';
export { AreaPen, StatisticsPen } from './pens/moments.js';
export { QuadraticPen } from './pens/quadratic.js';
export { SvgPathPen } from './pens/svg.js';
export { RoundingPen, TransformPen, type Matrix } from './pens/transform.js';
