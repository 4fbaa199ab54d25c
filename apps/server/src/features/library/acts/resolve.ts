import { KEEP_RULE } from '@orderly-glyph/schema';
import { Workspace } from '../../accounts/index.js';
import { planResolution } from '../doubles.js';
import { counted, same, type ActOf } from './act.js';

export const RESOLVE: ActOf<'resolve'> = {
  id: 'resolve',
  async plan({ manager, workspaceId, steps, faces }, act) {
    const resolution = await planResolution(manager, workspaceId, act.rule);
    const byId = new Map((await faces([...resolution.folds.keys(), ...resolution.leads.keys()])).map((f) => [f.id, f]));
    for (const [id, into] of resolution.folds) steps.set('face', byId.get(id)!, { foldedInto: into });
    for (const [id, leadId] of resolution.leads) steps.set('face', byId.get(id)!, { leadId });
    const workspace = await manager.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
    if (!same(workspace.keepRule ?? KEEP_RULE, act.rule)) steps.set('workspace', workspace, { keepRule: act.rule });
    const did = [
      resolution.folds.size > 0 ? `${counted(resolution.folds.size, 'double')} folded` : '',
      resolution.leads.size > 0 ? `${counted(resolution.leads.size, 'face')} led by another file` : '',
    ].filter(Boolean);
    return { summary: did.length > 0 ? did.join(', ') : 'The rule was kept; nothing had to be folded', left: resolution.left };
  },
};
