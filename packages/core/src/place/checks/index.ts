import type { Check } from '../finding.js';
import { CHANGED } from './changed.js';
import { COVERAGE } from './coverage.js';
import { EMBEDDING } from './embedding.js';
import { FAMILIES } from './families.js';
import { FORMAT } from './format.js';
import { NAME } from './name.js';
import { RIGHTS } from './rights.js';
import { ROOM } from './room.js';
import { SETTING } from './setting.js';
import { SIZE } from './size.js';
import { SOUNDNESS } from './soundness.js';
import { TWINS } from './twins.js';
import { TYPES } from './types.js';
import { UPLOAD } from './upload.js';

/** Every check a profile may name. */
export const CHECKS: readonly Check[] = [
  RIGHTS,
  SOUNDNESS,
  NAME,
  EMBEDDING,
  FORMAT,
  TYPES,
  SIZE,
  TWINS,
  ROOM,
  UPLOAD,
  COVERAGE,
  SETTING,
  FAMILIES,
  CHANGED,
];
