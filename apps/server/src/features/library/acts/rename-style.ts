import { type FaceRow } from '../../faces/index.js';
import { type ActOf } from './act.js';

export const RENAME_STYLE: ActOf<'rename-style'> = {
  id: 'rename-style',
  async plan({ steps, faces }, act) {
    const [face] = (await faces([act.faceId])) as [FaceRow];
    steps.set('face', face, { style: act.style, ownStyle: true });
    return { summary: `The style ${face.style} is now called ${act.style}` };
  },
};
