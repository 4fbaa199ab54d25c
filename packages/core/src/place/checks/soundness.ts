import type { Check } from '../finding.js';
import { another } from '../remedies/index.js';

/** Faults for which programs refuse a face. */
export const SOUNDNESS: Check = {
  id: 'soundness',
  look: (context) =>
    context.faults
      .filter((f) => f.severity === 'blocks')
      .map((f) => ({
        code: f.code,
        severity: 'stops',
        message: `${f.message} ${context.placeName} checks this and will not take it. Ask whoever made the face for a sound file.`,
        remedies: [another(context)],
        overridable: false,
      })),
};
