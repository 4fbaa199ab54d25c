import { counted, type ActOf } from './act.js';

export const UNFOLD: ActOf<'unfold'> = {
  id: 'unfold',
  async plan({ steps, faces }, act) {
    const rows = await faces(act.faceIds);
    rows.forEach((f) => steps.set('face', f, { foldedInto: null }));
    return { summary: `${counted(rows.length, 'face stands', 'faces stand')} on their own again` };
  },
};
