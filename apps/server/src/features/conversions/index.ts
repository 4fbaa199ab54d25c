export { runAgain } from './recipes.js';
export { conversionsRoutes } from './routes.js';
export { conversionsRows } from './rows.js';
