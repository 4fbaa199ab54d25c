export * from './sfnt/index.js';
export * from './outline/index.js';
export * from './engines/index.js';
export * from './face/index.js';
export * from './rights/index.js';
export * from './place/index.js';
export * from './convert/index.js';
export * from './webkit/index.js';
