import { type ActOf } from './act.js';

export const REMOVE_COLLECTION: ActOf<'remove-collection'> = {
  id: 'remove-collection',
  async plan(context, act) {
    const { steps } = context;

    const collection = await context.collection(act.collectionId);
    steps.set('collection', collection, { removedAt: new Date() });
    return { summary: `The collection ${collection.name} removed; its families stay` };
  },
};
