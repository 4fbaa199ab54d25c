import type { RecipeStep } from '../../convert/index.js';
import type { CheckContext, FaceThere, Remedy } from '../finding.js';
import { forbiddenBy, remedy } from './remedy.js';

/** Opens what is on record, or the place to record it. */
export const lookAtLicense = (recorded: boolean, ended = false): Remedy =>
  remedy(
    'license',
    ended ? 'Renew the right' : recorded ? 'Open the license' : 'Record the license',
    recorded ? 'The license opens; what you change there counts here at once.' : 'The form for a new license opens.',
    { goTo: 'license' },
  );

/** What is left when nothing mends it: what looks like it, may go there and writes the texts; else any other. */
export function another({ alike }: Pick<CheckContext, 'alike'>): Remedy {
  if (alike.length === 0)
    return remedy('choose-another', 'Choose another face', 'The library opens with what may go there.', { goTo: 'library' });
  return remedy(
    'look-alike',
    `Take ${alike[0]!.name} instead`,
    `It looks most like it of what you have, may go there by the record, and writes your texts.`,
    { faces: alike },
  );
}

/** Opens the settings of the place itself. */
export const settingsOfPlace = (label: string, will: string): Remedy => remedy('place', label, will, { goTo: 'place' });

/** Takes what lies there and is used least off first. */
export function makeRoom(least: readonly FaceThere[]): Remedy {
  const names = least.map((f) => `${f.family} ${f.style}${f.lastUsed ? ` (last used ${f.lastUsed})` : ''}`);
  return remedy(
    'make-room',
    least.length === 1 ? `Take ${least[0]!.family} ${least[0]!.style} off first` : `Take ${least.length} faces off first`,
    `These come off the place, the least used first: ${names.join(', ')}. They stay in the library.`,
    { removes: least.map((f) => f.installId!) },
  );
}

/** Takes the old version off before the new one goes there. */
export const replaceOld = (old: FaceThere): Remedy =>
  remedy('replace', 'Replace the old version', `${old.family} ${old.style} comes off first, then this file goes there.`, {
    removes: old.installId ? [old.installId] : [],
  });

/** Another family name, so that two faces can lie side by side; not for names that its license reserves (`mayChange` says). */
export function renamed(context: CheckContext, longest: number | null): Remedy | null {
  if (context.state.format === 'ttc') return null;
  const suffix = ' Two';
  const family = `${context.family.slice(0, Math.max(1, (longest ?? 120) - suffix.length)).trim()}${context.batch.twin !== null || longest === null ? suffix : ''}`;
  if (family === context.family) return null;
  const steps: RecipeStep[] = [
    { step: 'rename', options: { family } },
    ...(['woff', 'woff2'].includes(context.state.format) ? [{ step: 'container', options: { to: context.state.format } }] : []),
  ];
  return remedy(
    'rename',
    `Call it “${family}” there`,
    `A copy of the face gets the family name “${family}”; the file in the library keeps its own.`,
    {
      steps,
      forbidden: forbiddenBy(context, steps),
    },
  );
}
