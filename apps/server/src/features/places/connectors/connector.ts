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
    readonly setting: 'address' | 'key' | null = null,
  ) {
    super(message);
  }
}

/** What the operator of this server allows places to be. */
export interface Allowed {
  /** Places in private networks, as host:port. */
  hosts: ReadonlySet<string>;
  /** The folder in which places that are folders lie. */
  folders: string;
}

/** A file to put at a place. */
export interface RemoteFile {
  name: string;
  mediaType: string;
  family: string;
  bytes: Uint8Array;
}

/**
 * Speaks to one kind of place. Every call says how it ended: as asked, or with a `PlaceError` that tells whether anything
 * can have changed. One file, and a line in the index.
 */
export interface Connector {
  id: string;
  /** Whether the place answers and lets us in; asked before a place is kept. @throws PlaceError */
  try(place: PlaceRow, allowed: Allowed): Promise<void>;
  /** Names of the font files that lie there. @throws PlaceError */
  list(place: PlaceRow, allowed: Allowed): Promise<string[]>;
  /** Puts a file there; the same bytes twice are no harm. @throws PlaceError */
  put(place: PlaceRow, allowed: Allowed, file: RemoteFile): Promise<void>;
  /** A file's bytes as its users get them; null when it is not there. @throws PlaceError */
  read(place: PlaceRow, allowed: Allowed, name: string): Promise<Uint8Array | null>;
  /** Gives a file that lies there a role of the profile. @throws PlaceError */
  assign?(place: PlaceRow, allowed: Allowed, role: string, name: string): Promise<void>;
  /** @throws PlaceError */
  remove(place: PlaceRow, allowed: Allowed, name: string): Promise<'removed' | 'absent'>;
}
