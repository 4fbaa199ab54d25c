import { type FamilyRow } from '../../faces/index.js';
import { refuseStale, refuseTakenName, type ActOf } from './act.js';

export const RENAME_FAMILY: ActOf<'rename-family'> = {
  id: 'rename-family',
  async plan({ manager, workspaceId, steps, families }, act) {
    const [family] = (await families([act.familyId])) as [FamilyRow];
    refuseStale([family], act.version);
    await refuseTakenName(manager, workspaceId, act.name, [family.id]);
    // The key stays that of the files' own name, so that new faces of it still find their family.
    steps.set('family', family, { name: act.name, ownName: true });
    return { summary: `${family.name} is now called ${act.name}` };
  },
};
