export {
  FALLBACK_NAMES,
  fallbackFor,
  genericOf,
  lineMetrics,
  sharesOf,
  standInFor,
  type Fallback,
  type Generic,
  type Shares,
} from './fallback.js';
export { fileBase, type KitText } from './kit.js';
export { fontPath, LAYOUTS, PLACES, siteKitTexts, stackOf, type Layout, type SiteFile, type SiteKit } from './site-kit.js';
export { splitForLanguages, unicodeRangeOf, type FilePart } from './split.js';
