import type { Check, PlaceFinding } from '../finding.js';
import { another } from '../remedies/index.js';

/** What the maker wrote into the file about embedding, against what the place does with that. */
export const EMBEDDING: Check = {
  id: 'embedding',
  look(context) {
    const { profile, embedding: permission, faceName, placeName } = context;
    const refused = (code: string, what: string): PlaceFinding => ({
      code,
      severity: 'stops',
      message: `${what} ${placeName} reads this permission and refuses such files. We never change it; ask the maker of ${faceName} for a file that permits it.`,
      remedies: [another(context)],
      overridable: false,
    });
    if (permission.level === 'restricted' && profile.embedding.restricted === 'refused')
      return [refused('embedding-restricted', 'The font file forbids embedding (fsType: restricted).')];
    if (permission.bitmapOnly && profile.embedding.bitmapOnly === 'refused')
      return [
        refused(
          'embedding-bitmap-only',
          'The font file only lets bitmaps of it be embedded (fsType: bitmap only), and a web font is outlines.',
        ),
      ];
    return [];
  },
};
