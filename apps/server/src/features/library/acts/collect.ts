import { randomUUID } from 'node:crypto';
import { conflict, invalid } from '../../../platform/http/problem.js';
import { CollectionEntity, type CollectionRow } from '../rows.js';
import { nameOf, type ActOf } from './act.js';

export const COLLECT: ActOf<'collect'> = {
  id: 'collect',
  async plan(context, act) {
    const { manager, workspaceId, steps, families } = context;

    const rows = await families(act.familyIds);
    const ids = rows.map((f) => f.id);
    if (act.collectionId === null) {
      if (!act.name) throw invalid('Give the collection a name.', 'name');
      const named = await manager.getRepository(CollectionEntity).findBy({ workspaceId });
      if (named.some((c) => !c.removedAt && c.name.toLowerCase() === act.name!.toLowerCase()))
        throw conflict(`There is a collection called ${act.name} already. Nothing was changed.`);
      steps.add('collection', {
        id: randomUUID(),
        workspaceId,
        name: act.name,
        familyIds: ids,
        createdAt: new Date(),
        removedAt: null,
      } as CollectionRow);
      return { summary: `${nameOf(rows)} put into the new collection ${act.name}` };
    }
    const collection = await context.collection(act.collectionId);
    const before = collection.familyIds ?? [];
    const familyIds = act.on ? [...before, ...ids.filter((i) => !before.includes(i))] : before.filter((i) => !ids.includes(i));
    steps.set('collection', collection, { familyIds });
    return { summary: `${nameOf(rows)} ${act.on ? 'put into' : 'taken out of'} the collection ${collection.name}` };
  },
};
