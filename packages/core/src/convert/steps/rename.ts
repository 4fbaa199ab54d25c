import type { Face } from '../../font/index.js';
import { CFF, DICT, FontError, HEAD, NAME, NAME_ID, OS2, writeSfnt, encodeUtf16, type NameTable } from '../../sfnt/index.js';
import type { Comparison, Options, Step } from '../step.js';

/** Names by which programs know a face. Copyright, license, makers and descriptions stay as they are. */
const CALLED: readonly number[] = [
  NAME_ID.family,
  NAME_ID.uniqueId,
  NAME_ID.fullName,
  NAME_ID.version,
  NAME_ID.postScriptName,
  NAME_ID.trademark,
  NAME_ID.typographicFamily,
  NAME_ID.compatibleFull,
  NAME_ID.wwsFamily,
  NAME_ID.variationsPostScriptPrefix,
  // A name for PostScript's findfont, and another full name, would go on telling the old name.
  20,
];

const plain = (name: string): string => name.replace(/[^A-Za-z0-9]/g, '');

/** Names that may be given beside family, style and version, with their IDs. Source: OpenType specification, name. */
export const GIVEN_NAMES = {
  copyright: NAME_ID.copyright,
  trademark: NAME_ID.trademark,
  manufacturer: NAME_ID.manufacturer,
  designer: NAME_ID.designer,
  description: NAME_ID.description,
  vendorUrl: NAME_ID.vendorUrl,
  designerUrl: NAME_ID.designerUrl,
  license: NAME_ID.license,
  licenseUrl: NAME_ID.licenseUrl,
} as const;

/** Longest that programs take; common practice. PostScript names hold 63 (OpenType specification, name ID 6). */
const MOST_NAME = 120;
const MOST_TEXT = 30_000;
const RIBBI = ['Regular', 'Italic', 'Bold', 'Bold Italic'];

interface Given {
  family: string | undefined;
  style: string | undefined;
  version: number | undefined;
  vendor: string | undefined;
  others: [number, string][];
}

/**
 * What was given, looked at.
 * @throws FontError for names that no font can have
 */
function givenOf(options: Options): Given {
  const text = (key: string, most: number): string | undefined => {
    if (options[key] === undefined) return undefined;
    const value = String(options[key]).trim();
    if (value.length > most)
      throw new FontError(
        'does-not-fit',
        `A ${key === 'family' || key === 'style' ? key : 'name'} has at most ${most.toLocaleString('en-US')} characters.`,
        { table: 'name' },
      );
    if (/[\u0000-\u001f]/.test(value.replace(/\r?\n/g, ' ')))
      throw new FontError('does-not-fit', 'Names hold no control characters.', { table: 'name' });
    return value;
  };
  const family = text('family', MOST_NAME);
  const style = text('style', MOST_NAME);
  if (family === '' || style === '') throw new FontError('does-not-fit', 'A face needs a family and a style by name.', { table: 'name' });
  const version = options.version === undefined ? undefined : Number(options.version);
  if (version !== undefined && !(version >= 0 && version < 32_768))
    throw new FontError('does-not-fit', 'A version is a number from 0 to 32,767, such as 1.002.', { table: 'head' });
  const vendor = text('vendor', 4);
  if (vendor !== undefined && !/^[\x20-\x7e]*$/.test(vendor))
    throw new FontError('does-not-fit', 'A vendor code has up to four plain letters.', { table: 'OS/2' });
  const others = Object.entries(GIVEN_NAMES).flatMap(([key, id]): [number, string][] => {
    const value = text(key, MOST_TEXT);
    return value === undefined ? [] : [[id, value]];
  });
  return { family, style, version, vendor, others };
}

/** Gives a face other names, and what is given beside them: style, version, vendor, license. What is not given stays. */
export const RENAME: Step = {
  id: 'rename',
  version: 2,
  change: 'rename',
  label: ({ family, style }) =>
    family !== undefined ? `named “${String(family)}${style === undefined ? '' : ` ${String(style)}`}”` : 'given other names',
  needs: () => [],
  run({ face }, options) {
    const given = givenOf(options);
    if (given.style !== undefined && face.has('fvar'))
      throw new FontError(
        'does-not-fit',
        'A variable face has the styles of its instances, which keep their names. Make an instance first.',
        { table: 'fvar' },
      );
    const tables = new Map(face.font.tables);
    const names = renamed(face, given);
    tables.set('name', NAME.write(names.table, face));
    const linked =
      given.style === undefined ? null : { bold: /^Bold( Italic)?$/.test(names.linkedStyle), italic: /Italic$/.test(names.linkedStyle) };
    const head = face.need(HEAD);
    tables.set(
      'head',
      HEAD.write(
        {
          ...head,
          ...(given.version === undefined ? {} : { fontRevision: given.version }),
          ...(linked ? { macStyle: (head.macStyle & ~3) | (linked.bold ? 1 : 0) | (linked.italic ? 2 : 0) } : {}),
        },
        face,
      ),
    );
    const os2 = face.table(OS2);
    if (os2 && (linked || given.vendor !== undefined)) {
      const bits = linked ? (linked.italic ? 1 : 0) | (linked.bold ? 0x20 : 0) : 0;
      tables.set(
        'OS/2',
        OS2.write(
          {
            ...os2,
            ...(given.vendor === undefined ? {} : { achVendID: given.vendor.padEnd(4) }),
            ...(linked ? { fsSelection: (os2.fsSelection & ~0x61) | bits | (bits === 0 ? 0x40 : 0) } : {}),
          },
          face,
        ),
      );
    }
    if (face.has('CFF ')) {
      const cff = face.need(CFF);
      const texts = new Map(cff.texts);
      // The CFF table repeats some names; those it has are kept in step, none is added.
      for (const [operator, value] of [
        [DICT.FullName, names.full],
        [DICT.FamilyName, names.family],
        [DICT.version, given.version === undefined ? undefined : String(given.version)],
        [DICT.Notice, given.others.find(([id]) => id === NAME_ID.trademark)?.[1]],
        [DICT.Copyright, given.others.find(([id]) => id === NAME_ID.copyright)?.[1]],
      ] as const)
        if (texts.has(operator) && value !== undefined) texts.set(operator, value.replace(/[^\x20-\x7e]/g, '?'));
      tables.set('CFF ', CFF.write({ ...cff, name: names.postScript, texts }, face));
    }
    tables.delete('DSIG');
    return writeSfnt({ ...face.font, tables });
  },
  prove: proveNamed,
};

function renamed(face: Face, given: Given): { table: NameTable; family: string; full: string; postScript: string; linkedStyle: string } {
  const typographicFamily = face.name(NAME_ID.typographicFamily);
  const legacyFamily = face.name(NAME_ID.family) ?? '';
  const base = typographicFamily ?? legacyFamily;
  const family = given.family ?? (base || 'Unnamed');
  const style = given.style ?? face.name(NAME_ID.typographicSubfamily) ?? face.name(NAME_ID.subfamily) ?? 'Regular';
  const named = given.family !== undefined || given.style !== undefined;
  const full = style === 'Regular' ? family : `${family} ${style}`;
  const postScript = named
    ? `${plain(family) || 'Unnamed'}-${plain(style) || 'Regular'}`.slice(0, 63)
    : (face.name(NAME_ID.postScriptName) ?? `${plain(family) || 'Unnamed'}-${plain(style) || 'Regular'}`.slice(0, 63));
  const versionText = given.version === undefined ? (face.name(NAME_ID.version) ?? 'Version 1.000') : `Version ${given.version.toFixed(3)}`;
  const own: Record<number, string> = {};
  let linkedStyle = face.name(NAME_ID.subfamily) ?? 'Regular';
  if (given.style !== undefined) {
    // Four styles are linked by weight and slope; any other has a family of its own for programs that know no more than four.
    const linked = RIBBI.includes(style);
    const italic = /\b(italic|oblique)\b/i.test(style);
    const rest = style.replace(/\s*\bitalic\b\s*/i, ' ').trim();
    linkedStyle = linked ? style : italic ? 'Italic' : 'Regular';
    own[NAME_ID.family] = linked ? family : `${family} ${rest}`.trim();
    own[NAME_ID.subfamily] = linkedStyle;
    if (!linked) {
      own[NAME_ID.typographicFamily] = family;
      own[NAME_ID.typographicSubfamily] = style;
    }
  } else if (given.family !== undefined) {
    // "Old Name Light" in the style-linked family stays "New Name Light".
    own[NAME_ID.family] = `${family}${legacyFamily.startsWith(base) ? legacyFamily.slice(base.length) : ''}`;
    if (typographicFamily !== null) own[NAME_ID.typographicFamily] = family;
  }
  if (named) {
    own[NAME_ID.fullName] = full;
    own[NAME_ID.postScriptName] = postScript;
    if (face.name(NAME_ID.wwsFamily) !== null) own[NAME_ID.wwsFamily] = family;
    if (face.name(NAME_ID.variationsPostScriptPrefix) !== null) own[NAME_ID.variationsPostScriptPrefix] = plain(family) || 'Unnamed';
  }
  if (named || given.version !== undefined) own[NAME_ID.uniqueId] = `${versionText};${postScript}`;
  if (given.version !== undefined) own[NAME_ID.version] = versionText;
  for (const [id, value] of given.others) own[id] = value;
  const before = face.table(NAME) ?? { version: 0, records: [], langTags: null };
  const gone = new Set([
    ...Object.keys(own).map(Number),
    ...(given.family === undefined ? [] : CALLED.filter((id) => id !== NAME_ID.version || given.version !== undefined)),
    ...(given.style === undefined ? [] : [NAME_ID.typographicFamily, NAME_ID.typographicSubfamily, 22]),
  ]);
  const records = before.records.filter((r) => !gone.has(r.nameID));
  for (const [id, value] of Object.entries(own))
    // An empty name takes it away.
    if (value !== '') records.push({ platformID: 3, encodingID: 1, languageID: 0x409, nameID: Number(id), string: encodeUtf16(value) });
  return { table: { ...before, records }, family, full, postScript, linkedStyle };
}

/** Shows that only names, the version, the vendor and the bits of style linking changed: every other table byte for byte, and of CFF everything but its names. */
function proveNamed(before: Face, after: Face): Comparison {
  const differences: string[] = [];
  const [a, b] = [before.font.tables, after.font.tables];
  for (const tag of new Set([...a.keys(), ...b.keys()])) {
    if (['name', 'DSIG', 'head', 'OS/2', 'CFF '].includes(tag)) continue;
    const [x, y] = [a.get(tag), b.get(tag)];
    if (!x || !y || x.length !== y.length || !x.every((v, i) => v === y[i])) differences.push(`The ${tag.trim()} table differs.`);
  }
  const bare = ({ fontRevision: _r, checksumAdjustment: _c, macStyle: _m, ...rest }: ReturnType<typeof headOf>): unknown => rest;
  const [o, p] = [before.table(OS2), after.table(OS2)];
  if (
    o &&
    p &&
    JSON.stringify({ ...o, achVendID: '', fsSelection: o.fsSelection & ~0x61 }) !==
      JSON.stringify({ ...p, achVendID: '', fsSelection: p.fsSelection & ~0x61 })
  )
    differences.push('The OS/2 table differs.');
  if (JSON.stringify(bare(headOf(before))) !== JSON.stringify(bare(headOf(after)))) differences.push('The head table differs.');
  if (before.has('CFF ')) {
    const [x, y] = [before.need(CFF), after.need(CFF)];
    const same =
      x.charStrings.length === y.charStrings.length &&
      x.charStrings.every((p, i) => p.length === y.charStrings[i]!.length && p.every((v, k) => v === y.charStrings[i]![k])) &&
      x.charset.join() === y.charset.join();
    if (!same) differences.push('The outlines differ.');
  }
  return { equal: differences.length === 0, differences, glyphsCompared: before.has('CFF ') ? before.glyphCount : 0 };
}
const headOf = (face: Face) => face.need(HEAD);
