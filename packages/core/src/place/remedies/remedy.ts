import type { Change } from '../../rights/index.js';
import { changesOf, type Recipe } from '../../convert/index.js';
import type { CheckContext, Remedy } from '../finding.js';

/** A remedy with nothing but a label, to be filled in. */
export const remedy = (id: string, label: string, will: string, rest: Partial<Remedy> = {}): Remedy => ({
  id,
  label,
  will,
  steps: [],
  goTo: null,
  forbidden: null,
  removes: [],
  faces: [],
  ...rest,
});

/** Why the license forbids what some steps do to the file; null where it does not. */
export function forbiddenBy({ mayChange }: Pick<CheckContext, 'mayChange'>, steps: Recipe): string | null {
  if (!mayChange) return null;
  for (const change of changesOf(steps) as Change[]) {
    const { answer, reasons } = mayChange(change);
    if (answer === 'no') return reasons[0] ?? 'The license does not let the file be changed so.';
  }
  return null;
}
