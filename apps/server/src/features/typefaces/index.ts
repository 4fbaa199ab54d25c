export { typefacesRoutes } from './routes.js';
export { typefacesBytes, typefacesRows } from './rows.js';
