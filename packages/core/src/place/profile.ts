import type { Accepts } from '../convert/index.js';
import type { Use } from '../rights/index.js';

/** One thing a person enters for a place of a kind. */
export interface SettingField {
  /** Which of the place's fields it fills. */
  id: 'address' | 'key';
  label: string;
  kind: 'address' | 'secret' | 'folder';
  hint: string;
  example: string;
}

/** What a face can be at a place beside lying there. */
export interface PlaceRole {
  id: string;
  /** As a choice: "Set the site’s headings in it". */
  label: string;
}

/** A kind of place. Profiles are data: a person can read and correct them. */
export interface Profile {
  id: string;
  name: string;
  /** In a sentence: "Add a website". */
  article: string;
  /** What such a place is, in a line above the form that adds one. */
  about: string;
  /** The use that a delivery to such a place is. */
  use: Use;
  /** Which connector speaks to it. */
  connector: string;
  accepts: Accepts & { maxBytes: number };
  embedding: { restricted: 'refused' | 'accepted'; bitmapOnly: 'refused' | 'accepted' };
  roles: readonly PlaceRole[];
  /** Ids of the checks, in the order in which a person should read their findings. */
  checks: readonly string[];
  settings: readonly SettingField[];
  /** Where a person can look at a file that lies there, with {address} and {name}; null where there is no such address. */
  fileAddress: string | null;
  /** Words of the statement of rights; {workspace}, {face} and {place} are filled in. */
  statement: string;
}
