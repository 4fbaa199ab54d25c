import { openPlaced } from '../../engines/index.js';
import type { Face } from '../../font/index.js';
import { BoundsPen, type Pen } from '../../outline/index.js';
import {
  encodeUtf16,
  FontError,
  HEAD,
  HHEA,
  HMTX,
  NAME,
  NAME_ID,
  OS2,
  POST,
  STAT,
  writeSfnt,
  type Fvar,
  type LongMetrics,
  type NameTable,
  type OpenTables,
  type Tables,
} from '../../sfnt/index.js';
import { openFont, WEIGHT_STYLES } from '../../font/index.js';
import { outlineDistance } from '../compare.js';
import type { Comparison, Options, Step } from '../step.js';

/** A static face has whole coordinates: half a unit each way, and as much again for the parts of a composed glyph. */
const ROUNDING = 1.6;

/** Makes a static face of a variable one, at a place of its axes. */
export const INSTANCE: Step = {
  id: 'instance',
  version: 1,
  change: 'outlines',
  label: ({ at }) => (at ? `fixed at ${String(at)}` : 'fixed at its usual design'),
  needs: (state, accepts) =>
    state.variable && accepts.variable === 'refused'
      ? [{ options: {}, after: { ...state, variable: false, format: state.outlines === 'glyf' ? 'ttf' : 'otf' } }]
      : [],
  run({ face }, options, { subsetter, codec }) {
    if (!subsetter) throw new FontError('unsupported', 'Variable faces cannot be made static here.');
    const axes = axesOf(face);
    const pins = placeOf(face, options);
    const { sfnt, faceIndex } = face.sfnt;
    const made = openFont(subsetter.cut(sfnt, faceIndex, { pins, hints: true }), codec).faces[0]!;
    return writeSfnt({ ...made.font, tables: named(face, made, axes, pins) });
  },
  prove: proveInstance,
};

function axesOf(face: Face): Fvar {
  const axes = face.variations;
  if (!axes || axes.axes.length === 0)
    throw new FontError('does-not-fit', 'This face is not variable, so it has no instances.', { table: 'fvar' });
  return axes;
}

/**
 * Where an instance stands: values by axis tag, those left out at their default. `at` is written as "wght=700,wdth=100", or
 * is the name of an instance.
 * @throws FontError when there is no such axis or instance, or a value lies outside its axis
 */
export function placeOf(face: Face, { at = '' }: Options): Map<string, number> {
  const { axes, instances } = axesOf(face);
  const place = new Map(axes.map((a) => [a.axisTag, a.defaultValue]));
  const text = String(at).trim();
  if (text === '') return place;
  if (!text.includes('=')) {
    const found = instances.find((i) => face.name(i.subfamilyNameID)?.toLowerCase() === text.toLowerCase());
    if (!found) throw new FontError('does-not-fit', `The face has no instance called “${text}”.`, { table: 'fvar' });
    axes.forEach((a, i) => place.set(a.axisTag, found.coordinates[i]!));
    return place;
  }
  for (const part of text.split(',')) {
    const [tag = '', value = ''] = part.split('=').map((p) => p.trim());
    const axis = axes.find((a) => a.axisTag.trim() === tag);
    if (!axis)
      throw new FontError('does-not-fit', `The face has no axis “${tag}”; it has ${axes.map((a) => a.axisTag.trim()).join(', ')}.`, {
        table: 'fvar',
      });
    const number = Number(value);
    if (value === '' || !Number.isFinite(number))
      throw new FontError('does-not-fit', `“${part.trim()}” is no value of an axis.`, { table: 'fvar' });
    if (number < axis.minValue || number > axis.maxValue)
      throw new FontError('does-not-fit', `${tag} goes from ${axis.minValue} to ${axis.maxValue}; ${number} lies outside.`, {
        table: 'fvar',
      });
    place.set(axis.axisTag, number);
  }
  return place;
}

/** Percent of the usual width for each width class. Source: OpenType specification, OS/2, usWidthClass. */
const WIDTHS = [50, 62.5, 75, 87.5, 100, 112.5, 125, 150, 200];
const RIBBI = ['Regular', 'Italic', 'Bold', 'Bold Italic'];

/** What a place is called: as the face names it, else by its weight and what else is not usual. */
export function styleAt(face: Face, place: ReadonlyMap<string, number>): string {
  const { axes, instances } = axesOf(face);
  const given = instances.find((i) => axes.every((a, k) => i.coordinates[k] === place.get(a.axisTag)));
  const own = given && face.name(given.subfamilyNameID);
  if (own) return own;
  const italic = /italic|oblique/i.test(face.name(NAME_ID.typographicSubfamily) ?? face.name(NAME_ID.subfamily) ?? '');
  const parts: string[] = [];
  for (const { axisTag, defaultValue } of axes) {
    const value = place.get(axisTag)!;
    if (axisTag === 'wght') parts.push(WEIGHT_STYLES[value] ?? `W${trim(value)}`);
    else if (axisTag === 'ital' ? value !== 0 : value !== defaultValue)
      parts.push(axisTag === 'ital' ? 'Italic' : `${axisTag.trim()}${trim(value)}`);
  }
  if (italic && !parts.includes('Italic')) parts.push('Italic');
  const kept = parts.length > 1 ? parts.filter((p) => p !== 'Regular') : parts;
  return kept.join(' ') || 'Regular';
}

const trim = (value: number): string =>
  String(Math.round(value * 100) / 100)
    .replace('-', 'm')
    .replace('.', 'p');
const asPostScript = (text: string): string => text.replace(/[^\x21-\x7e]|[[\](){}<>/%\s-]/g, '');

/** The tables of an instance with names, weight, width and style linking of its own, and nothing that speaks of axes. */
function named(face: Face, made: Face, axes: Fvar, place: ReadonlyMap<string, number>): Map<string, Uint8Array> {
  const tables = new Map(made.font.tables);
  for (const tag of ['fvar', 'avar', 'gvar', 'cvar', 'HVAR', 'VVAR', 'MVAR', 'STAT', 'DSIG']) tables.delete(tag);
  const put = <T>(table: { tag: string; write(value: T, tables: OpenTables): Uint8Array }, value: T): void =>
    void tables.set(table.tag, table.write(value, made));
  const family = face.name(NAME_ID.typographicFamily) ?? face.name(NAME_ID.family) ?? 'Unnamed';
  const style = styleAt(face, place);
  const italic = /\b(italic|oblique)\b/i.test(style) || (place.get('slnt') ?? 0) !== 0;
  const weight = place.get('wght');
  const bold = style === 'Bold' || style === 'Bold Italic';
  put(NAME, namesOf(face, axes, place, family, style, italic));
  const head = made.need(HEAD);
  const box = inkOf(made);
  if (made.outlineKind === 'CFF2') putAdvances(face, made, place, put);
  put(HEAD, { ...head, ...(box ?? {}), macStyle: (head.macStyle & ~3) | (bold ? 1 : 0) | (italic ? 2 : 0) });
  const os2 = made.table(OS2);
  if (os2) {
    const width = place.get('wdth');
    const widthClass =
      width === undefined
        ? os2.usWidthClass
        : 1 + WIDTHS.reduce((best, w, i) => (Math.abs(w - width) < Math.abs(WIDTHS[best]! - width) ? i : best), 0);
    const linked = (bold ? 0x20 : 0) | (italic ? 1 : 0);
    put(OS2, {
      ...os2,
      usWeightClass: weight === undefined ? os2.usWeightClass : Math.max(1, Math.min(1000, Math.round(weight))),
      usWidthClass: widthClass,
      fsSelection: (os2.fsSelection & ~0x61) | linked | (linked === 0 ? 0x40 : 0),
    });
  }
  const slant = place.get('slnt');
  const post = made.table(POST);
  if (post && slant !== undefined) put(POST, { ...post, italicAngle: slant });
  return tables;
}

/** HarfBuzz leaves the advances of CFF2 faces at their defaults when it fixes axes; those of the place are written here. */
export function putAdvances(
  face: Face,
  made: Face,
  place: ReadonlyMap<string, number>,
  put: <T>(table: { tag: string; write(value: T, tables: OpenTables): Uint8Array }, value: T) => void,
): void {
  const { sfnt, faceIndex } = face.sfnt;
  const there = openPlaced(sfnt, faceIndex, place);
  const boxes = Array.from({ length: made.glyphCount }, (_, glyph) => {
    const pen = new BoundsPen();
    made.draw(glyph, pen);
    return pen.bounds;
  });
  const advances = Uint16Array.from(boxes, (_, glyph) => Math.max(0, Math.round(there.advance(glyph))));
  const right = boxes.flatMap((b, i) => (b ? [advances[i]! - Math.ceil(b.xMax)] : []));
  const least = (list: readonly number[]): number => list.reduce((a, b) => Math.min(a, b), list[0] ?? 0);
  const hhea = {
    ...made.need(HHEA),
    advanceWidthMax: advances.reduce((a, b) => Math.max(a, b), 0),
    minLeftSideBearing: least(boxes.flatMap((b) => (b ? [Math.floor(b.xMin)] : []))),
    minRightSideBearing: least(right),
    xMaxExtent: boxes.reduce((most, b) => (b ? Math.max(most, Math.ceil(b.xMax)) : most), 0),
    // Every glyph with its own, so that what is written does not hang on what stood there before.
    numberOfHMetrics: made.glyphCount,
  };
  put(HHEA, hhea);
  const sideBearings = Int16Array.from(boxes, (b) => (b ? Math.floor(b.xMin) : 0));
  const withHeader: Tables = {
    table: (t) => ((t as { tag: string }).tag === 'hhea' ? (hhea as never) : made.table(t)),
    need: (t) => ((t as { tag: string }).tag === 'hhea' ? (hhea as never) : made.need(t)),
  };
  put({ tag: 'hmtx', write: (value: LongMetrics) => HMTX.write(value, withHeader) }, { advances, sideBearings });
}

/** Whole bounds of all ink: an engine may leave a box that no reader takes. */
export function inkOf(face: Face): { xMin: number; yMin: number; xMax: number; yMax: number } | null {
  const pen = new BoundsPen();
  for (let glyph = 0; glyph < face.glyphCount; glyph++) face.draw(glyph, pen);
  const b = pen.bounds;
  return b && { xMin: Math.floor(b.xMin), yMin: Math.floor(b.yMin), xMax: Math.ceil(b.xMax), yMax: Math.ceil(b.yMax) };
}

/** Names that STAT gives to axes and their values. */
function statNames(face: Face): number[] {
  const stat = face.table(STAT);
  if (!stat) return [];
  return [...(stat.designAxes ?? []).map((a) => a.axisNameID), ...(stat.axisValues ?? []).flatMap((v) => (v ? [v.valueNameID] : []))];
}

/** Names of one style; those of axes and of other instances go. Source: OpenType specification, name, IDs 1 to 6, 16, 17, 25. */
function namesOf(face: Face, axes: Fvar, place: ReadonlyMap<string, number>, family: string, style: string, italic: boolean): NameTable {
  const given = axes.instances.find((i) => axes.axes.every((a, k) => i.coordinates[k] === place.get(a.axisTag)));
  const prefix = face.name(NAME_ID.variationsPostScriptPrefix) ?? asPostScript(family);
  const postScript = (
    (given?.postScriptNameID && face.name(given.postScriptNameID)) ||
    `${asPostScript(prefix) || 'Unnamed'}-${asPostScript(style) || 'Regular'}`
  ).slice(0, 63);
  const linked = RIBBI.includes(style);
  const rest = style.replace(/\s*\bitalic\b\s*/i, ' ').trim();
  const own: Record<number, string> = {
    [NAME_ID.family]: linked ? family : `${family} ${rest}`.trim(),
    [NAME_ID.subfamily]: linked ? style : italic ? 'Italic' : 'Regular',
    [NAME_ID.uniqueId]: `${face.name(NAME_ID.version) ?? 'Version 1.000'};${postScript}`,
    [NAME_ID.fullName]: style === 'Regular' ? family : `${family} ${style}`,
    [NAME_ID.postScriptName]: postScript,
  };
  if (!linked) {
    own[NAME_ID.typographicFamily] = family;
    own[NAME_ID.typographicSubfamily] = style;
  }
  const before = face.table(NAME) ?? { version: 0, records: [], langTags: null };
  const gone = new Set([
    ...Object.keys(own).map(Number),
    NAME_ID.typographicFamily,
    NAME_ID.typographicSubfamily,
    NAME_ID.compatibleFull,
    NAME_ID.wwsFamily,
    22,
    NAME_ID.variationsPostScriptPrefix,
    20,
    ...axes.axes.map((a) => a.axisNameID),
    ...statNames(face),
    ...axes.instances.flatMap((i) => [i.subfamilyNameID, i.postScriptNameID ?? 0]),
  ]);
  // A name that an axis shares with the license or the maker is theirs.
  const records = before.records.filter(
    (r) => !gone.has(r.nameID) || (r.nameID < 256 && !(r.nameID in own) && ![16, 17, 18, 20, 21, 22, 25].includes(r.nameID)),
  );
  for (const [id, value] of Object.entries(own))
    records.push({ platformID: 3, encodingID: 1, languageID: 0x409, nameID: Number(id), string: encodeUtf16(value) });
  return { ...before, records };
}

/** Shows that every glyph is drawn as the variable face draws it there, as far as whole coordinates allow, and nothing else went. */
function proveInstance(before: Face, after: Face, options: Options): Comparison {
  const differences: string[] = [];
  if (after.has('fvar')) differences.push('The face is still variable.');
  if (before.color.length > after.color.length) differences.push('The color of the face is gone.');
  if (before.glyphCount !== after.glyphCount) differences.push('The number of glyphs differs.');
  const [a, b] = [before.characters, after.characters];
  if (a?.codePoints.join() !== b?.codePoints.join() || a?.glyphs.join() !== b?.glyphs.join())
    differences.push('The character map differs.');
  const { sfnt, faceIndex } = before.sfnt;
  const there = openPlaced(sfnt, faceIndex, placeOf(before, options));
  const count = Math.min(before.glyphCount, after.glyphCount);
  const advances = Array.from({ length: count }, (_, glyph) => glyph).filter(
    (glyph) => Math.abs(there.advance(glyph) - (after.advances?.advanceWidth(glyph) ?? 0)) > 1,
  );
  if (advances.length > 0) differences.push(`The advances of ${advances.length} glyphs differ, that of glyph ${advances[0]} first.`);
  const drawn = {
    draw(glyph: number, pen: Pen): boolean {
      there.draw(glyph, pen);
      return true;
    },
  };
  const { farthest, worstGlyph, lost } = outlineDistance(drawn, after, count, before.unitsPerEm);
  if (lost.length > 0) differences.push(`${lost.length} glyphs are not drawn in both, glyph ${lost[0]} first.`);
  if (farthest > ROUNDING) differences.push(`The outline of glyph ${worstGlyph} is ${farthest.toFixed(2)} units from where it was.`);
  return { equal: differences.length === 0, differences, glyphsCompared: count, farthest, worstGlyph };
}
