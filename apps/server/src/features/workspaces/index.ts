export { exportWorkspace } from './export.js';
export { importWorkspace } from './import.js';
export { workspacesRoutes } from './routes.js';
