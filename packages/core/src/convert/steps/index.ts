import type { Step } from '../step.js';
import { AXES } from './axes.js';
import { CONTAINER } from './container.js';
import { INSTANCE } from './instance.js';
import { MEND } from './mend.js';
import { OUTLINES } from './outlines.js';
import { OVERLAPS } from './overlaps.js';
import { PLAIN } from './plain.js';
import { RENAME } from './rename.js';
import { SUBSET } from './subset.js';

/** Every kind of change, the registry that plans and recipes go by. */
export const STEPS: readonly Step[] = [MEND, CONTAINER, INSTANCE, AXES, PLAIN, OVERLAPS, OUTLINES, SUBSET, RENAME];
