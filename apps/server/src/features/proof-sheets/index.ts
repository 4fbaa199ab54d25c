export {
  createProofSheet,
  listProofSheets,
  proofFace,
  readProofSheet,
  readProofSheetPage,
  removeProofSheet,
  renderPdf,
  renderPng,
  renewProofSheet,
} from './proof-sheets.js';
export { proofSheetsRoutes } from './routes.js';
export { proofSheetsRows } from './rows.js';
