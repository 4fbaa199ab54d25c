import { counted, type ActOf } from './act.js';

export const KIND: ActOf<'kind'> = {
  id: 'kind',
  async plan({ steps, faces }, act) {
    const rows = await faces(act.faceIds);
    rows.forEach((f) => steps.set('face', f, { kind: act.kind }));
    return {
      summary: act.kind
        ? `${counted(rows.length, 'face')} called ${act.kind}`
        : `The computed kind of ${counted(rows.length, 'face')} holds again`,
    };
  },
};
