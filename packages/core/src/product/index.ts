export * from './drawn-typeface/index.js';
export * from './icon-set/index.js';
import { EDITION } from './edition/index.js';
import type { ProductKind } from './product.js';

export { EDITION, type EditionRecipe } from './edition/index.js';
export {
  keepsCodePoints,
  type Built,
  type GivenCodePoint,
  type Previous,
  type ProductFinding,
  type ProductKind,
  type ProductSource,
  type ReleaseFile,
} from './product.js';

/** Everything that can be made here. */
export const PRODUCTS: readonly ProductKind<never>[] = [EDITION as ProductKind<never>];
