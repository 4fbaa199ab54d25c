export { followIconSources } from './release.js';
export { iconSetsRoutes } from './routes.js';
export { iconSetsBytes, iconSetsRows } from './rows.js';
