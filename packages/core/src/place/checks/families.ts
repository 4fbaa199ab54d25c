import type { Check } from '../finding.js';

/** Whether a place gets more families than it bears. Common practice: two or three on a website or in a store. */
export const FAMILIES: Check = {
  id: 'families',
  look({ profile, placeName, there, family, batch }) {
    const most = profile.families;
    if (most === null || !there) return [];
    const families = new Set([...there.faces.map((f) => f.family), ...batch.families.slice(0, batch.position)]);
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
