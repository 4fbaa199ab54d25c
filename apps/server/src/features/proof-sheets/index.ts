export {
  createProof,
  listProofs,
  proofFace,
  readProof,
  readProofPage,
  removeProof,
  renderPdf,
  renderPng,
  renewProof,
} from './proof-sheets.js';
export { proofSheetsRoutes } from './routes.js';
export { proofSheetsRows } from './rows.js';
