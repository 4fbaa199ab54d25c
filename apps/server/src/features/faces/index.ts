export { acceptFacts, keepFacts, KeptFact, staleFacts, withFact, type DerivedRow } from './derived.js';
export { FACE_COLUMNS, findFaces, type LeadRow } from './leads.js';
export { FaceLines } from './lines.js';
export { render, type Rendered } from './renditions.js';
export { Fact, FaceEntity, FaceFile, FamilyEntity, FileEntity, Rendition, type FaceRow, type FamilyRow } from './rows.js';
export {
  familyFor,
  familyKey,
  FontKeeper,
  newFamily,
  styleColumns,
  storeFont,
  storeKnownFont,
  type Incoming,
  type Outcome,
} from './store.js';
export { facesRoutes } from './routes.js';
export { facesRows, facesBytes } from './rows.js';
