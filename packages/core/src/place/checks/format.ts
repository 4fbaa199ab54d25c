import { formatList, sentFile, type Check, type PlaceFinding } from '../finding.js';
import { another, conversionFor, lookAtLicense, pinnings } from '../remedies/index.js';

/** Whether any file is in a form that the place takes, and the shortest way to one. */
export const FORMAT: Check = {
  id: 'format',
  look(context) {
    const { profile, files, placeName, recipe, state } = context;
    if (recipe.length > 0 || sentFile(context)) return [];
    const { accepts } = profile;
    const way = conversionFor(context);
    const stop = (code: string, message: string, remedies = way ? [way] : []): PlaceFinding => ({
      code,
      severity: 'stops',
      message,
      remedies: [
        ...(remedies.length > 0 ? remedies : [another(context)]),
        // What the license forbids may be allowed by another one.
        ...(remedies.some((r) => r.forbidden !== null) ? [lookAtLicense(true)] : []),
      ],
      overridable: false,
    });
    const out: PlaceFinding[] = [];
    if (state.variable && accepts.variable === 'refused')
      out.push(
        stop(
          'variable',
          `This is a variable face, and ${placeName} only takes faces of one fixed design.${way ? '' : ' It cannot be pinned here; ask its maker for static files.'}`,
          pinnings(context),
        ),
      );
    if (state.color && accepts.color === 'refused')
      out.push(
        stop(
          'color',
          state.outlines === 'none'
            ? `This face is made of colored pictures without outlines, and ${placeName} takes faces in one color.`
            : `This face is colored, and ${placeName} takes faces in one color.`,
        ),
      );
    if (out.length > 0) return out;
    if (state.format === 'ttc' && files.every((f) => f.format === 'ttc'))
      return [
        stop(
          'collection',
          way
            ? `This face lies in a collection (TTC) with others, and ${placeName} takes one face a file.`
            : `This face lies in a collection (TTC), and ${placeName} takes ${formatList(accepts.formats)} only. It cannot be turned into any of them yet.`,
        ),
      ];
    const list = formatList(accepts.formats);
    const here = formatList(files.map((f) => f.format));
    return [
      stop(
        'format',
        way
          ? `${placeName} takes ${list} only, and this face is here as ${here}.${way.steps.every((s) => s.step === 'container') ? ' It is the same face in another container, so nothing of it is lost.' : ''}`
          : `${placeName} takes ${list} only, and this face is here as ${here}. It cannot be turned into any of them yet; ask its maker for such a file.`,
      ),
    ];
  },
};
