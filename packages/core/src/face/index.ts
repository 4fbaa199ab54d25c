export { deepCheck } from './deep-check.js';
export { decodeEmbedding, type Embedding } from './embedding.js';
export { FACTS_VERSION, inspectFont, readFacts, type AxisFacts, type FaceFacts, type FileFacts } from './facts.js';
export { faceKey, familyName, leadOrder, nameKey, styleName, versionKey } from './identity.js';
export { formatRuns, inRuns, toRuns } from './ranges.js';
export { drawGlyph, glyphFor, readRepertoire, type DrawnGlyph, type Repertoire, type Variant } from './repertoire.js';
export type { Finding } from './soundness.js';
