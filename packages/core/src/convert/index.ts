export { FORMAT_INFO } from './formats.js';
export { accepted, plan } from './plan.js';
export { changesOf, containerRecipe, recipeKey, render, sayRecipe, stepOf, type Rendered } from './recipe.js';
export {
  stateOf,
  type Accepts,
  type FaceState,
  type Made,
  type Options,
  type Comparison,
  type Recipe,
  type RecipeStep,
  type Step,
  type TargetFormat,
  type Tools,
} from './step.js';
export { STEPS } from './steps/index.js';
export { proveEqual } from './steps/container.js';
