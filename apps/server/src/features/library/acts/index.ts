import { ARCHIVE } from './archive.js';
import { COLLECT } from './collect.js';
import { FAVORITE } from './favorite.js';
import { KIND } from './kind.js';
import { LABEL } from './label.js';
import { MERGE } from './merge.js';
import { NOTE } from './note.js';
import { REMOVE } from './remove.js';
import { REMOVE_COLLECTION } from './remove-collection.js';
import { RENAME_COLLECTION } from './rename-collection.js';
import { RENAME_FAMILY } from './rename-family.js';
import { RENAME_STYLE } from './rename-style.js';
import { RESOLVE } from './resolve.js';
import { SPLIT } from './split.js';
import { UNFOLD } from './unfold.js';
import type { AnyAct } from './act.js';

export { type Act, type AnyAct, actContext, type ActContext, counted, type Planned, plain, same, Steps } from './act.js';

/** Everything a person can do to the order of the library. */
export const ACTS: readonly AnyAct[] = [
  ARCHIVE,
  COLLECT,
  FAVORITE,
  KIND,
  LABEL,
  MERGE,
  NOTE,
  REMOVE,
  REMOVE_COLLECTION,
  RENAME_COLLECTION,
  RENAME_FAMILY,
  RENAME_STYLE,
  RESOLVE,
  SPLIT,
  UNFOLD,
] as unknown as AnyAct[];
