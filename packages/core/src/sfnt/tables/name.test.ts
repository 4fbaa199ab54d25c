import { python } from '../../../test/python.js';
import { bestName, FontError, NAME, NAME_ID, readName, windowsNames, type OpenTables } from '../index.js';

type Row = [string, number, number, number, number];

/** A name table written by fontTools: rows of value, name ID, platform, encoding, language. */
function written(rows: Row[]): Uint8Array {
  const hex = python<string>(
    `
from fontTools.ttLib import newTable
table = newTable('name'); table.names = []
for value, id, platform, encoding, language in given: table.setName(value, id, platform, encoding, language)
print(json.dumps(table.compile(None).hex()))`,
    rows,
  );
  return Uint8Array.from(hex.match(/../g)!, (b) => parseInt(b, 16));
}

const ROWS: Row[] = [
  ['Źródło', NAME_ID.family, 3, 1, 0x415],
  ['Source', NAME_ID.family, 3, 1, 0x409],
  ['Quelle', NAME_ID.family, 3, 1, 0x407],
  ['Café Ö', NAME_ID.family, 1, 0, 0],
  ['Ä\u007f', NAME_ID.trademark, 1, 0, 0],
  ['源 😀 𝒜', NAME_ID.fullName, 3, 10, 0x411],
  ['Πηγή', NAME_ID.designer, 0, 3, 0],
  ['“Quoted” — © ™ ﬁ', NAME_ID.copyright, 1, 0, 0],
];

test('records in Windows, Unicode and Mac OS Roman encodings say what fontTools wrote', () => {
  const { records, skipped } = readName(written(ROWS));
  expect(skipped).toBe(0);
  const key = (r: { nameID: number; platformID: number; languageID: number }): string => `${r.platformID}/${r.languageID}/${r.nameID}`;
  expect(Object.fromEntries(records.map((r) => [key(r), r.value]))).toEqual(
    Object.fromEntries(ROWS.map(([value, nameID, platformID, , languageID]) => [key({ nameID, platformID, languageID }), value])),
  );
});

test('languages are BCP 47 tags', () => {
  // Source: OpenType specification, name, the lists of Windows and Macintosh language IDs.
  const { records } = readName(
    written([
      ['a', 1, 3, 1, 0x415],
      ['b', 1, 3, 1, 0x809],
      ['c', 1, 3, 1, 0xc0a],
      ['d', 1, 1, 0, 2],
      ['e', 1, 1, 0, 25],
    ]),
  );
  expect(Object.fromEntries(records.map((r) => [r.value, r.language]))).toEqual({ a: 'pl', b: 'en', c: 'es', d: 'de', e: 'pl' });
});

test('US English of Windows is the best name, then other English, then whatever there is', () => {
  const best = (rows: Row[]): string | null => bestName(readName(written(rows)).records, NAME_ID.family);
  const [polish, source, german, mac] = ROWS as [Row, Row, Row, Row];
  expect(best([polish, german, mac, source])).toBe('Source');
  expect(best([polish, mac, german])).toBe('Café Ö');
  expect(best([['British', 1, 3, 1, 0x809], mac, polish])).toBe('British');
  expect(best([polish])).toBe('Źródło');
  expect(best([['   ', 1, 3, 1, 0x409], german])).toBe('Quelle');
  // Every two of these in either order: the one that stands first here is the better.
  const order: Row[] = [
    ['US', 1, 3, 1, 0x409],
    ['GB', 1, 3, 1, 0x809],
    ['Unicode', 1, 0, 3, 0],
    ['Mac', 1, 1, 0, 0],
    ['DE', 1, 3, 1, 0x407],
    ['Mac DE', 1, 1, 0, 2],
  ];
  order.forEach((a, i) => {
    for (const b of order.slice(i + 1)) expect([a[0], b[0], best([a, b]), best([b, a])]).toEqual([a[0], b[0], a[0], a[0]]);
  });
  expect(best([['Other', 4, 3, 1, 0x409]])).toBeNull();
});

test('encodings that are not read, and records that point outside, are skipped and counted', () => {
  const japanese: Row = ['\u6e90', NAME_ID.family, 1, 1, 11];
  const mixed = readName(written([japanese, ROWS[1]!]));
  expect([mixed.skipped, mixed.records.map((r) => r.value)]).toEqual([1, ['Source']]);
  const data = written([ROWS[1]!, ROWS[2]!]);
  const outside = data.slice();
  // The offset of the first record: 6 bytes of header, 10 into the record.
  outside[16] = 0xff;
  expect(readName(outside).skipped).toBe(1);
});

test('every cut of a table is refused or read in part', () => {
  const whole = written(ROWS);
  for (let length = 0; length < whole.length; length++)
    try {
      const { records, skipped } = readName(whole.slice(0, length));
      expect(records.length + skipped).toBe(ROWS.length);
    } catch (error) {
      expect(error).toBeInstanceOf(FontError);
    }
});

const NO_TABLES = { table: () => null, has: () => false, bytes: () => null } as unknown as OpenTables;

test('tags of languages beyond the list (version 1) come back, and stand where the specification puts them', () => {
  const string = Uint8Array.from([0, 65, 0, 66]);
  const record = (languageID: number, nameID: number) => ({ platformID: 3, encodingID: 1, languageID, nameID, string });
  const table = { version: 1, records: [record(0x409, 1), record(0x8000, 1), record(0x8001, 1)], langTags: ['nds', 'tlh-Latn'] };
  const bytes = NAME.write(table, NO_TABLES);
  expect(NAME.read(bytes, NO_TABLES)).toEqual(table);
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  // OpenType, name version 1: header 6, three records of 12, langTagCount, two records of 4, then the strings; equal ones once.
  const storage = 6 + 36 + 2 + 8;
  expect([view.getUint16(4), view.getUint16(42), view.getUint16(44), view.getUint16(48)]).toEqual([storage, 2, 6, 16]);
  expect(bytes.length).toBe(storage + 4 + 6 + 16);
  // What a reader makes of them, by their tags.
  expect(readName(bytes).records.map((r) => [r.value, r.language])).toEqual([
    ['AB', 'en'],
    ['AB', 'nds'],
    ['AB', 'tlh-Latn'],
  ]);
});

test('records are written in the order readers search them by', () => {
  const string = Uint8Array.of(0, 65);
  const order = [
    [1, 0, 0, 4],
    [3, 1, 0x409, 1],
    [3, 1, 0x409, 2],
    [3, 1, 0x415, 1],
    [3, 10, 0x409, 1],
  ] as const;
  const records = order.map(([platformID, encodingID, languageID, nameID]) => ({ platformID, encodingID, languageID, nameID, string }));
  for (const mixed of [[...records].reverse(), [2, 0, 4, 1, 3].map((i) => records[i]!)])
    expect(NAME.read(NAME.write({ version: 0, records: mixed, langTags: null }, NO_TABLES), NO_TABLES).records).toEqual(records);
});

test('names that do not fit are refused, the longest that do are kept', () => {
  const text = 'x'.repeat(0x7fff);
  expect(readName(NAME.write(windowsNames({ 1: text }), NO_TABLES)).records[0]!.value).toBe(text);
  expect(() => NAME.write(windowsNames({ 1: text, 2: 'y' }), NO_TABLES)).toThrow('longer than the name table can hold');
});

test('every cut of a table with tags of its own is refused or read in part, and tags that point outside are none', () => {
  const string = Uint8Array.of(0, 65);
  const record = { platformID: 3, encodingID: 1, languageID: 0x8000, nameID: 1, string };
  const whole = NAME.write({ version: 1, records: [record], langTags: ['pl', 'cy'] }, NO_TABLES);
  for (let length = 0; length < whole.length; length++)
    try {
      readName(whole.slice(0, length));
    } catch (error) {
      expect(error).toBeInstanceOf(FontError);
    }
  const tag = (bytes: Uint8Array): (string | null)[] => readName(bytes).records.map((r) => r.language);
  expect(tag(whole)).toEqual(['pl']);
  // Cut after the first tag's entry: its words are still there, those of the second are not asked for.
  const outside = whole.slice();
  new DataView(outside.buffer).setUint16(6 + 12 + 2, 0x7fff);
  expect(readName(outside).records.map((r) => r.value)).toEqual(['A']);
  expect(tag(outside)).not.toEqual(['pl']);
});

test('names of every script are written so that fontTools reads them', () => {
  const names = { 1: 'Źródło Ωμέγα', 2: '源 خط', 4: '😀 𝒜 x' };
  const theirs = python<Record<string, string>>(
    `
from fontTools.ttLib import newTable
table = newTable('name'); table.decompile(bytes.fromhex(given), None)
print(json.dumps({str(n.nameID): n.toUnicode() for n in table.names}))`,
    Buffer.from(NAME.write(windowsNames(names), NO_TABLES)).toString('hex'),
  );
  expect(theirs).toEqual(Object.fromEntries(Object.entries(names)));
});

test('tags of languages of version 1 are read up to the last byte of their list, and what lies outside is passed over', () => {
  // Source: OpenType specification, name, version 1: langTagCount, then length and offset of each tag, UTF-16BE.
  const text = (s: string): number[] => [...s].flatMap((c) => [0, c.charCodeAt(0)]);
  const u16 = (...values: number[]): number[] => values.flatMap((v) => [(v >> 8) & 255, v & 255]);
  const strings = [...text('Plot'), ...text('pl'), ...text('ady')];
  const table = (tags: number[][], said = tags.length): Uint8Array => {
    const storage = 6 + 12 * 2 + 2 + 4 * tags.length;
    const records = [u16(3, 1, 0x8000, 1, 8, 0), u16(3, 1, 0x8001, 1, 8, 0)].flat();
    return Uint8Array.from([...u16(1, 2, storage), ...records, ...u16(said), ...tags.flatMap((t) => u16(...t)), ...strings]);
  };
  const languages = (data: Uint8Array): string[] => readName(data).records.map((r) => r.language);
  expect(
    languages(
      table([
        [4, 8],
        [6, 12],
      ]),
    ),
  ).toEqual(['pl', 'ady']);
  expect(
    languages(
      table([
        [4, 8],
        [6, 14],
      ]),
    ),
  ).toEqual(['pl', '']);
  expect(languages(table([[4, 8]]))).toEqual(['pl', '']);
  // More tags are said than the table has room for.
  const cut = table(
    [
      [4, 8],
      [6, 12],
    ],
    9,
  ).slice(0, 6 + 24 + 2 + 8);
  expect(readName(cut)).toMatchObject({ records: [], skipped: 2 });
});
