import { formatName, sentFile, type Check } from '../finding.js';
import { chooseAnother, conversionFor } from '../remedies/index.js';

/** Whether any file is in a format that the place takes, and the shortest way to one. */
export const FORMAT: Check = {
  id: 'format',
  look(context) {
    const { profile, files, placeName, recipe, state } = context;
    if (recipe.length > 0 || sentFile(context)) return [];
    const list = profile.accepts.formats.map(formatName).join(' and ');
    const here = [...new Set(files.map((f) => formatName(f.format)))].join(' and ');
    const way = conversionFor(state, profile.accepts);
    return [
      {
        code: 'format',
        severity: 'stops',
        message: way
          ? `${placeName} takes ${list} only, and this face is here as ${here}. It is the same face in another container, so nothing of it is lost.`
          : `${placeName} takes ${list} only, and this face is here as ${here}. It cannot be turned into any of them yet; ask its maker for such a file.`,
        remedies: [way ?? chooseAnother],
        overridable: false,
      },
    ];
  },
};
