import { formatName, type Check, type PlaceFinding } from '../finding.js';
import { remedy, renamed } from '../remedies/index.js';

/** Extensions by format; a TTF may be called .otf and the other way round. Source: OpenType specification, "Filenames". */
const EXTENSIONS: Readonly<Record<string, readonly string[]>> = {
  ttf: ['ttf', 'otf'],
  otf: ['otf', 'ttf'],
  ttc: ['ttc', 'otc'],
  woff: ['woff'],
  woff2: ['woff2'],
};

/** Whether the file is called what it is, and its family something that the place can show. */
export const NAME: Check = {
  id: 'name',
  look(context) {
    const { fileName, files, recipe, profile, placeName, family } = context;
    const out: PlaceFinding[] = [];
    const format = files[0]?.format;
    if (fileName !== null && recipe.length === 0 && format) {
      const extension = /\.([^.]+)$/.exec(fileName)?.[1]?.toLowerCase() ?? '';
      if (!(EXTENSIONS[format] ?? []).includes(extension))
        out.push({
          code: 'wrong-extension',
          severity: 'stops',
          message: `The file is called “${fileName}” and is ${formatName(format)} inside. ${placeName} goes by the name and refuses what is not what it says.`,
          remedies: [remedy('right-name', `Call it .${format}`, 'The file goes out under a name that says what it is.')],
          overridable: false,
        });
    }
    const most = profile.limits.familyName;
    if (most !== null && [...family].length > most && !recipe.some((r) => r.step === 'rename')) {
      const shorter = renamed(context, most);
      out.push({
        code: 'family-name-too-long',
        severity: 'stops',
        message: `The family name has ${[...family].length} letters and ${placeName} takes ${most} at most.`,
        remedies: shorter ? [shorter] : [],
        overridable: false,
      });
    }
    return out;
  },
};
