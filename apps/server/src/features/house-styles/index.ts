export { houseStylesRoutes } from './routes.js';
export { houseStylesRows } from './rows.js';
