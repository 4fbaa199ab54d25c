import type { Check } from '../finding.js';
import { chooseAnother } from '../remedies/index.js';

/** Faults for which programs refuse a face. */
export const SOUNDNESS: Check = {
  id: 'soundness',
  look: ({ faults, placeName }) =>
    faults
      .filter((f) => f.severity === 'blocks')
      .map((f) => ({
        code: f.code,
        severity: 'stops',
        message: `${f.message} ${placeName} checks this and will not take it. Ask whoever made the face for a sound file.`,
        remedies: [chooseAnother],
        overridable: false,
      })),
};
