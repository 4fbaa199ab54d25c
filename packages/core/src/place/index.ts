export { preflight, type PreflightFinding, type PreflightInput, type Remedy } from './preflight.js';
export type { Profile } from './profile.js';
import { WEBSITE } from './data/website.js';
import type { Profile } from './profile.js';

export const PROFILES: readonly Profile[] = [WEBSITE];

export function profile(id: string): Profile | null {
  return PROFILES.find((p) => p.id === id) ?? null;
}
