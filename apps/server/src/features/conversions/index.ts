export { conversionsRoutes } from './routes.js';
