import { CHECKS } from './checks/index.js';
import type { Check, CheckContext, PlaceFinding } from './finding.js';

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

/** Whether a face may go: nothing stops it. */
export const isClear = (findings: readonly PlaceFinding[]): boolean => !findings.some((f) => f.severity === 'stops');
/** Whether what stops it is only a matter of rights, which an owner may take upon themselves. */
export const isOverridable = (findings: readonly PlaceFinding[]): boolean => findings.every((f) => f.severity !== 'stops' || f.overridable);
/** What stops it and nobody may override, as a sentence; null when nothing does. */
export const hardStop = (findings: readonly PlaceFinding[]): string | null =>
  findings.find((f) => f.severity === 'stops' && !f.overridable)?.message ?? null;

/** How a face stands against a place. */
export type Fit = 'fits' | 'fits-after-remedy' | 'does-not-fit';

/** Whether a face fits, fits once something is done that we can do, or does not fit. */
export function fitOf(findings: readonly PlaceFinding[]): Fit {
  const stops = findings.filter((f) => f.severity === 'stops');
  if (stops.length === 0) return 'fits';
  const mends = (f: PlaceFinding): boolean =>
    f.remedies.some((r) => r.forbidden === null && (r.steps.length > 0 || r.removes.length > 0 || r.id === 'right-name'));
  return stops.every(mends) ? 'fits-after-remedy' : 'does-not-fit';
}

/** The first remedy of each finding that stops, which together mend it with one press; null when one has none. */
export function mendAll(findings: readonly PlaceFinding[]): string[] | null {
  const ids: string[] = [];
  for (const f of findings) {
    if (f.severity !== 'stops') continue;
    const first = f.remedies.find((r) => r.forbidden === null && (r.steps.length > 0 || r.removes.length > 0));
    if (!first) return null;
    ids.push(first.id);
  }
  return [...new Set(ids)];
}
