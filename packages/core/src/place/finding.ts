import type { FaceState, Recipe, TargetFormat } from '../convert/index.js';
import type { Embedding, Finding as Fault } from '../face/index.js';
import type { Verdict } from '../rights/index.js';
import type { FontFormat } from '../sfnt/index.js';
import type { Profile } from './profile.js';

/** What would mend a finding, done with one press. */
export interface Remedy {
  id: string;
  label: string;
  /** Conversion steps, when these mend it. */
  steps: Recipe;
  /** Where a person goes to mend it, when steps do not. */
  goTo: 'license' | 'library' | null;
}

/** One result of the check of a face against a place. `stops`: the place would refuse, or we must. */
export interface PlaceFinding {
  code: string;
  severity: 'stops' | 'mended' | 'ask' | 'note';
  /** What is wrong, why the place minds, what mends it. */
  message: string;
  remedies: Remedy[];
  /** Whether an owner may go ahead all the same, with a reason on record: a right may be, what a place refuses may not. */
  overridable: boolean;
}

/** A file of the face as it is. */
export interface FileAtHand {
  format: FontFormat;
  bytes: number;
}

/** What checks look at. */
export interface CheckContext {
  profile: Profile;
  faceName: string;
  placeName: string;
  /** The leading file, as far as conversions care. */
  state: FaceState;
  embedding: Embedding;
  faults: readonly Fault[];
  /** Verdicts of every use that putting it there is: the place's own, and changing the file where it is changed. */
  verdicts: readonly Verdict[];
  /** What of the rights asks for attention, in sentences. */
  notes: readonly string[];
  /** Files of the face, the leading one first. */
  files: readonly FileAtHand[];
  /** What the person chose to have done to the file; empty for nothing. */
  recipe: Recipe;
  /** What the recipe made, once known. */
  made: { format: FontFormat; bytes: number } | null;
}

/** One check. One file, and a line in the index; a profile names it. */
export interface Check {
  id: string;
  look(context: CheckContext): PlaceFinding[];
}

/** The file that would go out: what the recipe made, else the first at hand that the place takes. */
export function sentFile({ profile, recipe, made, files }: CheckContext): FileAtHand | null {
  if (recipe.length > 0) return made;
  for (const format of profile.accepts.formats) {
    const file = files.find((f) => f.format === format);
    if (file) return file;
  }
  return null;
}

/** A format as people write it: WOFF2. */
export const formatName = (format: FontFormat | TargetFormat): string => format.toUpperCase();
/** A size in KiB or MiB, rounded up, for people. */
export const mib = (bytes: number): string =>
  bytes < 1024 * 1024 ? `${Math.ceil(bytes / 1024)} KiB` : `${(bytes / 1024 / 1024).toFixed(1)} MiB`;
