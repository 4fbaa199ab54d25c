import { changedSinceReview } from '../../test/reviewed.js';
import { outcome, smallFace } from '../../test/small-face.js';
import type { Face } from '../font/index.js';
import { bestName, readName } from './tables/name.js';
import { readGlyph, writeGlyph } from './tables/glyf.js';
import { restoreGlyf, transformGlyf } from './woff2/glyf.js';
import {
  checkCmapSubtables,
  CMAP,
  colorTables,
  detectFormat,
  glyphOf,
  HEAD,
  Hmtx,
  locaFormatFor,
  MarkAnchors,
  MAXP,
  readCmap,
  readFontFile,
  readLayoutTags,
  readSubstitutions,
  TABLES,
  tableChecksum,
  writeCollection,
  writeGlyphs,
  writeSfnt,
  writeWoff,
  writeWoff2,
  type CmapTable,
  type Codec,
  type Glyph,
  type OpenTables,
  type Table,
} from './index.js';

const FACES: [string, Face][] = [
  ['plain TrueType', smallFace('literata', 'Áfi1')],
  ['a hand', smallFace('gochiHand', 'aÀ;')],
  ['variable TrueType', smallFace('serifVariable', 'Ái')],
  ['CFF', smallFace('serifOtf', 'Áffi1')],
  ['CFF2', smallFace('serifVariableOtf', 'Áb')],
  ['Devanagari', smallFace('devanagari', 'क्षि')],
  ['Arabic', smallFace('scheherazade', 'بِ')],
];

/** A table with one byte changed or with its end cut off: all of its beginning, and places all over it. */
function* damaged(data: Uint8Array, most: number): Generator<Uint8Array> {
  const step = Math.max(1, Math.ceil(data.length / most));
  for (let at = 0; at < data.length; at += at < most ? 1 : step) {
    const copy = data.slice();
    const was = copy[at]!;
    copy[at] = [was + 1, 0, was ^ 0x80, 0xff, was - 1, was ^ 2][at % 6]!;
    yield copy;
  }
  for (let cut = 1; cut <= Math.min(data.length, 12); cut++) yield data.slice(0, data.length - cut);
  for (let length = 0; length < data.length; length += Math.max(1, Math.ceil(data.length / 24))) yield data.slice(0, length);
}

/** The other tables of a face, beside one that is damaged. */
const beside = (face: Face): OpenTables => ({
  need: (t) => face.need(t),
  table: (t) => face.table(t),
  has: (t) => face.has(t),
  bytes: (t) => face.bytes(t),
});

test.each(FACES)('%s: every table, whole, damaged and written again, comes to what it did when last reviewed', (name, face) => {
  const tables = beside(face);
  const entries = TABLES.filter((t) => face.has(t.tag)).map((table) => {
    const data = face.bytes(table.tag)!;
    const again = (bytes: Uint8Array): unknown =>
      outcome(() => {
        const read = table.read(bytes, tables);
        return [table.tag === 'glyf' ? null : read, table.tag === 'glyf' || table.tag === 'loca' ? null : table.write(read, tables)];
      });
    return [`${name} ${table.tag}`, [again(data), [...damaged(data, 90)].map(again)]] as const;
  });
  expect(entries.length).toBeGreaterThan(8);
  expect(changedSinceReview(`tables-${name.replace(/ /g, '-').toLowerCase()}`, entries)).toEqual([]);
});

test('what is read of parts of tables comes to what it did when last reviewed', () => {
  const readers: [string, (data: Uint8Array, face: Face) => unknown][] = [
    ['cmap', (d) => readCmap(d, 60)],
    ['cmap', (d) => checkCmapSubtables(d, 60)],
    ['name', (d) => [readName(d), Array.from({ length: 20 }, (_, id) => bestName(readName(d).records, id))]],
    ['hmtx', (d) => Array.from({ length: 8 }, (_, g) => new Hmtx(d, 5).advanceWidth(g))],
    ['GSUB', (d) => [readSubstitutions(d), readLayoutTags(d, 'GSUB')]],
    ['GPOS', (d) => readLayoutTags(d, 'GPOS')],
    ['GPOS', (d, face) => ((a) => range(face).map((b) => range(face).map((m) => a.offsets(b, m))))(new MarkAnchors(d))],
  ];
  const range = (face: Face): number[] => Array.from({ length: Math.min(12, face.need(MAXP).numGlyphs) }, (_, g) => g);
  const entries = FACES.flatMap(([name, face]) =>
    readers.flatMap(([tag, read], i) =>
      face.has(tag)
        ? [
            [
              `${name} ${tag} ${i}`,
              [...damaged(face.bytes(tag)!, tag === 'cmap' || tag === 'name' ? 120 : 50)].map((d) => outcome(() => read(d, face))),
            ] as const,
          ]
        : [],
    ),
  );
  expect(changedSinceReview('parts-of-tables', entries)).toEqual([]);
});

/** One list of every format that maps characters, as our own writer makes it, and two that are kept as they are. */
const pairs = (...runs: [number, number, number][]) => {
  const all = runs.flatMap(([first, last, glyph]) =>
    Array.from({ length: last - first + 1 }, (_, i): [number, number] => [first + i, glyph + i]),
  );
  return { codePoints: Uint32Array.from(all, ([c]) => c), glyphs: Uint16Array.from(all, ([, g]) => g) };
};
const MIXED = pairs(
  [0x20, 0x22, 1],
  [0x41, 0x46, 20],
  [0x47, 0x47, 3],
  [0x48, 0x4b, 9],
  [0x61, 0x61, 40],
  [0x62, 0x63, 30],
  [0x64, 0x68, 33],
);
const MAPS: [string, CmapTable['subtables'][number]][] = [
  ['0', { format: 0, language: 0, ...pairs([0x20, 0x7e, 3], [0xff, 0xff, 200]) }],
  ['4', { format: 4, language: 3, ...MIXED }],
  ['6', { format: 6, language: 0, ...MIXED }],
  ['10', { format: 10, language: 0, ...pairs([0x1d400, 0x1d408, 5]) }],
  [
    '12',
    {
      format: 12,
      language: 70000,
      ...pairs([0x41, 0x45, 5], [0x47, 0x49, 11], [0x4a, 0x4a, 50], [0x1f600, 0x1f603, 20], [0x10fffe, 0x10ffff, 30]),
    },
  ],
  ['13', { format: 13, language: 0, codePoints: Uint32Array.of(0x41, 0x42, 0x43, 0x50, 0x51), glyphs: Uint16Array.of(7, 7, 7, 7, 8) }],
  ['2', { format: 2, raw: Uint8Array.of(0, 2, 0, 8, 0, 0, 1, 2) }],
  ['8', { format: 8, raw: Uint8Array.of(0, 8, 0, 0, 0, 0, 0, 14, 0, 0, 0, 0, 1, 2) }],
  [
    '14',
    {
      format: 14,
      varSelectors: [
        { varSelector: 0xfe00, defaultRuns: [0x41, 0x43, 0x4e00, 0x4f05], nonDefault: null },
        {
          varSelector: 0xe0100,
          defaultRuns: null,
          nonDefault: [
            { unicodeValue: 0x20000, glyphID: 700 },
            { unicodeValue: 0x20001, glyphID: 2 },
          ],
        },
      ],
    },
  ],
];
test('character maps of every format, whole and damaged, come to what they did when last reviewed', () => {
  const none = { table: () => null, need: () => null } as unknown as OpenTables;
  const entries = MAPS.flatMap(([name, subtable]) =>
    [
      [3, 10],
      [3, 1],
      [3, 0],
      [0, 3],
      [1, 0],
    ].map(([platformID, encodingID]) => {
      const records = [{ platformID: platformID!, encodingID: encodingID!, subtable: 0 }];
      const data = CMAP.write(
        { version: 0, encodingRecords: [...records, { platformID: 0, encodingID: 5, subtable: 0 }], subtables: [subtable] },
        none,
      );
      const looked = (d: Uint8Array): unknown => {
        const map = readCmap(d, 220);
        return [
          map,
          map && [0x20, 0x41, 0x4b, 0x68, 0xff, 0x1f603, 0x10ffff, 0xc4].map((c) => glyphOf(map, c)),
          checkCmapSubtables(d, 220),
        ];
      };
      const seen = [data, ...(platformID === 3 && encodingID === 10 ? damaged(data, 160) : [])].map((d) => [
        outcome(() => looked(d)),
        outcome(() => CMAP.read(d, none)),
      ]);
      return [`${name} ${platformID}/${encodingID}`, [data, seen]] as const;
    }),
  );
  expect(changedSinceReview('cmap', entries)).toEqual([]);
});

/** Containers whose contents are stored as they are, so that a change of one byte changes what is in them and nothing else. */
const stored: Codec = {
  inflate: (data, most) => data.slice(0, most),
  deflate: (data) => Uint8Array.from([...data].slice(0, Math.max(1, data.length - 1))),
  brotliDecompress: (data, most) => data.slice(0, most),
  brotliCompress: (data) => data.slice(),
};
test('containers, whole and damaged, come to what they did when last reviewed', () => {
  const entries = FACES.slice(0, 4).flatMap(([name, { font }]) => {
    const files: [string, Uint8Array][] = [
      ['sfnt', writeSfnt(font)],
      ['collection', writeCollection([font, font])],
      ['WOFF', writeWoff(font, stored)],
      ['WOFF2', writeWoff2(font, stored)],
    ];
    return files.map(([kind, bytes]) => {
      const seen = [bytes, ...damaged(bytes, kind === 'WOFF2' ? 500 : 300)].map((d) =>
        outcome(() => {
          const file = readFontFile(d, stored);
          return [
            detectFormat(d),
            file.format,
            file.fonts.map((f) => [
              f.flavor,
              [...f.tables].map(([tag, t]) => [tag, t.length, tableChecksum(t)]),
              f.faults,
              colorTables(f.tables),
            ]),
          ];
        }),
      );
      return [`${name} ${kind}`, seen] as const;
    });
  });
  expect(changedSinceReview('containers', entries)).toEqual([]);
});

test('glyphs alone and as WOFF2 packs them, whole and damaged, come to what they did when last reviewed', () => {
  const glyf = TABLES.find((t) => t.tag === 'glyf')! as unknown as Table<Glyph[]>;
  const entries = FACES.filter(([, face]) => face.has('glyf')).flatMap(([name, face]) => {
    const glyphs = face.need(glyf);
    const { glyf: data, offsets } = writeGlyphs(glyphs);
    const one = glyphs.flatMap((g, i) => {
      if (!g) return [];
      const bytes = data.slice(offsets[i]!, offsets[i + 1]!);
      const again = (d: Uint8Array): unknown => outcome(() => ((read) => [read, read && writeGlyph(read)])(readGlyph(d)));
      return [[`${name} ${i}`, [again(bytes), [...damaged(bytes, 40)].map(again)]] as const];
    });
    const long = face.need(HEAD).indexToLocFormat === 1;
    const packed = transformGlyf(face.bytes('glyf')!, face.bytes('loca')!, face.need(MAXP).numGlyphs, long);
    const all = [packed, ...damaged(packed, 300)].map((d) => outcome(() => restoreGlyf(d)));
    const broken = [...damaged(face.bytes('glyf')!, 200)].map((d) =>
      outcome(() => transformGlyf(d, face.bytes('loca')!, face.need(MAXP).numGlyphs, long)),
    );
    const off = [...damaged(face.bytes('loca')!, 200)].map((d) =>
      outcome(() => transformGlyf(face.bytes('glyf')!, d, face.need(MAXP).numGlyphs, long)),
    );
    return [...one, [`${name} packed`, [packed, all, broken, off, locaFormatFor(offsets)]] as const];
  });
  expect(changedSinceReview('glyphs', entries)).toEqual([]);
});
