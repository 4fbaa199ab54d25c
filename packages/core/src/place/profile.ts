import type { Accepts } from '../convert/index.js';
import type { Use } from '../rights/index.js';

/** One thing a person enters for a place of a kind. */
export interface SettingField {
  /** Which of the place's fields it fills. */
  id: 'address' | 'key' | 'user' | 'hostKey' | 'page';
  label: string;
  kind: 'address' | 'server' | 'secret' | 'folder' | 'word' | 'lines';
  hint: string;
  example: string;
  /** Whether it may be left empty. */
  optional?: boolean;
}

/** What a face can be at a place beside lying there. */
export interface PlaceRole {
  id: string;
  /** In a sentence and on a shelf: "headings". */
  name: string;
  /** As a choice: "Set the site’s headings in it". */
  label: string;
  /** Whether it sets running text, which takes plain faces with all letters. */
  running?: boolean;
  /** Whether many faces have it at once, as a list does; other roles are one face's. */
  many?: boolean;
}

export type Taken = 'accepted' | 'refused';

/** What a place takes and does: the part of a profile that a person can edit for a place of their own. Sizes in bytes. */
export interface Rules {
  /** The use that putting a face there is. */
  use: Use;
  accepts: Accepts & { maxBytes: number; collections: Taken; variable: Taken; color: Taken };
  embedding: { restricted: Taken; bitmapOnly: Taken };
  /** Faces in one upload, faces in all, and letters of a family name; null where there is no limit. */
  limits: { perUpload: number | null; faces: number | null; familyName: number | null };
  /** What happens to a face of the family and style of one that lies there: both stay, it takes its place, or it is refused. */
  twins: 'beside' | 'replaces' | 'refused';
  /** Whether the old version must go before the new one shows. */
  replacing: 'over' | 'remove-first';
  roles: readonly PlaceRole[];
  /** Words that the place itself shows, beside the texts of the workspace; and how it sets them. */
  shows: { text: string; capitals: boolean; spaced: boolean };
  /** Families such a place bears; null where it does not matter. */
  families: number | null;
}

/** A kind of place. Profiles are data: a person can read and correct them. */
export interface Profile extends Rules {
  id: string;
  name: string;
  /** In a sentence: "Add a website". */
  article: string;
  /** What such a place is, in a line above the form that adds one. */
  about: string;
  /** Which connector speaks to it; `hand` where a person puts files there. */
  connector: string;
  /** Ids of the checks, in the order in which a person should read their findings. */
  checks: readonly string[];
  settings: readonly SettingField[];
  /** Where a person can look at a file that lies there, with {address} and {name}; null where there is no such address. */
  fileAddress: string | null;
  /** Words of the statement of rights; {workspace}, {face} and {place} are filled in. */
  statement: string;
  /** How a person puts files there, line by line. */
  howTo: readonly string[];
}

/** Every check, in the order in which a person should read what they find. */
export const ALL_CHECKS = [
  'rights',
  'soundness',
  'name',
  'embedding',
  'format',
  'types',
  'size',
  'twins',
  'room',
  'upload',
  'coverage',
  'setting',
  'families',
  'changed',
] as const;

/** A profile with rules of a person's own. */
export const withRules = (base: Profile, rules: Rules | null): Profile => (rules ? { ...base, ...rules } : base);

/** The rules of a profile alone. */
export function rulesOf(p: Profile): Rules {
  const { use, accepts, embedding, limits, twins, replacing, roles, shows, families } = p;
  return { use, accepts, embedding, limits, twins, replacing, roles, shows, families };
}
