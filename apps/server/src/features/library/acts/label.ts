import { nameOf, same, type ActOf } from './act.js';

export const LABEL: ActOf<'label'> = {
  id: 'label',
  async plan({ steps, families }, act) {
    const rows = await families(act.familyIds);
    for (const f of rows) {
      const kept = (f.labels ?? []).filter((l) => !act.remove.includes(l));
      const labels = [...kept, ...act.add.filter((l) => !kept.includes(l))].slice(0, 40);
      if (!same(labels, f.labels ?? [])) steps.set('family', f, { labels });
    }
    const words = [
      act.add.length > 0 ? `labeled ${act.add.join(', ')}` : '',
      act.remove.length > 0 ? `no longer ${act.remove.join(', ')}` : '',
    ];
    return { summary: `${nameOf(rows)} ${words.filter(Boolean).join(', ') || 'looked at'}` };
  },
};
