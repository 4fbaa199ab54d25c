import type { Recipe } from '../convert/index.js';
import type { CheckContext, Remedy } from './finding.js';
import { preflight } from './preflight.js';
import { formatAfter } from './remedies/index.js';

/**
 * The recipe of remedies that a person chose by their ids, and the installs that come off first. Remedies are looked up in what
 * is found without any, so that nobody can ask for steps that were not offered; ids that are not offered are left out.
 */
export function chosenRemedies(context: CheckContext, ids: readonly string[]): { recipe: Recipe; removes: string[] } {
  const offered = new Map<string, Remedy>();
  const collect = (at: CheckContext): void => {
    for (const f of preflight(at)) for (const r of f.remedies) if (!offered.has(r.id) && r.forbidden === null) offered.set(r.id, r);
  };
  collect(context);
  let recipe: Recipe = [];
  for (const id of ids) {
    const steps = offered.get(id)?.steps ?? [];
    if (steps.length === 0) continue;
    recipe = recipe.length === 0 ? steps : joined(recipe, steps);
    // Only what was made shows that it is too large, so what would make it smaller may be chosen along with any recipe.
    const format = (formatAfter(recipe) ?? context.state.format) as NonNullable<CheckContext['made']>['format'];
    collect({ ...context, recipe, made: { format, bytes: Number.MAX_SAFE_INTEGER, sha256: null } });
  }
  return { recipe, removes: [...new Set(ids.flatMap((id) => offered.get(id)?.removes ?? []))] };
}

/** The order in which steps make sense; see `recipeFor`. */
const ORDER = ['mend', 'instance', 'axes', 'plain', 'subset', 'overlaps', 'outlines', 'rename', 'container'];

/** Two recipes as one: each step once, the later choice of its options, in the order that makes sense. */
function joined(a: Recipe, b: Recipe): Recipe {
  const steps = new Map([...a, ...b].map((r) => [r.step, r]));
  // Where a place was chosen for the axes, the other recipe's usual design does not undo it.
  const pinned = [...a, ...b].find((r) => r.step === 'instance' && r.options.at);
  if (pinned) steps.set('instance', pinned);
  return [...steps.values()].sort((x, y) => ORDER.indexOf(x.step) - ORDER.indexOf(y.step));
}
