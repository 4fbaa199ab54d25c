export { OPEN_LICENSES, openLicense, type OpenLicense } from './data/open-licenses.js';
export { compileTemplates, recogniseMention, recogniseText, reservedNames, type LicenseTemplate, type Recognition } from './recognise.js';
export { KIND_WORDS, LICENSE_KINDS, USES, USE_WORDS, type Answer, type LicenseKind, type Use } from './uses.js';
export { verdict, type LicenseRecord, type Verdict } from './verdict.js';
