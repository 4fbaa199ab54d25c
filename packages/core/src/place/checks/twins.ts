import { twinsThere, type Check } from '../finding.js';
import { remedy, renamed, replaceOld } from '../remedies/index.js';

/** What of the same family and style lies there, or goes along. */
export const TWINS: Check = {
  id: 'twins',
  look(context) {
    const { profile, placeName, there, batch, family, style, made, recipe, sha256 } = context;
    if (recipe.some((r) => r.step === 'rename')) return [];
    const name = `${family} ${style}`;
    if (batch.twin !== null && profile.twins !== 'beside')
      return [
        {
          code: 'name-twice',
          severity: 'stops',
          message: `“${batch.twin}” goes there, too, and has the same family and style. ${placeName} knows faces by these names, so one would hide the other.`,
          remedies: [renamed(context, null)].filter((r) => r !== null),
          overridable: false,
        },
      ];
    const same = there ? twinsThere(there, family, style) : [];
    if (same.length === 0) return [];
    const sent = recipe.length > 0 ? (made?.sha256 ?? null) : sha256;
    if (sent !== null && same.some((f) => f.sha256 === sent))
      return [
        {
          code: 'already-there',
          severity: 'note',
          message: `This very file lies at ${placeName} already. Sending it again changes nothing.`,
          remedies: [],
          overridable: true,
        },
      ];
    const old = same[0]!;
    if (profile.twins === 'beside') return [];
    if (profile.twins === 'replaces')
      return [
        {
          code: 'replaces-another',
          severity: 'note',
          message: `${placeName} has another file of ${name}; this one takes its place.`,
          remedies: [],
          overridable: true,
        },
      ];
    const ours = same.every((f) => f.installId !== null);
    const other = renamed(context, null);
    return [
      {
        code: 'name-taken',
        severity: 'stops',
        message: `${placeName} has another file of ${name}, and shows that one until it is removed.${ours ? '' : ' Somebody else put it there, so it is not ours to remove.'}`,
        remedies: ours
          ? [{ ...replaceOld(old), removes: same.map((f) => f.installId!) }, ...(other ? [other] : [])]
          : [
              remedy('place', 'Remove it there yourself', 'The place opens; once the old file is gone, check again.', { goTo: 'place' }),
              ...(other ? [other] : []),
            ],
        overridable: false,
      },
    ];
  },
};
