import { type ActOf } from './act.js';

export const RENAME_COLLECTION: ActOf<'rename-collection'> = {
  id: 'rename-collection',
  async plan(context, act) {
    const { steps } = context;

    const collection = await context.collection(act.collectionId);
    steps.set('collection', collection, { name: act.name });
    return { summary: `The collection ${collection.name} is now called ${act.name}` };
  },
};
