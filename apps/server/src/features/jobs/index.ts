export { jobsRoutes } from './routes.js';
