import { CHECKS } from './checks/index.js';
import type { Check, CheckContext, PlaceFinding } from './finding.js';
import type { Profile } from './profile.js';
import { PROFILES } from './profiles/index.js';

export { CHECKS, PROFILES };
export type { Check, CheckContext, FileAtHand, PlaceFinding, Remedy } from './finding.js';
export type { PlaceRole, Profile, SettingField } from './profile.js';
export { chooseAnother, conversionFor, lookAtLicense, stepsRemedy } from './remedies/index.js';

/** The kind of place of an id; null when there is none. */
export function profile(id: string, profiles: readonly Profile[] = PROFILES): Profile | null {
  return profiles.find((p) => p.id === id) ?? null;
}

/**
 * Foresees what a place will say to a face, in the order in which a person should read it.
 * @throws Error when the profile names a check that does not exist, which a test rules out
 */
export function preflight(context: CheckContext, checks: readonly Check[] = CHECKS): PlaceFinding[] {
  return context.profile.checks.flatMap((id) => {
    const check = checks.find((c) => c.id === id);
    if (!check) throw new Error(`The profile ${context.profile.id} names a check “${id}” that does not exist.`);
    return check.look(context);
  });
}

/** Where a person can look at a file at a place of a kind; null where there is no such address. */
export const fileAddress = (kind: Profile, address: string, name: string): string | null =>
  kind.fileAddress?.replace('{address}', () => address).replace('{name}', () => name) ?? null;

/** Whether a face may go: nothing stops it. */
export const isClear = (findings: readonly PlaceFinding[]): boolean => !findings.some((f) => f.severity === 'stops');
/** Whether what stops it is only a matter of rights, which an owner may take upon themselves. */
export const isOverridable = (findings: readonly PlaceFinding[]): boolean => findings.every((f) => f.severity !== 'stops' || f.overridable);
/** What stops it and nobody may override, as a sentence; null when nothing does. */
export const hardStop = (findings: readonly PlaceFinding[]): string | null =>
  findings.find((f) => f.severity === 'stops' && !f.overridable)?.message ?? null;
