import type { Step } from '../step.js';
import { CONTAINER } from './container.js';
import { INSTANCE } from './instance.js';
import { OUTLINES } from './outlines.js';
import { RENAME } from './rename.js';
import { SUBSET } from './subset.js';

/** Every kind of change, the registry that plans and recipes go by. */
export const STEPS: readonly Step[] = [CONTAINER, INSTANCE, OUTLINES, SUBSET, RENAME];
