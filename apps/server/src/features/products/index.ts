export { productsRoutes } from './routes.js';
export { productsBytes, productsRows } from './rows.js';
