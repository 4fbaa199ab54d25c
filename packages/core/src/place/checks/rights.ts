import type { Check, PlaceFinding } from '../finding.js';
import { another, lookAtLicense } from '../remedies/index.js';

/** What the record says to every use that putting the face there is. */
export const RIGHTS: Check = {
  id: 'rights',
  look(context) {
    const { verdicts, notes } = context;
    const out = verdicts
      .filter((v) => v.answer !== 'yes')
      .map((v): PlaceFinding => {
        const changing = v.use === 'changing';
        return {
          code: `${v.answer === 'no' ? 'no-right' : 'right-unclear'}${changing ? '-to-change' : ''}`,
          severity: v.answer === 'no' ? 'stops' : 'ask',
          message: `${v.reasons[0] ?? ''} ${
            changing
              ? 'What is done to the file here changes it. A file in the right form from the maker needs no such right.'
              : 'Putting a face where others can load it without the right to do so can cost you more than the face.'
          }`.trim(),
          // A license that says no is looked at or renewed; where nothing is on record there is something to record.
          remedies: [lookAtLicense(v.licenseId !== null, v.answer === 'no'), ...(context.alike.length > 0 ? [another(context)] : [])],
          overridable: true,
        };
      });
    for (const note of notes) out.push({ code: 'right-near-its-end', severity: 'note', message: note, remedies: [], overridable: true });
    return out;
  },
};
