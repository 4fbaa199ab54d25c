import { formatName, mib, sentFile, type Check } from '../finding.js';

/** What a conversion that was chosen comes to. */
export const CHANGED: Check = {
  id: 'changed',
  look(context) {
    const { profile, recipe, files } = context;
    const sent = sentFile(context);
    if (recipe.length === 0 || !sent || sent.bytes > profile.accepts.maxBytes) return [];
    const before = files[0];
    return [
      {
        code: 'converted',
        severity: 'mended',
        message: `It goes out as ${formatName(sent.format)}, ${mib(sent.bytes)}${before ? ` instead of ${mib(before.bytes)}` : ''}.`,
        remedies: [],
        overridable: true,
      },
    ];
  },
};
