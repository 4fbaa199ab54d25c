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
import type { BytesColumn } from './platform/blobs/refs.js';

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
