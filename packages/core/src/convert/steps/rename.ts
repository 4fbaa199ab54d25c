import type { Face } from '../../font/index.js';
import { CFF, DICT, HEAD, NAME, NAME_ID, writeSfnt, encodeUtf16, type NameTable } from '../../sfnt/index.js';
import type { Comparison, Step } from '../step.js';

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

/** Gives a face another family name, and a version of its own; its style keeps its name. */
export const RENAME: Step = {
  id: 'rename',
  version: 1,
  change: 'rename',
  label: ({ family }) => `named “${String(family)}”`,
  needs: () => [],
  run({ face }, { family, version }) {
    const tables = new Map(face.font.tables);
    const names = renamed(face, String(family), Number(version));
    tables.set('name', NAME.write(names.table, face));
    tables.set('head', HEAD.write({ ...face.need(HEAD), fontRevision: Number(version) }, face));
    if (face.has('CFF ')) {
      const cff = face.need(CFF);
      const texts = new Map(cff.texts);
      // The CFF table repeats some names; those it has are kept in step, none is added.
      for (const [operator, value] of [
        [DICT.FullName, names.full],
        [DICT.FamilyName, String(family)],
        [DICT.version, String(version)],
      ] as const)
        if (texts.has(operator)) texts.set(operator, value.replace(/[^\x20-\x7e]/g, '?'));
      tables.set('CFF ', CFF.write({ ...cff, name: names.postScript, texts }, face));
    }
    tables.delete('DSIG');
    return writeSfnt({ ...face.font, tables });
  },
  prove: proveNamed,
};

function renamed(face: Face, family: string, version: number): { table: NameTable; full: string; postScript: string } {
  const typographicFamily = face.name(NAME_ID.typographicFamily);
  const legacyFamily = face.name(NAME_ID.family) ?? '';
  const style = face.name(NAME_ID.typographicSubfamily) ?? face.name(NAME_ID.subfamily) ?? 'Regular';
  // "Old Name Light" in the style-linked family stays "New Name Light".
  const base = typographicFamily ?? legacyFamily;
  const suffix = legacyFamily.startsWith(base) ? legacyFamily.slice(base.length) : '';
  const full = style === 'Regular' ? family : `${family} ${style}`;
  const postScript = `${plain(family) || 'Unnamed'}-${plain(style) || 'Regular'}`.slice(0, 63);
  const versionText = `Version ${version.toFixed(3)}`;
  const own: Record<number, string> = {
    [NAME_ID.family]: `${family}${suffix}`,
    [NAME_ID.uniqueId]: `${versionText};${postScript}`,
    [NAME_ID.fullName]: full,
    [NAME_ID.version]: versionText,
    [NAME_ID.postScriptName]: postScript,
  };
  if (typographicFamily !== null) own[NAME_ID.typographicFamily] = family;
  if (face.name(NAME_ID.wwsFamily) !== null) own[NAME_ID.wwsFamily] = family;
  if (face.name(NAME_ID.variationsPostScriptPrefix) !== null) own[NAME_ID.variationsPostScriptPrefix] = plain(family) || 'Unnamed';
  const before = face.table(NAME) ?? { version: 0, records: [], langTags: null };
  const records = before.records.filter((r) => !CALLED.includes(r.nameID));
  for (const [id, value] of Object.entries(own))
    records.push({ platformID: 3, encodingID: 1, languageID: 0x409, nameID: Number(id), string: encodeUtf16(value) });
  return { table: { ...before, records }, full, postScript };
}

/** Shows that only names and the version changed: every other table byte for byte, and of CFF everything but its names. */
function proveNamed(before: Face, after: Face): Comparison {
  const differences: string[] = [];
  const [a, b] = [before.font.tables, after.font.tables];
  for (const tag of new Set([...a.keys(), ...b.keys()])) {
    if (['name', 'DSIG', 'head', 'CFF '].includes(tag)) continue;
    const [x, y] = [a.get(tag), b.get(tag)];
    if (!x || !y || x.length !== y.length || !x.every((v, i) => v === y[i])) differences.push(`The ${tag.trim()} table differs.`);
  }
  const bare = ({ fontRevision: _r, checksumAdjustment: _c, ...rest }: ReturnType<typeof headOf>): unknown => rest;
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
