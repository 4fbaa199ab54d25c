export { auditFile, makeAudit } from './audit.js';
export { proofPdf, proofZip } from './proof-of-rights.js';
export { reportsRoutes } from './routes.js';
