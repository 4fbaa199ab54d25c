export { lookAgain } from './again.js';
export { inquiriesRoutes } from './routes.js';
export { inquiriesRows } from './rows.js';
