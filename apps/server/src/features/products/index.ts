export { followSources, rightsOf, stricter } from './products.js';
export { productsRoutes } from './routes.js';
export { productsBytes, productsRows } from './rows.js';
