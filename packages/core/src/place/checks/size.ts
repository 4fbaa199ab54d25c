import { mib, sentFile, type Check } from '../finding.js';
import { another, packed, smaller } from '../remedies/index.js';

/** Whether the file that would go out is small enough. */
export const SIZE: Check = {
  id: 'size',
  look(context) {
    const { profile, placeName, recipe } = context;
    const sent = sentFile(context);
    if (!sent || sent.bytes <= profile.accepts.maxBytes) return [];
    const cut = recipe.some((r) => r.step === 'subset');
    const again = recipe.length === 0 ? packed(context, sent.format) : null;
    const less = cut ? null : smaller(context);
    const remedies = [again, less].filter((r) => r !== null);
    return [
      {
        code: 'too-large',
        severity: 'stops',
        message: `The file would be ${mib(sent.bytes)} and ${placeName} takes ${mib(profile.accepts.maxBytes)} at most.${remedies.length > 0 ? '' : ' A face with fewer characters will fit.'}`,
        remedies: remedies.length > 0 ? remedies : [another(context)],
        overridable: false,
      },
    ];
  },
};
