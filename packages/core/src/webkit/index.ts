export { FALLBACK_NAMES, fallbackFor, lineMetrics, sharesOf, type Fallback, type Shares } from './fallback.js';
export { fileBase, fontFaceRule, kitTexts, type KitFace, type KitText } from './kit.js';
export { fontPath, LAYOUTS, siteKitTexts, stackOf, type Layout, type SiteFile, type SiteKit } from './site-kit.js';
