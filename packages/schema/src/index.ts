export * from './contract.js';
export * from './filter.js';
export * from './objects.js';
export * from './order.js';
export * from './routes.js';
export * from './words.js';
export { missingFrom, piecesOf, writesOf, type Writes } from '@orderly-glyph/core/text';
export * from './export.js';
