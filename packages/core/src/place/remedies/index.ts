export { another, lookAtLicense, makeRoom, renamed, replaceOld, settingsOfPlace } from './others.js';
export { forbiddenBy, remedy } from './remedy.js';
export { cutTo, smaller } from './smaller.js';
export { conversionFor, formatAfter, packed, pinnings, stepsRemedy, wayTo } from './way.js';
