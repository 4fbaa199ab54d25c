import { STEPS } from './steps/index.js';
import type { Accepts, FaceState, Recipe, RecipeStep, Step } from './step.js';

/** Whether a face is taken as it is. */
export function accepted(state: FaceState, accepts: Accepts): boolean {
  return (
    (accepts.formats as readonly string[]).includes(state.format) &&
    !(state.variable && accepts.variable === 'refused') &&
    !(state.color && accepts.color === 'refused')
  );
}

/** Longer ways are not looked for: each step is another change that a license may forbid. */
const MOST_STEPS = 4;

/**
 * The shortest list of steps after which a face is taken, the preferred format first; empty when it is taken as it is,
 * null when no list of up to four steps leads there.
 */
export function plan(state: FaceState, accepts: Accepts, steps: readonly Step[] = STEPS): Recipe | null {
  if (accepted(state, accepts)) return [];
  let front: { state: FaceState; recipe: RecipeStep[] }[] = [{ state, recipe: [] }];
  const seen = new Set([JSON.stringify(state)]);
  for (let depth = 0; depth < MOST_STEPS && front.length > 0; depth++) {
    const next: typeof front = [];
    for (const at of front)
      for (const step of steps)
        for (const { options, after } of step.needs(at.state, accepts)) {
          const key = JSON.stringify(after);
          if (seen.has(key)) continue;
          seen.add(key);
          next.push({ state: after, recipe: [...at.recipe, { step: step.id, options }] });
        }
    const arrived = next.filter((n) => accepted(n.state, accepts));
    // What changes the face least comes first, then what is preferred.
    const cost = ({ state, recipe }: (typeof arrived)[number]): number =>
      2 * recipe.filter((r) => steps.find((s) => s.id === r.step)!.change !== 'container').length + Number(state.format !== accepts.prefer);
    const best = arrived.reduce<(typeof arrived)[number] | null>((least, n) => (least && cost(least) <= cost(n) ? least : n), null);
    if (best) return best.recipe;
    front = next;
  }
  return null;
}
