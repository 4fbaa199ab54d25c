import { In } from 'typeorm';
import { invalid } from '../../../platform/http/problem.js';
import { FaceEntity, FamilyEntity } from '../../faces/index.js';
import { nameOf, type ActOf } from './act.js';

export const MERGE: ActOf<'merge'> = {
  id: 'merge',
  async plan({ manager, workspaceId, steps, families }, act) {
    const rows = await families([...act.familyIds, act.into]);
    const into = rows.find((f) => f.id === act.into)!;
    const others = rows.filter((f) => f.id !== into.id);
    if (others.length === 0) throw invalid('Choose at least two families to put together.');
    const moved = await manager.getRepository(FaceEntity).findBy({ workspaceId, familyId: In(others.map((f) => f.id)) });
    moved.forEach((f) => steps.set('face', f, { familyId: into.id, ownFamily: true }));
    // What was merged into one of these before follows along.
    const earlier = await manager.getRepository(FamilyEntity).findBy({ workspaceId, mergedInto: In(others.map((f) => f.id)) });
    [...others, ...earlier].forEach((f) => steps.set('family', f, { mergedInto: into.id }));
    steps.set('family', into, { ownName: true, mergedInto: null });
    return { summary: `${nameOf(others)} put into ${into.name}` };
  },
};
