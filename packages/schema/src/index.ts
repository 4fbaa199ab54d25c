export * from './contract.js';
export * from './filter.js';
export * from './objects.js';
export * from './order.js';
export * from './routes.js';
export * from './words.js';
