export { auditFile, makeAudit } from './audit.js';
export { rightsPdf, rightsZip } from './proof-of-rights.js';
export { reportsRoutes } from './routes.js';
