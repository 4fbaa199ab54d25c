import { plan, type Accepts, type FaceState, type Recipe, type Step } from '../../convert/index.js';
import type { Remedy } from '../finding.js';

/** Opens what is on record, or the place to record it. */
export const lookAtLicense = (recorded: boolean): Remedy => ({
  id: 'license',
  label: recorded ? 'Open the license' : 'Record the license',
  steps: [],
  goTo: 'license',
});

export const chooseAnother: Remedy = { id: 'choose-another', label: 'Choose another face', steps: [], goTo: 'library' };

/** A remedy of a recipe's steps, in words. */
export function stepsRemedy(recipe: Recipe): Remedy {
  const to = [...recipe].reverse().find((r) => typeof r.options.to === 'string')?.options.to as string | undefined;
  return { id: 'convert', label: to ? `Convert to ${to.toUpperCase()}` : 'Convert', steps: recipe, goTo: null };
}

/** The shortest conversion after which a place takes the face; null when there is none. */
export function conversionFor(state: FaceState, accepts: Accepts, steps?: readonly Step[]): Remedy | null {
  const recipe = plan(state, accepts, steps);
  return recipe && recipe.length > 0 ? stepsRemedy(recipe) : null;
}
