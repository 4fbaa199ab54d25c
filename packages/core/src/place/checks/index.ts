import type { Check } from '../finding.js';
import { CHANGED } from './changed.js';
import { EMBEDDING } from './embedding.js';
import { FORMAT } from './format.js';
import { RIGHTS } from './rights.js';
import { SIZE } from './size.js';
import { SOUNDNESS } from './soundness.js';

/** Every check a profile may name. */
export const CHECKS: readonly Check[] = [RIGHTS, SOUNDNESS, EMBEDDING, FORMAT, SIZE, CHANGED];
