import { faceFrom, faceOf } from '../../test/face.js';
import { patch16, readFont } from '../../test/fonts.js';
import { CMAP, windowsNames, NAME, type CmapTable, type OpenTables } from '../sfnt/index.js';
import { factsOf } from './index.js';

const NO_TABLES = { table: () => null, need: () => null } as unknown as OpenTables;
const face = faceOf(readFont('literata'));
const withTables = (changed: Record<string, Uint8Array>) =>
  faceFrom({ ...face.font, tables: new Map([...face.font.tables, ...Object.entries(changed)]) });
const codes = (changed: Record<string, Uint8Array>): string[] => factsOf(withTables(changed)).findings.map((f) => f.code);
/** The face with some characters alone, each on a glyph of the given width class. */
function only(text: string, glyphOf = (c: number): number => face.glyphOf(c), platform = 3, encoding = 10): Uint8Array {
  const codePoints = Uint32Array.from(new Set([...text].map((c) => c.codePointAt(0)!))).sort();
  const table: CmapTable = {
    version: 0,
    encodingRecords: [{ platformID: platform, encodingID: encoding, subtable: 0 }],
    subtables: [{ format: 12, language: 0, codePoints, glyphs: Uint16Array.from(codePoints, glyphOf) }],
  };
  return CMAP.write(table, NO_TABLES);
}
const letters = (n: number): string => 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz'.slice(0, n);

test('a face without a space is told of once it has more than twenty characters', () => {
  expect(codes({ cmap: only(letters(20)) })).not.toContain('no-space');
  expect(codes({ cmap: only(letters(21)) })).toContain('no-space');
  expect(codes({ cmap: only(`${letters(21)} `) })).not.toContain('no-space');
  // A symbol face has no space of its own.
  expect(codes({ cmap: only(letters(30), undefined, 3, 0) })).not.toContain('no-space');
});

test('one width for all, and the flag that says so, are compared from ten printable characters on', () => {
  const same = (): number => face.glyphOf(0x41);
  const fixed = patch16(face.bytes('post')!, 14, 1);
  expect(codes({ cmap: only(letters(9), same) })).not.toContain('unmarked-pitch');
  expect(codes({ cmap: only(letters(10), same) })).toContain('unmarked-pitch');
  expect(codes({ cmap: only(letters(10), same), post: fixed })).not.toContain('contradictory-pitch');
  expect(codes({ cmap: only(letters(9)), post: fixed })).not.toContain('contradictory-pitch');
  expect(codes({ cmap: only(letters(10)), post: fixed })).toContain('contradictory-pitch');
  // Controls and what lies beyond ASCII do not count.
  expect(codes({ cmap: only(`${letters(9)}\u0001\u001f\u007fÄÖÜ`, same) })).not.toContain('unmarked-pitch');
});

test('every character without a width is a fault, one with a width is none', () => {
  const hmtx = new Uint8Array(face.bytes('hmtx')!.length);
  expect(codes({ hmtx, cmap: only(letters(12)) })).toContain('zero-widths');
  const one = hmtx.slice();
  new DataView(one.buffer).setUint16(4 * face.glyphOf('L'.codePointAt(0)!), 1);
  expect(codes({ hmtx: one, cmap: only(letters(12)) })).not.toContain('zero-widths');
});

test('line heights that differ by more than a fiftieth of the em contradict each other, where OS/2 says that its own count', () => {
  // Source: OpenType specification, OS/2, fsSelection bit 7 (USE_TYPO_METRICS), from version 4 on.
  const em = face.unitsPerEm;
  const hhea = [4, 6, 8].reduce((t, at, i) => patch16(t, at, [em, 0, 0][i]!), face.bytes('hhea')!);
  const os2 = (gap: number, selection = 0xc0, version = 4): Uint8Array =>
    (
      [
        [0, version],
        [62, selection],
        [68, em],
        [70, 0],
        [72, gap & 0xffff],
      ] as const
    ).reduce((t, [at, v]) => patch16(t, at, v), face.bytes('OS/2')!);
  const told = (table: Uint8Array): boolean => codes({ hhea, 'OS/2': table }).includes('contradictory-metrics');
  const most = Math.floor(em / 50);
  expect([told(os2(0)), told(os2(most)), told(os2(most + 1)), told(os2(-most)), told(os2(-most - 1))]).toEqual([
    false,
    false,
    true,
    false,
    true,
  ]);
  expect([told(os2(most + 1, 0x40)), told(os2(most + 1, 0xc0, 3))]).toEqual([false, false]);
});

test('PostScript names have 1 to 63 printable letters of ASCII', () => {
  // Source: OpenType specification, name ID 6.
  const named = (ps: string): boolean =>
    codes({ name: NAME.write(windowsNames({ 1: 'Plot', 2: 'Regular', 6: ps }), NO_TABLES) }).includes('bad-postscript-name');
  expect([named('P'), named('P'.repeat(63)), named('P'.repeat(64)), named('Pl ot'), named('Plöt'), named('P!~')]).toEqual([
    false,
    false,
    true,
    true,
    true,
    false,
  ]);
  const nobody = NAME.write(windowsNames({ 6: 'Plot' }), NO_TABLES);
  expect(codes({ name: nobody })).toContain('no-family-name');
});
