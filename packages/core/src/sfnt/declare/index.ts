export * from './fields.js';
export { OffsetOverflow, pack, type Block, type Pool } from './pack.js';
export { declare, type OpenTables, type Table, type Tables } from './table.js';
