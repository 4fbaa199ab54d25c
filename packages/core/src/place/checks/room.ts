import { twinsThere, type Check } from '../finding.js';
import { makeRoom } from '../remedies/index.js';

/** Whether there is room for one more face. */
export const ROOM: Check = {
  id: 'room',
  look({ profile, placeName, there, batch, family, style }) {
    const most = profile.limits.faces;
    if (most === null || !there) return [];
    // A face that takes the place of one that lies there needs no room of its own.
    if (profile.twins !== 'beside' && twinsThere(there, family, style).length > 0) return [];
    const over = there.faces.length + batch.position + 1 - most;
    if (over <= 0) return [];
    const ours = there.faces
      .filter((f) => f.installId !== null)
      .sort((a, b) => ((a.lastUsed ?? '') < (b.lastUsed ?? '') ? -1 : (a.lastUsed ?? '') > (b.lastUsed ?? '') ? 1 : 0));
    return [
      {
        code: 'no-room',
        severity: 'stops',
        message: `${placeName} holds ${there.faces.length} faces and takes ${most} in all, so there is no room for this one.`,
        // Each face of a batch makes room for itself.
        remedies: ours.length >= over ? [makeRoom(ours.slice(over - 1, over))] : [],
        overridable: false,
      },
    ];
  },
};
