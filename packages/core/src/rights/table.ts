import type { Embedding } from '../face/index.js';
import { USES } from './uses.js';
import { decide, judge, verdict, type Counters, type LicenseRecord, type Verdict } from './verdict.js';

/** A face as the table needs it. */
export interface Licensed {
  licenses: readonly LicenseRecord[];
  embedding: Embedding;
}

/**
 * Verdicts of many faces for all uses, in the order of `USES`. Faces under the same licenses with the same bits have the
 * same verdicts, which are then one and the same array: do not change it.
 */
export function verdictTable(faces: readonly Licensed[], today: string, counters: Counters = {}): readonly (readonly Verdict[])[] {
  const known = new Map<string, readonly Verdict[]>();
  // Many faces stand under one license: what it answers is found once.
  const judged = new Map<LicenseRecord, Verdict[]>();
  const answers = (license: LicenseRecord): Verdict[] => {
    let all = judged.get(license);
    if (!all) judged.set(license, (all = USES.map((use) => judge(use, license, today, counters, undefined))));
    return all;
  };
  return faces.map(({ licenses, embedding: e }) => {
    let key = `${e.level}${e.noSubsetting ? 's' : ''}${e.bitmapOnly ? 'b' : ''}`;
    for (const license of licenses) key += ` ${license.id}`;
    let row = known.get(key);
    if (!row)
      known.set(
        key,
        (row = USES.map((use, i) => (licenses.length === 0 ? verdict(use, [], e, today) : decide(licenses, (l) => answers(l)[i]!, e)))),
      );
    return row;
  });
}
