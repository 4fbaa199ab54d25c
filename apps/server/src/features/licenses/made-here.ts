import { USES, type Use } from '@orderly-glyph/core';
import { blankLicense, type LicenseFields } from '@orderly-glyph/schema';

/** The terms of what somebody made here of what is theirs: whoever owns it may do anything with it. @param note who said so, and when */
export const madeHere = (note: string): LicenseFields => ({
  ...blankLicense([]),
  kind: 'made-here',
  uses: Object.fromEntries(USES.map((use) => [use, 'yes'])) as Record<Use, 'yes'>,
  note,
  confirmed: true,
});
