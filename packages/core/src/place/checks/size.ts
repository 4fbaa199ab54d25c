import { mib, sentFile, type Check } from '../finding.js';
import { chooseAnother, conversionFor } from '../remedies/index.js';

/** Whether the file that would go out is small enough. */
export const SIZE: Check = {
  id: 'size',
  look(context) {
    const { profile, placeName, recipe, state } = context;
    const sent = sentFile(context);
    if (!sent || sent.bytes <= profile.accepts.maxBytes) return [];
    const { accepts } = profile;
    // Only the preferred format is smaller; once it is that, or already converted, packing it again helps nothing.
    const smaller =
      recipe.length === 0 && sent.format !== accepts.prefer ? conversionFor(state, { ...accepts, formats: [accepts.prefer] }) : null;
    return [
      {
        code: 'too-large',
        severity: 'stops',
        message: `The file would be ${mib(sent.bytes)} and ${placeName} takes ${mib(accepts.maxBytes)} at most. A face with fewer characters will fit.`,
        remedies: [smaller ?? chooseAnother],
        overridable: false,
      },
    ];
  },
};
