import { randomUUID } from 'node:crypto';
import { conflict } from '../../../platform/http/problem.js';
import { FaceEntity, FamilyEntity, familyKey, newFamily } from '../../faces/index.js';
import { counted, refuseTakenName, type ActOf } from './act.js';

export const SPLIT: ActOf<'split'> = {
  id: 'split',
  async plan({ manager, workspaceId, steps, faces }, act) {
    const rows = await faces(act.faceIds);
    const known = await manager.getRepository(FamilyEntity).findOneBy({ workspaceId, nameKey: familyKey(act.name) });
    const occupied = known !== null && (await manager.getRepository(FaceEntity).countBy({ workspaceId, familyId: known.id })) > 0;
    if (occupied)
      throw conflict(`There is a family called ${known.name} already. Choose another name, or merge the two. Nothing was changed.`);
    await refuseTakenName(manager, workspaceId, act.name, known ? [known.id] : []);
    let id = known?.id;
    if (known) steps.set('family', known, { name: act.name, ownName: true, mergedInto: null });
    else {
      id = randomUUID();
      steps.add('family', { ...newFamily(id, workspaceId, act.name), ownName: true });
    }
    rows.forEach((f) => steps.set('face', f, { familyId: id!, ownFamily: true }));
    return { summary: `${counted(rows.length, 'face')} made a family of their own, ${act.name}` };
  },
};
