import type { TargetFormat } from '../convert/index.js';
import type { Use } from '../rights/index.js';

/** What a kind of place accepts. Profiles are data: a person can read and correct them. */
export interface Profile {
  id: string;
  name: string;
  /** The use that a delivery to such a place is. */
  use: Use;
  formats: readonly TargetFormat[];
  /** The format to send when there is a choice. */
  prefer: TargetFormat;
  maxBytes: number;
  embedding: { restricted: 'refused' | 'accepted'; bitmapOnly: 'refused' | 'accepted' };
  /** Words of the statement of rights; {workspace}, {face} and {place} are filled in. */
  statement: string;
}
