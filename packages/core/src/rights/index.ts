export { OPEN_LICENSES, openLicense, type OpenLicense } from './data/open-licenses.js';
export {
  aroundLicenses,
  compileLicenses,
  readLicenses,
  recogniseText,
  reservedNames,
  type LicenseIndex,
  type LicenseReading,
  type Passage,
  type Recognition,
} from './recognise.js';
export {
  KIND_WORDS,
  LICENSE_KINDS,
  LIMIT_KEYS,
  LIMITS,
  limitsOf,
  USES,
  USE_WORDS,
  type Answer,
  type LicenseKind,
  type Limit,
  type Use,
} from './uses.js';
export {
  ATTENTION,
  verdict,
  type Change,
  type Circumstances,
  type Counters,
  type PlaceRules,
  type LicenseRecord,
  type Verdict,
} from './verdict.js';
export { verdictTable, type Licensed } from './table.js';
export { offeredAnswers, readText, type TextReading } from './read.js';
export { readFileMentions, readMentions, type Mention } from './mentions.js';
export { sayDay } from './day.js';
export type { Narrowing } from './narrowing.js';
export { readTerms, type TermsLimit, type TermsPassage, type TermsReading, type TermsSuggestion } from './terms.js';
export { STARTING_POINTS, type StartingPoint } from './data/starting-points.js';
export { belongings, findingsOf, type Belonging, type BundleFace, type BundleText, type TextFindings } from './belongs.js';
