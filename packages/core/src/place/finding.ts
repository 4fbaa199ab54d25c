import type { Change, Verdict } from '../rights/index.js';
import type { FaceState, Recipe, TargetFormat } from '../convert/index.js';
import type { Embedding, Finding as Fault } from '../face/index.js';
import type { FontFormat } from '../sfnt/index.js';
import type { Profile } from './profile.js';

/** What would mend a finding, done with one press. */
export interface Remedy {
  id: string;
  label: string;
  /** What will happen, said before. */
  will: string;
  /** Conversion steps, when these mend it. */
  steps: Recipe;
  /** Where a person goes to mend it, when steps do not. */
  goTo: 'license' | 'library' | 'place' | null;
  /** Why the license does not let it be done; null where it may be. */
  forbidden: string | null;
  /** Installs that would come off first. */
  removes: readonly string[];
  /** Faces that could go instead, nearest first. */
  faces: readonly { faceId: string; name: string }[];
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
  /** Faces in it, where it is a collection whose faces may all go along. */
  whole?: boolean;
}

/** A face that lies at a place. */
export interface FaceThere {
  name: string;
  family: string;
  style: string;
  sha256: string | null;
  /** The install it is by our record; null for what others put there. */
  installId: string | null;
  /** Day on which it was last used or else put there; null where nobody knows. */
  lastUsed: string | null;
}

/** How a place is at present, as far as it told; null parts are not known. */
export interface PlaceState {
  faces: readonly FaceThere[];
  /** Formats that the place serves or takes by its own settings; null where it has no such list. */
  types: readonly string[] | null;
}

/** A text that the face will have to set, with the letters it lacks. */
export interface TextNeed {
  label: string;
  missing: readonly string[];
}

/** What checks look at. */
export interface CheckContext {
  profile: Profile;
  faceName: string;
  family: string;
  style: string;
  placeName: string;
  /** Name of the file as it would be sent; null where we name it ourselves. */
  fileName: string | null;
  /** The leading file, as far as conversions care. */
  state: FaceState;
  embedding: Embedding;
  faults: readonly Fault[];
  /** Verdicts of every use that putting it there is: the place's own, and changing the file where it is changed. */
  verdicts: readonly Verdict[];
  /** What of the rights asks for attention, in sentences. */
  notes: readonly string[];
  /** Whether the license lets the file be changed so; null where nothing is known of rights. */
  mayChange: ((change: Change) => Pick<Verdict, 'answer' | 'reasons'>) | null;
  /** Files of the face, the leading one first. */
  files: readonly FileAtHand[];
  /** What the person chose to have done to the file; empty for nothing. */
  recipe: Recipe;
  /** What the recipe made, or is expected to make. */
  made: { format: FontFormat; bytes: number; sha256: string | null } | null;
  /** SHA-256 of the file that would go out as it is; null where it is not known. */
  sha256: string | null;
  /** Characters that must stay where the face is cut down, as runs; null where nothing is known of texts. */
  keep: readonly number[] | null;
  /** About how large the face is after a recipe, bytes; null where that is not known. */
  estimate: ((recipe: Recipe) => number) | null;
  /** Named instances of a variable face, as [name, place of the axes]. */
  instances: readonly (readonly [string, string])[];
  there: PlaceState | null;
  /** Which of how many faces go there together, and what of the same family and style is among them already. */
  batch: { position: number; total: number; twin: string | null; families: readonly string[] };
  texts: readonly TextNeed[];
  /** What joins its letters: the name of a script, or `handwriting`; null where they stand apart. */
  joined: string | null;
  /** The role it shall have there; null for none. */
  role: string | null;
  /** Whether it is made for a few words and not for running text. */
  forDisplay: boolean;
  /** Cleared faces that look alike and write the texts, nearest first. */
  alike: readonly { faceId: string; name: string }[];
}

/** One check. One file, and a line in the index; a profile names it. */
export interface Check {
  id: string;
  look(context: CheckContext): PlaceFinding[];
}

/** The file that would go out: what the recipe made, else the first at hand that the place takes. */
export function sentFile({ profile, recipe, made, files, state }: CheckContext): FileAtHand | null {
  if (recipe.length > 0) return made;
  const { accepts } = profile;
  if ((state.variable && accepts.variable === 'refused') || (state.color && accepts.color === 'refused')) return null;
  for (const format of accepts.formats) {
    const file = files.find((f) => f.format === format);
    if (file) return file;
  }
  if (accepts.collections === 'accepted') return files.find((f) => f.format === 'ttc' && f.whole) ?? null;
  return null;
}

/** A format as people write it: WOFF2. */
export const formatName = (format: FontFormat | TargetFormat): string => format.toUpperCase();
/** Formats as a list in a sentence: "TTF, OTF and WOFF". */
export const formatList = (formats: readonly (FontFormat | TargetFormat)[]): string => {
  const names = [...new Set(formats)].map(formatName);
  return names.length < 2 ? (names[0] ?? 'nothing') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]!}`;
};
/** A size in KiB or MiB, rounded up, for people. */
export const mib = (bytes: number): string =>
  bytes < 1024 * 1024 ? `${Math.ceil(bytes / 1024)} KiB` : `${(bytes / 1024 / 1024).toFixed(1)} MiB`;
const keys = new Map<string, string>();
/** What two faces of one family and style have in common, however the name is written. */
export function twinKey(family: string, style: string): string {
  const name = `${family} ${style}`;
  let key = keys.get(name);
  if (key === undefined) {
    if (keys.size > 20_000) keys.clear();
    key = name
      .normalize('NFKC')
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, ' ')
      .trim();
    keys.set(name, key);
  }
  return key;
}

const byNames = new WeakMap<PlaceState, Map<string, FaceThere[]>>();
/** Faces at a place that bear the names of a face; looked up once a state, since hundreds of faces ask. */
export function twinsThere(there: PlaceState, family: string, style: string): readonly FaceThere[] {
  let found = byNames.get(there);
  if (!found) {
    found = new Map();
    for (const f of there.faces) {
      const key = twinKey(f.family, f.style);
      const known = found.get(key);
      if (known) known.push(f);
      else found.set(key, [f]);
    }
    byNames.set(there, found);
  }
  return found.get(twinKey(family, style)) ?? [];
}
