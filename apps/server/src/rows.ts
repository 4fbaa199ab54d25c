import { productsBytes, productsRows } from './features/products/index.js';
import { conversionsRows } from './features/conversions/index.js';
import { accountsRows } from './features/accounts/index.js';
import { facesRows, facesBytes } from './features/faces/index.js';
import { licensesRows, licensesBytes } from './features/licenses/index.js';
import { intakeRows } from './features/intake/index.js';
import { iconSetsBytes, iconSetsRows } from './features/icon-sets/index.js';
import { inquiriesRows } from './features/inquiries/index.js';
import { typefacesBytes, typefacesRows } from './features/typefaces/index.js';
import { houseStylesRows } from './features/house-styles/index.js';
import { placesRows, placesBytes } from './features/places/index.js';
import { libraryRows } from './features/library/index.js';
import { proofSheetsRows } from './features/proof-sheets/index.js';
import { JobEntity } from './platform/jobs/rows.js';
import type { BytesColumn, RemovedRows } from './platform/blobs/refs.js';

/** Tables of all features. */
export const ENTITIES = [
  JobEntity,
  ...accountsRows,
  ...facesRows,
  ...licensesRows,
  ...intakeRows,
  ...placesRows,
  ...houseStylesRows,
  ...iconSetsRows,
  ...typefacesRows,
  ...inquiriesRows,
  ...productsRows,
  ...libraryRows,
  ...conversionsRows,
  ...proofSheetsRows,
];

/** Who refers to bytes: what none of these names is freed. */
export const BYTES: readonly BytesColumn[] = [
  ...facesBytes,
  ...licensesBytes,
  ...placesBytes,
  ...productsBytes,
  ...iconSetsBytes,
  ...typefacesBytes,
];

/** What is deleted for good when somebody frees space, beside files: what was released stays with its releases. */
export const REMOVED: readonly RemovedRows[] = [
  { table: 'inquiry', where: 'r.removed_at IS NOT NULL' },
  { table: 'proof_sheet', where: 'r.removed_at IS NOT NULL' },
  { table: 'collection', where: 'r.removed_at IS NOT NULL' },
  { table: 'icon_drawing', where: 'r.removed_at IS NOT NULL' },
  { table: 'typeface_letter', where: 'r.removed_at IS NOT NULL' },
  { table: 'icon_set', where: 'r.removed_at IS NOT NULL AND NOT EXISTS (SELECT 1 FROM icon_release x WHERE x.set_id = r.id)' },
  { table: 'typeface', where: 'r.removed_at IS NOT NULL AND NOT EXISTS (SELECT 1 FROM typeface_release x WHERE x.typeface_id = r.id)' },
];
