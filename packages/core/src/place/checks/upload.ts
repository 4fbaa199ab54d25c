import type { Check } from '../finding.js';

/** How many uploads it takes. */
export const UPLOAD: Check = {
  id: 'upload',
  look({ profile, placeName, batch }) {
    const most = profile.limits.perUpload;
    if (most === null || batch.total <= most || batch.position > 0) return [];
    return [
      {
        code: 'several-uploads',
        severity: 'note',
        message: `${placeName} takes ${most} files at once, so these ${batch.total} go there in ${Math.ceil(batch.total / most)} uploads, one after another.`,
        remedies: [],
        overridable: true,
      },
    ];
  },
};
