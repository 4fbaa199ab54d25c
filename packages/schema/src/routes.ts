import { accountsRoutes } from './features/accounts.js';
import { conversionsRoutes } from './features/conversions.js';
import { facesRoutes } from './features/faces.js';
import { houseStylesRoutes } from './features/house-styles.js';
import { iconSetsRoutes } from './features/icon-sets.js';
import { inquiriesRoutes } from './features/inquiries.js';
import { typefacesRoutes } from './features/typefaces.js';
import { intakeRoutes } from './features/intake.js';
import { jobsRoutes } from './features/jobs.js';
import { libraryRoutes } from './features/library.js';
import { licensesRoutes } from './features/licenses.js';
import { placesRoutes } from './features/places.js';
import { productsRoutes } from './features/products.js';
import { proofSheetsRoutes } from './features/proof-sheets.js';
import { reportsRoutes } from './features/reports.js';
import { workspacesRoutes } from './features/workspaces.js';

/** The route table: what each feature publishes of itself. */
export const routes = {
  ...accountsRoutes,
  ...conversionsRoutes,
  ...facesRoutes,
  ...houseStylesRoutes,
  ...iconSetsRoutes,
  ...inquiriesRoutes,
  ...typefacesRoutes,
  ...intakeRoutes,
  ...jobsRoutes,
  ...libraryRoutes,
  ...licensesRoutes,
  ...placesRoutes,
  ...productsRoutes,
  ...proofSheetsRoutes,
  ...reportsRoutes,
  ...workspacesRoutes,
};
export type Routes = typeof routes;
