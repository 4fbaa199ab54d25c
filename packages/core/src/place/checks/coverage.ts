import type { Check } from '../finding.js';
import { another } from '../remedies/index.js';

/** Letters in a list before the rest is only counted. */
const MOST_NAMED = 8;

/** Whether the face has every letter of the texts that it will set there. */
export const COVERAGE: Check = {
  id: 'coverage',
  look(context) {
    const { texts, placeName, profile, role } = context;
    const lacking = texts.filter((t) => t.missing.length > 0);
    if (lacking.length === 0) return [];
    const first = lacking[0]!;
    const letters = `${first.missing.slice(0, MOST_NAMED).join(' ')}${first.missing.length > MOST_NAMED ? ` and ${first.missing.length - MOST_NAMED} more` : ''}`;
    const others = lacking.length > 1 ? ` and ${lacking.length - 1} other ${lacking.length === 2 ? 'text' : 'texts'}` : '';
    const running = profile.roles.find((r) => r.id === role)?.running ?? false;
    return [
      {
        code: 'letters-missing',
        severity: running ? 'ask' : 'note',
        message: `It lacks ${letters} of “${first.label}”${others}. ${placeName} would set these in another face.`,
        remedies: [another(context)],
        overridable: true,
      },
    ];
  },
};
