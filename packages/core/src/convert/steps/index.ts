import type { Step } from '../step.js';
import { CONTAINER } from './container.js';

/** Every kind of change, the registry that plans and recipes go by. */
export const STEPS: readonly Step[] = [CONTAINER];
