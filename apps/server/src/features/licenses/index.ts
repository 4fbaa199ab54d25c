export { settleBelongings } from './belonging.js';
export { calendarPath, readCalendar, renewCalendar } from './calendar.js';
export { judgeText, readCompanion, type CompanionReading } from './companion.js';
export {
  allVerdicts,
  describeCompanion,
  describeCoverage,
  EVIDENCE,
  faceFields,
  licenseRecord,
  suggestionsFor,
  suggestionsOf,
  type Belongs,
} from './describe.js';
export { addEvidence } from './evidence.js';
export { licenseHistory } from './history.js';
export {
  describeLicenses,
  doubtLicense,
  followLicenses,
  listLicenses,
  removeLicense,
  restoreLicense,
  saveLicense,
  type Touching,
  writeLicense,
} from './licenses.js';
export {
  CompanionEntity,
  LicenseEntity,
  LicenseEvidence,
  LicenseFace,
  LicenseVersion,
  StartingPointEntity,
  type CompanionKind,
  type CompanionRow,
  type LicenseRow,
} from './rows.js';
export { dropStartingPoint, keepStartingPoint, listStartingPoints } from './starting-points.js';
export { madeHere } from './made-here.js';
export { storeCompanion } from './store-companion.js';
export { licensesRoutes } from './routes.js';
export { licensesRows, licensesBytes } from './rows.js';
