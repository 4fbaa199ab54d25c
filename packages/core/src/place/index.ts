import { CHECKS } from './checks/index.js';
import type { Profile } from './profile.js';
import { PROFILES } from './profiles/index.js';

export { CHECKS, PROFILES };
export { chosenRemedies } from './choose.js';
export { batchOf, contextFor, type FaceAtHand } from './context.js';
export {
  twinKey,
  type Check,
  type CheckContext,
  type FaceThere,
  type FileAtHand,
  type PlaceFinding,
  type PlaceState,
  type Remedy,
  type TextNeed,
} from './finding.js';
export { fitOf, hardStop, isClear, isOverridable, mendAll, preflight, type Fit } from './preflight.js';
export { ALL_CHECKS, rulesOf, withRules, type PlaceRole, type Profile, type Rules, type SettingField, type Taken } from './profile.js';
export { contradictions, profileFrom } from './rules.js';
export { conversionFor, formatAfter, lookAtLicense, remedy, stepsRemedy, wayTo } from './remedies/index.js';

/** The kind of place of an id; null when there is none. */
export function profile(id: string, profiles: readonly Profile[] = PROFILES): Profile | null {
  return profiles.find((p) => p.id === id) ?? null;
}

/** Where a person can look at a file at a place of a kind; null where there is no such address. */
export const fileAddress = (kind: Profile, address: string, name: string): string | null =>
  kind.fileAddress?.replace('{address}', () => address).replace('{name}', () => encodeURIComponent(name)) ?? null;
