import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { nodeCodec } from '@orderly-glyph/node';
import { collection, FONTS, patch16, random, readFont, withTable } from '../../test/fonts.js';
import { convertTo, proveSame } from '../../test/face.js';
import { inspectFont, readFacts } from '../face/index.js';
import { detectFormat, FontError, readFontFile, tableChecksum, writeSfnt, writeWoff2 } from './index.js';
import { locaOffsets } from './woff2/glyf.js';

const dir = mkdtempSync(join(tmpdir(), 'glyph-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));

const file = (name: string, bytes: Uint8Array): string => {
  const path = join(dir, name);
  writeFileSync(path, bytes);
  return path;
};
const run = (command: string, ...args: string[]) => spawnSync(command, args, { encoding: 'utf8' });
const names = ['literata', 'gochiHand', 'devanagari', 'serifOtf', 'serifVariable', 'serifVariableOtf', 'notoMono', 'khmer'] as const;

test('the checksum of a table is the sum of its 32-bit words, the last one padded', () => {
  // Worked by hand from the definition in the OpenType specification, "Calculating checksums".
  expect(tableChecksum(Uint8Array.of(0, 0, 0, 1, 0xff, 0xff, 0xff, 0xff))).toBe(0);
  expect(tableChecksum(Uint8Array.of(0, 0, 0, 1, 0x80))).toBe(0x80000001);
});

test.each(names)('%s, a well-formed font, is written as it was read, byte for byte', (name) => {
  const bytes = readFont(name);
  expect(Buffer.compare(Buffer.from(writeSfnt(readFontFile(bytes, nodeCodec).fonts[0]!)), Buffer.from(bytes))).toBe(0);
});

test.each(names)('%s goes to WOFF2 and WOFF and back the same, and reference programs accept it', (name) => {
  const bytes = readFont(name);
  for (const to of ['woff2', 'woff'] as const) {
    const packed = convertTo(bytes, to);
    expect(detectFormat(packed)).toBe(to);
    expect(proveSame(bytes, packed)).toMatchObject({ equal: true, differences: [] });
    // OpenType Sanitizer (Debian opentype-sanitizer), which browsers build on.
    const ots = run('ots-sanitize', file(`${name}.${to}`, packed));
    expect(`${ots.status} ${ots.stderr}`).toMatch(/^0/);
  }
  // Debian's woff2 programs, the format's reference implementation, read ours and we read theirs.
  expect(run('woff2_decompress', join(dir, `${name}.woff2`)).status).toBe(0);
  expect(proveSame(bytes, readFileSync(join(dir, `${name}.ttf`))).differences).toEqual([]);
  expect(run('woff2_compress', file(`${name}-in.ttf`, bytes)).status).toBe(0);
  expect(proveSame(bytes, readFileSync(join(dir, `${name}-in.woff2`))).differences).toEqual([]);
});

test('a WOFF unpacks to the very bytes it was made from', () => {
  for (const name of ['literata', 'serifOtf'] as const) {
    const bytes = readFont(name);
    expect(Buffer.compare(Buffer.from(convertTo(convertTo(bytes, 'woff'), name === 'literata' ? 'ttf' : 'otf')), Buffer.from(bytes))).toBe(
      0,
    );
  }
});

test('a difference in one outline or one table is not proved equal', () => {
  const bytes = readFont('gochiHand');
  const font = readFontFile(bytes, nodeCodec).fonts[0]!;
  const glyf = new Uint8Array(font.tables.get('glyf')!);
  glyf[glyf.length - 40] = glyf[glyf.length - 40]! ^ 0x3f;
  expect(proveSame(bytes, withTable(font, 'glyf', glyf)).equal).toBe(false);
  expect(proveSame(bytes, withTable(font, 'OS/2', patch16(font.tables.get('OS/2')!, 4, 500))).differences).toEqual([
    'The OS/2 table differs.',
  ]);
  expect(proveSame(bytes, withTable(font, 'GPOS', null)).differences).toEqual(['The GPOS table is gone.']);
});

test('the input of a conversion is left as it was', () => {
  const bytes = Buffer.from(readFont('notoMono'));
  const before = Buffer.from(bytes);
  convertTo(bytes, 'woff2');
  expect(bytes.equals(before)).toBe(true);
});

test('the overlap flag of a glyph survives WOFF2', () => {
  const font = readFontFile(readFont('gochiHand'), nodeCodec).fonts[0]!;
  const view = (data: Uint8Array): DataView => new DataView(data.buffer, data.byteOffset, data.length);
  /** Where the first flag of the first simple glyph lies. */
  const firstFlag = ({ tables }: typeof font): number => {
    const loca = view(tables.get('loca')!);
    const glyf = view(tables.get('glyf')!);
    const long = tables.get('head')![51] === 1;
    for (let i = 0; ; i++) {
      const start = long ? loca.getUint32(4 * i) : 2 * loca.getUint16(2 * i);
      const end = long ? loca.getUint32(4 * i + 4) : 2 * loca.getUint16(2 * i + 2);
      if (end <= start || glyf.getInt16(start) <= 0) continue;
      const at = start + 10 + 2 * glyf.getInt16(start);
      return at + 2 + glyf.getUint16(at);
    }
  };
  const glyf = new Uint8Array(font.tables.get('glyf')!);
  const at = firstFlag(font);
  expect(glyf[at]! & 0x40).toBe(0);
  glyf[at] = glyf[at]! | 0x40;
  const back = readFontFile(convertTo(withTable(font, 'glyf', glyf), 'woff2'), nodeCodec).fonts[0]!;
  expect(back.tables.get('glyf')![firstFlag(back)]! & 0x40).toBe(0x40);
});

test('the box that a glyph states survives WOFF2, right or not', () => {
  const font = readFontFile(readFont('gochiHand'), nodeCodec).fonts[0]!;
  const first = (loca: Uint8Array): number => {
    const offsets = locaOffsets(loca, font.tables.get('head')![51] === 1);
    return offsets.findIndex((at, i) => offsets[i + 1]! > at);
  };
  const glyph = first(font.tables.get('loca')!);
  // WOFF 2.0, 5.1: a box that the points do not give is stored, whichever of its four sides is off.
  for (const side of [2, 4, 6, 8]) {
    const glyf = new Uint8Array(font.tables.get('glyf')!);
    const at = locaOffsets(font.tables.get('loca')!, font.tables.get('head')![51] === 1)[glyph]! + side;
    const view = new DataView(glyf.buffer);
    view.setInt16(at, view.getInt16(at) + 7);
    const back = readFontFile(convertTo(withTable(font, 'glyf', glyf), 'woff2'), nodeCodec).fonts[0]!;
    const there = locaOffsets(back.tables.get('loca')!, back.tables.get('head')![51] === 1)[glyph]!;
    const box = (data: Uint8Array, offset: number): number[] => [...data.subarray(offset + 2, offset + 10)];
    expect(box(back.tables.get('glyf')!, there)).toEqual(box(glyf, at - side));
  }
});

test('offsets of glyphs are read in both widths, and half an offset at the end is none', () => {
  // OpenType specification, loca: short offsets are stored halved.
  expect([...locaOffsets(Uint8Array.of(0, 0, 0, 5, 1, 0, 9), false)]).toEqual([0, 10, 512]);
  expect([...locaOffsets(Uint8Array.of(0, 0, 0, 5, 0, 1, 0, 0, 9, 9, 9), true)]).toEqual([5, 65_536]);
});

test('every font of a collection is read, and one can be taken out', () => {
  const ttc = collection([readFont('gochiHand'), readFont('notoMono')]);
  const facts = readFacts(ttc, nodeCodec);
  expect(facts.format).toBe('ttc');
  expect(facts.faces.map((f) => f.family)).toEqual(['Gochi Hand', 'Noto Sans Mono']);
  expect(proveSame(readFont('notoMono'), convertTo(ttc, 'woff2', 1)).equal).toBe(true);
  expect(() => convertTo(ttc, 'woff2', 2)).toThrow(FontError);
});

test('a WOFF2 collection is read', () => {
  const ttc = file('two.ttc', collection([readFont('gochiHand'), readFont('notoMono')]));
  // Made by woff2_compress from a collection whose contents fontTools confirms.
  const read = run(
    '/usr/bin/python3',
    '-c',
    `from fontTools.ttLib import TTCollection; print([f['name'].getDebugName(1) for f in TTCollection(${JSON.stringify(ttc)}).fonts])`,
  );
  expect(read.stdout.trim()).toBe("['Gochi Hand', 'Noto Sans Mono']");
  expect(run('woff2_compress', ttc).status).toBe(0);
  const packed = readFileSync(join(dir, 'two.woff2'));
  expect(readFacts(packed, nodeCodec).faces.map((f) => f.family)).toEqual(['Gochi Hand', 'Noto Sans Mono']);
});

test('outlines of the other kind are refused in words', () => {
  expect(() => convertTo(readFont('literata'), 'otf')).toThrow(/have to be converted first/);
  expect(() => convertTo(readFont('serifOtf'), 'ttf')).toThrow(/have to be converted first/);
});

test('a glyph that cannot be transformed is still packed, as it is', () => {
  const font = readFontFile(readFont('gochiHand'), nodeCodec).fonts[0]!;
  const loca = new Uint8Array(font.tables.get('loca')!);
  const broken = { ...font, tables: new Map(font.tables).set('loca', loca.subarray(0, loca.length - 8)) };
  const back = readFontFile(writeWoff2(broken, nodeCodec), nodeCodec).fonts[0]!;
  expect(Buffer.compare(Buffer.from(back.tables.get('glyf')!), Buffer.from(font.tables.get('glyf')!))).toBe(0);
});

test('without a whole head or maxp there is no WOFF2, and the reason is said', () => {
  const font = readFontFile(readFont('gochiHand'), nodeCodec).fonts[0]!;
  for (const [tag, least] of [
    ['head', 54],
    ['maxp', 6],
  ] as const) {
    const table = font.tables.get(tag)!;
    const cut = (length: number | null) => {
      const tables = new Map(font.tables);
      if (length === null) tables.delete(tag);
      else tables.set(tag, table.slice(0, length));
      return () => writeWoff2({ ...font, tables }, nodeCodec);
    };
    for (const length of [null, 0, least - 1]) expect(cut(length)).toThrow(`The font has no ${tag} table`);
    expect(cut(least)).not.toThrow();
  }
});

const refusals: [string, () => Uint8Array, string][] = [
  ['nothing', () => new Uint8Array(0), 'empty'],
  ['a text', () => new TextEncoder().encode('<!doctype html><p>Not found'), 'text-not-font'],
  ['a table with tabs and line ends', () => new TextEncoder().encode('a\tb\r\nc ~'), 'text-not-font'],
  ['a text with a delete sign in it', () => new TextEncoder().encode('plain \x7f words'), 'not-a-font'],
  ['a text with a control sign in it', () => new TextEncoder().encode('plain \x0b words'), 'not-a-font'],
  ['a picture', () => Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10), 'not-a-font'],
  ['half a TTF', () => readFont('literata').subarray(0, 60_000), 'truncated'],
  ['half a WOFF', () => readFont('serifWoff').subarray(0, 60_000), 'truncated'],
  ['half a WOFF2', () => readFont('serifWoff2').subarray(0, 60_000), 'truncated'],
  ['four bytes', () => Uint8Array.of(0, 1, 0, 0), 'truncated'],
  ['a collection of millions', () => Uint8Array.of(0x74, 0x74, 0x63, 0x66, 0, 1, 0, 0, 0, 0xff, 0xff, 0xff), 'too-many-faces'],
  ['a font without head', () => withTable(readFontFile(readFont('gochiHand'), nodeCodec).fonts[0]!, 'head', null), 'missing-table'],
];
test.each(refusals)('%s is refused', (_what, make, code) => {
  expect(() => readFacts(make(), nodeCodec)).toThrow(expect.objectContaining({ name: 'FontError', code }));
});

test('a WOFF that claims to inflate to more than it does is refused before it is unpacked', () => {
  const bytes = new Uint8Array(readFont('serifWoff'));
  new DataView(bytes.buffer).setUint32(44 + 8 + 4, 0x7fffffff);
  expect(() => readFontFile(bytes, nodeCodec)).toThrow(expect.objectContaining({ code: 'too-large' }));
});

/** Flips bytes, cuts off the end, or plants wild counts and offsets. */
function mutate(original: Uint8Array, next: () => number): Uint8Array {
  const bytes = new Uint8Array(original);
  const view = new DataView(bytes.buffer);
  const kind = Math.floor(next() * 4);
  if (kind === 0) return bytes.subarray(0, Math.floor(next() * bytes.length));
  const area = next() < 0.5 ? Math.min(bytes.length, 600) : bytes.length;
  for (let n = 1 + Math.floor(next() * 12); n > 0; n--) {
    const at = Math.floor(next() * (area - 4));
    if (kind === 1) bytes[at] = Math.floor(next() * 256);
    else if (kind === 2) view.setUint32(at, [0xffffffff, 0x7fffffff, 0x80000000, 0x10000][Math.floor(next() * 4)]!);
    else view.setUint16(at, [0xffff, 0x7fff, 0x8000, 0][Math.floor(next() * 4)]!);
  }
  return bytes;
}

test('2,000 damaged fonts are each read or refused within a second and 256 MiB', () => {
  const next = random(20261125);
  const originals = (
    [
      'literata',
      'gochiHand',
      'devanagari',
      'didot',
      'serifOtf',
      'serifVariableOtf',
      'serifWoff',
      'serifWoff2',
      'notoMono',
      'khmer',
    ] as const
  ).map(readFont);
  let read = 0;
  let slowest = 0;
  global.gc?.();
  const before = process.memoryUsage().rss;
  let most = 0;
  for (let i = 0; i < 2000; i++) {
    const bytes = mutate(originals[i % originals.length]!, next);
    const once = (): number => {
      const start = performance.now();
      try {
        expect(inspectFont(bytes, nodeCodec).faces.length).toBeGreaterThan(0);
        read++;
      } catch (error) {
        // Anything else than our own refusal is a defect.
        if (!(error instanceof FontError)) throw new Error(`Mutation ${i} raised ${String(error)}`, { cause: error });
        expect(error.message).toMatch(/^[A-Z“].*[.:]$/s);
      }
      return performance.now() - start;
    };
    // A font that takes too long does so every time; a busy machine does not.
    let took = once();
    for (let again = 0; took >= 1000 && again < 3; again++) took = Math.min(took, once());
    slowest = Math.max(slowest, took);
    if (i % 50 === 0) most = Math.max(most, process.memoryUsage().rss);
  }
  expect(read).toBeGreaterThan(200);
  expect(slowest).toBeLessThan(1000);
  expect(most - before).toBeLessThan(256 * 1024 * 1024);
});

test('fonts that a browser refuses are told so', () => {
  // Against OpenType Sanitizer over damaged copies: whatever it refuses must be refused or marked by us.
  const next = random(7);
  const originals = (['gochiHand', 'notoMono', 'serifOtf', 'devanagari'] as const).map(readFont);
  let refusedByBoth = 0;
  const missed: string[] = [];
  for (let i = 0; i < 160; i++) {
    const bytes = mutate(originals[i % originals.length]!, next);
    const ots = run('ots-sanitize', file('mutated.ttf', bytes));
    // GSUB, GPOS and GDEF do not count: Chromium hands them to HarfBuzz, which steps around what is broken.
    if (ots.status === 0 || /ERROR: (Layout|GSUB|GPOS|GDEF)/.test(ots.stderr)) continue;
    let ours = true;
    try {
      ours = inspectFont(bytes, nodeCodec).faces.some((f) => f.findings.some((x) => x.severity === 'blocks'));
    } catch {
      ours = true;
    }
    if (ours) refusedByBoth++;
    else missed.push(`${i}: ${ots.stderr.split('\n').slice(0, 2).join(' | ')}`);
  }
  expect(refusedByBoth).toBeGreaterThan(60);
  expect(missed).toEqual([]);
});

test('all test fonts are there', () => {
  for (const path of Object.values(FONTS)) expect(() => readFileSync(path)).not.toThrow();
});
