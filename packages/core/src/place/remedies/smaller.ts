import { recipeFor, type Recipe, type TargetFormat } from '../../convert/index.js';
import { mib, type CheckContext, type Remedy } from '../finding.js';
import { forbiddenBy, remedy } from './remedy.js';
import { formatAfter, wayTo } from './way.js';

/** The recipe that cuts a face down to some characters, on the way that the place asks for anyway; null when there is none. */
export function cutTo(context: Pick<CheckContext, 'state' | 'profile' | 'recipe'>, keep: readonly number[]): Recipe | null {
  const { state, profile } = context;
  const way = wayTo(state, profile.accepts);
  if (!way) return null;
  const to = (formatAfter(context.recipe) ?? formatAfter(way) ?? state.format) as TargetFormat;
  return recipeFor({ outlineKind: state.outlines, runs: keep }, state.format, {
    to,
    runs: keep,
    ...(state.variable && profile.accepts.variable === 'refused' ? { at: '' } : {}),
    ...(state.color && profile.accepts.color === 'refused' ? { plain: true } : {}),
  });
}

/** A copy with the letters of the workspace's languages and texts alone; null where these are not known or nothing would be won. */
export function smaller(context: CheckContext): Remedy | null {
  const { keep, profile, state } = context;
  if (!keep || keep.length === 0 || (state.color && profile.accepts.color !== 'refused')) return null;
  const steps = cutTo(context, keep);
  if (!steps) return null;
  const bytes = context.estimate?.(steps);
  // Twice of what it may be is out of reach even where the estimate is far off.
  if (bytes !== undefined && bytes > 2 * profile.accepts.maxBytes) return null;
  return remedy(
    'smaller',
    'Make a smaller copy',
    `Letters that none of your languages and texts use are left out${bytes === undefined ? '' : `; about ${mib(bytes)} are left`}. Every letter that your texts use stays, and the file in the library stays as it is.`,
    { steps, forbidden: forbiddenBy(context, steps) },
  );
}
