import type { Check } from '../finding.js';

/** Whether a place gets more families than it bears. Common practice: two or three on a website or in a store. */
export const FAMILIES: Check = {
  id: 'families',
  look({ profile, placeName, there, family, batch }) {
    const most = profile.families;
    if (most === null || !there) return [];
    const families = new Set(there.faces.map((f) => f.family));
    // Of a long batch only so many are counted as matter for the sentence.
    for (let i = 0; i < batch.position && families.size <= most; i++) families.add(batch.families[i]!);
    const first = batch.families.indexOf(family);
    if (first >= 0 && first < batch.position) return [];
    if (families.has(family) || families.size < most) return [];
    return [
      {
        code: 'many-families',
        severity: 'note',
        message: `${placeName} has ${families.size} families already; ${most} are the most such a place bears, since each one costs loading time and calm.`,
        remedies: [],
        overridable: true,
      },
    ];
  },
};
