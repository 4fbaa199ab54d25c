export * from './contract.js';
export * from './objects.js';
export * from './routes.js';
export * from './words.js';
