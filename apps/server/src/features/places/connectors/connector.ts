import type { AllowedPlaces } from '../../../platform/http/context.js';
import type { PlaceRow } from '../rows.js';

/**
 * What went wrong at a place. `refused`: it said no, and nothing was changed there. `unreachable`: the request never got
 * there. `unknown`: it may have been carried out or not, as when the answer did not come; only looking tells.
 */
export type PlaceErrorKind = 'refused' | 'unreachable' | 'unknown';

/** A place said no, or could not be reached; the message is for people. */
export class PlaceError extends Error {
  constructor(
    readonly kind: PlaceErrorKind,
    message: string,
    /** Which of the place's settings is to blame, where that is known. */
    readonly setting: 'address' | 'key' | 'user' | 'hostKey' | 'page' | null = null,
    /** Whether asking again soon may help. */
    readonly passing = false,
  ) {
    super(message);
  }
}

export type Allowed = AllowedPlaces;

/** A font file that lies at a place, as the place tells of it. */
export interface ThereFile {
  name: string;
  family: string | null;
  style: string | null;
  sha256: string | null;
}

/** How a place is at present. */
export interface There {
  files: ThereFile[];
  /** Formats that it serves by its own settings; null where it does not say. */
  types: string[] | null;
}

/** A file to put at a place. */
export interface RemoteFile {
  name: string;
  mediaType: string;
  family: string;
  bytes: Uint8Array;
  /** What was declared about rights, for places that ask. */
  statement: string;
  /** Which upload it belongs to; places count the files of one. */
  upload: string;
}

/**
 * Speaks to one kind of place. Every call says how it ended: as asked, or with a `PlaceError` that tells whether anything
 * can have changed. One file, and a line in the index.
 */
export interface Connector {
  id: string;
  /** Where a file of a name lies, as people look for it; null where no address leads to it. */
  where(place: Pick<PlaceRow, 'address'>, name: string): string | null;
  /** Whether the place answers and lets us in; asked before a place is kept. @throws PlaceError */
  try(place: PlaceRow, allowed: Allowed): Promise<void>;
  /** The font files that lie there. @throws PlaceError */
  list(place: PlaceRow, allowed: Allowed): Promise<There>;
  /** Puts a file there; the same bytes twice are no harm. @throws PlaceError */
  put(place: PlaceRow, allowed: Allowed, file: RemoteFile): Promise<void>;
  /** A file's bytes as its users get them; null when it is not there. @throws PlaceError */
  read(place: PlaceRow, allowed: Allowed, name: string): Promise<Uint8Array | null>;
  /** Gives a file that lies there a role of the profile. @throws PlaceError */
  assign?(place: PlaceRow, allowed: Allowed, role: string, name: string): Promise<void>;
  /** Moves a file to another kind of the place's own list. @throws PlaceError */
  arrange?(place: PlaceRow, allowed: Allowed, name: string, kind: string): Promise<void>;
  /** Lists these files first, in this order. @throws PlaceError */
  order?(place: PlaceRow, allowed: Allowed, names: readonly string[]): Promise<void>;
  /** Writes the style sheet for all that lies there, where the place is a plain folder of a website. @throws PlaceError */
  sheet?(place: PlaceRow, allowed: Allowed, text: string): Promise<void>;
  /** Looks at a file as a visitor's browser would come to it; a sentence says what hinders it, null that nothing does. @throws PlaceError */
  asVisitor?(place: PlaceRow, allowed: Allowed, name: string, sha256: string): Promise<string | null>;
  /** @throws PlaceError */
  remove(place: PlaceRow, allowed: Allowed, name: string): Promise<'removed' | 'absent'>;
}
