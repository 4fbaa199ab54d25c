export { convertFont, FORMAT_INFO, toSfnt, type TargetFormat } from './convert.js';
export { proveEqual, type Proof } from './prove.js';
