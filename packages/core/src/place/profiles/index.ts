import type { Profile } from '../profile.js';
import { FOLDER } from './folder.js';
import { WEBSITE } from './website.js';

/** Every kind of place. */
export const PROFILES: readonly Profile[] = [WEBSITE, FOLDER];
