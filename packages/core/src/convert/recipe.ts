import { openFont } from '../font/index.js';
import { FontError } from '../sfnt/index.js';
import type { Change } from '../rights/index.js';
import { STEPS } from './steps/index.js';
import type { Made, Options, Comparison, Recipe, Step, Tools } from './step.js';

/**
 * The step of an id.
 * @throws FontError when there is none, as after an update that dropped it
 */
export function stepOf(id: string, steps: readonly Step[] = STEPS): Step {
  const step = steps.find((s) => s.id === id);
  if (!step) throw new FontError('unsupported', `There is no conversion called “${id}”.`);
  return step;
}

/** The kinds of change a recipe makes, each once: what the license must allow. @throws FontError for an unknown step */
export function changesOf(recipe: Recipe, steps: readonly Step[] = STEPS): Change[] {
  return [...new Set(recipe.map((r) => stepOf(r.step, steps).change))];
}

/** What a recipe does, in words that follow "The file is". @throws FontError for an unknown step */
export function sayRecipe(recipe: Recipe, steps: readonly Step[] = STEPS): string {
  return recipe.map((r) => stepOf(r.step, steps).label(r.options)).join(', ');
}

/**
 * The key of what a recipe makes: the steps in order with their options (sorted by name) and versions. Two recipes with
 * one key give the same bytes from the same source.
 * @throws FontError for an unknown step
 */
export function recipeKey(recipe: Recipe, steps: readonly Step[] = STEPS): string {
  return recipe.map(({ step, options }) => `${step}@${stepOf(step, steps).version}(${JSON.stringify(sorted(options))})`).join('>');
}

const sorted = (options: Options): [string, unknown][] => Object.entries(options).sort(([a], [b]) => (a < b ? -1 : 1));

/** What came out of a recipe, with the comparison of every step put together. */
export interface Rendered extends Made {
  comparison: Comparison;
}

/**
 * Carries a recipe out on one face of a file, each step proved against what went into it.
 * @param faceIndex which face of a collection; 0 for any other file
 * @throws FontError when the file or a step cannot be carried out; a comparison that fails is no error but says so
 */
export function render(bytes: Uint8Array, faceIndex: number, recipe: Recipe, tools: Tools, steps: readonly Step[] = STEPS): Rendered {
  const { faces, format } = openFont(bytes, tools.codec);
  const face = faces[faceIndex];
  if (!face)
    throw new FontError(
      'no-such-face',
      `The file holds ${faces.length} ${faces.length === 1 ? 'face' : 'faces'}; there is no number ${faceIndex}.`,
    );
  let made: Made = { face, format, bytes };
  const comparison: Comparison = { equal: true, differences: [], glyphsCompared: 0 };
  for (const { step: id, options } of recipe) {
    const step = stepOf(id, steps);
    const out = step.run(made, options, tools);
    const opened = openFont(out, tools.codec);
    const next: Made = { face: opened.faces[0]!, format: opened.format, bytes: out };
    const proved = step.prove(made.face, next.face, options);
    comparison.equal &&= proved.equal;
    comparison.differences.push(...proved.differences);
    comparison.glyphsCompared += proved.glyphsCompared;
    if (proved.changes?.length) comparison.changes = [...(comparison.changes ?? []), ...proved.changes];
    if (proved.farthest !== undefined && proved.farthest >= (comparison.farthest ?? 0)) {
      comparison.farthest = proved.farthest;
      comparison.worstGlyph = proved.worstGlyph ?? null;
    }
    made = next;
  }
  return { ...made, comparison };
}

/** The recipe that only changes the container. */
export const containerRecipe = (to: string): Recipe => [{ step: 'container', options: { to } }];
