import { containerRecipe, plan, sayRecipe, type Accepts, type FaceState, type Recipe, type Step } from '../../convert/index.js';
import type { CheckContext, Remedy } from '../finding.js';
import { forbiddenBy, remedy } from './remedy.js';

/** Ways found before: few faces differ in what a way depends on. */
const known = new Map<string, Recipe | null>();

/** The shortest way after which a place takes a face; null when there is none. */
export function wayTo(state: FaceState, accepts: Accepts, steps?: readonly Step[]): Recipe | null {
  if (steps) return plan(state, accepts, steps);
  const key = JSON.stringify([state, accepts.formats, accepts.prefer, accepts.variable, accepts.color]);
  let way = known.get(key);
  if (way === undefined) {
    if (known.size > 10_000) known.clear();
    known.set(key, (way = plan(state, accepts)));
  }
  return way;
}

/** The format that a recipe ends in; null where it does not say. */
export const formatAfter = (recipe: Recipe): string | null => {
  for (const { step, options } of [...recipe].reverse()) {
    if (step === 'container' && typeof options.to === 'string') return options.to;
    if (step === 'outlines') return options.to === 'glyf' ? 'ttf' : 'otf';
  }
  return null;
};

/** A remedy of a recipe's steps, in words. */
export function stepsRemedy(recipe: Recipe, id = 'way', label?: string): Remedy {
  const to = formatAfter(recipe);
  const plain = recipe.every((r) => r.step === 'container');
  return remedy(
    id,
    label ?? (to ? `Convert to ${to.toUpperCase()}` : 'Convert'),
    plain
      ? `The same face goes out in another container, ${to?.toUpperCase() ?? ''}; nothing of it is lost.`
      : `A copy of the face is made for this place. It is ${sayRecipe(recipe)}; the file in the library stays as it is.`,
    { steps: recipe },
  );
}

/** The shortest conversion after which a place takes the face; null when there is none. */
export function conversionFor(context: CheckContext): Remedy | null {
  const recipe = wayTo(context.state, context.profile.accepts);
  if (!recipe || recipe.length === 0) return null;
  const { state } = context;
  const label =
    state.color && context.profile.accepts.color === 'refused'
      ? 'Make a plain version in one color'
      : state.format === 'ttc' && recipe.every((r) => r.step === 'container')
        ? 'Take this face out of the collection'
        : undefined;
  return { ...stepsRemedy(recipe, 'way', label), forbidden: forbiddenBy(context, recipe) };
}

/** Pinning a variable face: once a named instance, the usual design first. */
export function pinnings(context: CheckContext): Remedy[] {
  const recipe = wayTo(context.state, context.profile.accepts);
  if (!recipe) return [];
  const usual = { ...stepsRemedy(recipe, 'way', 'Pin it to its usual design'), forbidden: forbiddenBy(context, recipe) };
  const named = context.instances
    .filter(([name]) => /^(light|regular|bold|black|italic|medium|semibold)/i.test(name))
    .slice(0, 4)
    .map(([name, at]) => {
      const steps = recipe.map((r) => (r.step === 'instance' ? { step: 'instance', options: { at } } : r));
      return { ...stepsRemedy(steps, `pin ${name}`, `Pin it to ${name}`), forbidden: usual.forbidden };
    });
  return [usual, ...named];
}

/** Another container of the preferred format, where only the size is wrong; null where it is that already. */
export function packed(context: CheckContext, from: string): Remedy | null {
  const { prefer } = context.profile.accepts;
  if (from === prefer) return null;
  const way = wayTo(context.state, { ...context.profile.accepts, formats: [prefer] });
  if (!way || way.length === 0 || !way.every((r) => r.step === 'container')) return null;
  const recipe = containerRecipe(prefer);
  return { ...stepsRemedy(recipe, 'way'), forbidden: forbiddenBy(context, recipe) };
}
