import type { Check, PlaceFinding } from '../finding.js';
import { another } from '../remedies/index.js';

/** What the way a place sets words does to this face. */
export const SETTING: Check = {
  id: 'setting',
  look(context) {
    const { profile, placeName, joined, role, forDisplay } = context;
    const out: PlaceFinding[] = [];
    const note = (code: string, severity: 'note' | 'ask', message: string, remedies: PlaceFinding['remedies'] = []): void => {
      out.push({ code, severity, message, remedies, overridable: true });
    };
    const running = profile.roles.find((r) => r.id === role)?.running ?? false;
    if (joined && (profile.shows.spaced || profile.shows.capitals))
      note(
        'joined-letters',
        'note',
        `The letters of this face join (${joined}). Where ${placeName} spaces letters out${profile.shows.capitals ? ' or sets all capitals' : ''}, the joins break: set letter-spacing to zero${profile.shows.capitals ? ' and avoid all capitals' : ''} there.`,
      );
    if (running && joined === 'handwriting')
      note('joined-text', 'ask', 'Joined handwriting is hard to read as running text; it is made for a few words.', [another(context)]);
    else if (running && forDisplay)
      note('display-text', 'ask', 'This face is made for headlines and hard to read as running text.', [another(context)]);
    return out;
  },
};
