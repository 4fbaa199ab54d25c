export { OPEN_LICENSES, openLicense, type OpenLicense } from './data/open-licenses.js';
export { compileTemplates, recogniseMention, recogniseText, reservedNames, type LicenseTemplate, type Recognition } from './recognise.js';
export { KIND_WORDS, LICENSE_KINDS, LIMIT_UNITS, USES, USE_WORDS, type Answer, type LicenseKind, type Use } from './uses.js';
export { ATTENTION, verdict, type Counters, type LicenseRecord, type Verdict } from './verdict.js';
export { readTerms, type TermsReading, type TermsSuggestion } from './terms.js';
export { writeCalendar, type CalendarEntry } from './calendar.js';
