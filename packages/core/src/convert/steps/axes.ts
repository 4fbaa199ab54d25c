import { openFont, type Face } from '../../font/index.js';
import { FontError, HEAD, OS2, writeSfnt, type Fvar, type OpenTables } from '../../sfnt/index.js';
import { compareAtPlaces } from '../places.js';
import type { Comparison, Options, Step } from '../step.js';
import { inkOf, putAdvances } from './instance.js';

/**
 * How far an outline may be off, in units: deltas of narrowed axes are rounded anew, half a unit for each that adds up at a place,
 * and composed glyphs add those of their parts.
 */
const ROUNDING = 2.5;

/** What becomes of one axis. */
interface Part {
  tag: string;
  min: number;
  max: number;
  /** The new default; the only place left where min and max are the same. */
  standard: number;
}

/** Narrows the range of some axes or takes them out at a place; the others stay, and so does whatever lies within. */
export const AXES: Step = {
  id: 'axes',
  version: 1,
  change: 'outlines',
  label: ({ keep }) => `left with ${String(keep).split(',').map(sayPart).join(' and ')}`,
  needs: () => [],
  run({ face }, options, { subsetter, codec }) {
    if (!subsetter) throw new FontError('unsupported', 'Axes cannot be narrowed here.');
    const parts = partsOf(face, options);
    const axes = axesOf(face);
    if (parts.filter((p) => p.min === p.max).length === axes.axes.length)
      throw new FontError('does-not-fit', 'No axis would be left. Choose an instance instead.', { table: 'fvar' });
    const { sfnt, faceIndex } = face.sfnt;
    const cut = subsetter.cut(sfnt, faceIndex, {
      pins: new Map(parts.filter((p) => p.min === p.max).map((p) => [p.tag, p.standard])),
      ranges: new Map(parts.filter((p) => p.min < p.max).map((p) => [p.tag, [p.min, p.max, p.standard] as const])),
      hints: true,
    });
    const made = openFont(cut, codec).faces[0]!;
    const tables = new Map(made.font.tables);
    tables.delete('DSIG');
    // The engine leaves advances and the box of CFF2 faces as they were at the old default.
    const standard = new Map([
      ...axes.axes.map((a) => [a.axisTag, a.defaultValue] as const),
      ...parts.map((p) => [p.tag, p.standard] as const),
    ]);
    const put = <T>(table: { tag: string; write(value: T, from: OpenTables): Uint8Array }, value: T): void =>
      void tables.set(table.tag, table.write(value, made));
    if (made.outlineKind === 'CFF2') putAdvances(face, made, standard, put);
    const box = inkOf(made);
    if (box) put(HEAD, { ...made.need(HEAD), ...box });
    const weight = parts.find((p) => p.tag === 'wght');
    const os2 = made.table(OS2);
    // The default design tells the weight class. Source: OpenType specification, OS/2, usWeightClass.
    if (os2 && weight)
      tables.set('OS/2', OS2.write({ ...os2, usWeightClass: Math.max(1, Math.min(1000, Math.round(weight.standard))) }, made));
    return writeSfnt({ ...made.font, tables });
  },
  prove: proveAxes,
};

const sayPart = (part: string): string => {
  const [tag = '', value = ''] = part.split('=').map((p) => p.trim());
  return value.includes(':') ? `${tag} from ${value.replace(':', ' to ')}` : `${tag} fixed at ${value}`;
};

function axesOf(face: Face): Fvar {
  const axes = face.variations;
  if (!axes || axes.axes.length === 0)
    throw new FontError('does-not-fit', 'This face is not variable, so it has no axes.', { table: 'fvar' });
  return axes;
}

/**
 * What "wght=300:700,opsz=14" says of each axis named.
 * @throws FontError when an axis is not there, or a value lies outside of it
 */
function partsOf(face: Face, { keep = '' }: Options): Part[] {
  const { axes } = axesOf(face);
  const refuse = (why: string): never => {
    throw new FontError('does-not-fit', why, { table: 'fvar' });
  };
  const parts = String(keep)
    .split(',')
    .filter((p) => p.trim() !== '')
    .map((part): Part => {
      const [tag = '', range = ''] = part.split('=').map((p) => p.trim());
      const axis =
        axes.find((a) => a.axisTag.trim() === tag) ??
        refuse(`The face has no axis “${tag}”; it has ${axes.map((a) => a.axisTag.trim()).join(', ')}.`);
      const [from, to = from] = range.split(':').map((v) => (v.trim() === '' ? NaN : Number(v)));
      if (from === undefined || !Number.isFinite(from) || !Number.isFinite(to))
        return refuse(`“${part.trim()}” is no range of an axis; write it as ${tag}=300:700.`);
      if (from > to!) return refuse(`${tag} would go from ${from} down to ${to}.`);
      if (from < axis.minValue || to! > axis.maxValue)
        return refuse(`${tag} goes from ${axis.minValue} to ${axis.maxValue}; ${from < axis.minValue ? from : to} lies outside.`);
      return { tag: axis.axisTag, min: from, max: to!, standard: Math.min(to!, Math.max(from, axis.defaultValue)) };
    });
  if (parts.length === 0) return refuse('Say which axis is to be narrowed, such as wght=300:700.');
  if (new Set(parts.map((p) => p.tag)).size < parts.length) return refuse('An axis is named twice.');
  return parts;
}

/** Shows that at places all over what is left each glyph is drawn, and as wide, as it was there. */
function proveAxes(before: Face, after: Face, options: Options): Comparison {
  const differences: string[] = [];
  const parts = partsOf(before, options);
  const left = after.variations?.axes ?? [];
  for (const p of parts) {
    const axis = left.find((a) => a.axisTag === p.tag);
    if (p.min === p.max ? axis : axis?.minValue !== p.min || axis.maxValue !== p.max)
      differences.push(`The axis ${p.tag.trim()} is not what was asked for.`);
  }
  for (const a of axesOf(before).axes)
    if (!parts.some((p) => p.tag === a.axisTag)) {
      const axis = left.find((x) => x.axisTag === a.axisTag);
      if (axis?.minValue !== a.minValue || axis.maxValue !== a.maxValue) differences.push(`The axis ${a.axisTag.trim()} changed.`);
    }
  if (before.color.length > after.color.length) differences.push('The color of the face is gone.');
  if (before.glyphCount !== after.glyphCount) differences.push('The number of glyphs differs.');
  const [a, b] = [before.characters, after.characters];
  if (a?.codePoints.join() !== b?.codePoints.join() || a?.glyphs.join() !== b?.glyphs.join())
    differences.push('The character map differs.');
  const pinned = new Map(parts.filter((p) => p.min === p.max).map((p) => [p.tag, p.standard]));
  const found = compareAtPlaces(before, after, ROUNDING, pinned);
  differences.push(...found.differences);
  const { farthest, worstGlyph, glyphsCompared } = found;
  return { equal: differences.length === 0, differences, glyphsCompared, farthest, worstGlyph };
}
