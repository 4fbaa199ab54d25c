import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { nodeCodec, nodeSubsetter } from '@orderly-glyph/node';
import { faceFrom } from '../../test/face.js';
import { FONTS, patch16, readFont, withTable } from '../../test/fonts.js';
import { BoundsPen, CffOutlines, GlyfOutlines } from '../outline/index.js';
import { glyphOf, Loca, readCmap, HEAD, readFontFile, writeSfnt, type SfntFont } from '../sfnt/index.js';
import { decodeEmbedding, faceKey, inspectFont, leadOrder, readFacts, versionKey } from './index.js';
import { formatRuns, inRuns, toRuns } from '../text/index.js';

const one = (bytes: Uint8Array) => readFacts(bytes, nodeCodec).faces[0]!;
const font = (name: keyof typeof FONTS): SfntFont => readFontFile(readFont(name), nodeCodec).fonts[0]!;

test('what we read of a font equals what fontTools reads, field by field', () => {
  const noto = '/usr/share/fonts/truetype/noto';
  // One in twelve of fonts-noto-core keeps the test short; bench/ compares them all.
  const files = [
    ...Object.values(FONTS),
    ...readdirSync(noto)
      .filter((f, i) => f.endsWith('.ttf') && i % 12 === 0)
      .map((f) => join(noto, f)),
  ];
  const printed = files.map((path) => {
    const { format, faces } = readFacts(new Uint8Array(readFileSync(path)), nodeCodec);
    return {
      path,
      format,
      refused: null,
      faces: faces.map((f) => ({
        ...f,
        ranges: formatRuns(f.runs),
        embedding: { level: f.embedding.level, noSubsetting: f.embedding.noSubsetting, bitmapOnly: f.embedding.bitmapOnly },
        axes: f.axes.map(({ hidden: _, ...axis }) => axis),
      })),
    };
  });
  const compared = spawnSync('/usr/bin/python3', ['bench/compare-fonttools.py'], {
    input: JSON.stringify({ files: printed }),
    encoding: 'utf8',
    maxBuffer: 1 << 26,
  });
  expect(compared.stdout.trim().split('\n')).toEqual([expect.stringMatching(/^3\d faces, 0 disagreements$/)]);
});

test('every meaning of fsType is decoded as the specification has it', () => {
  // OpenType specification, OS/2, fsType: value of bits 0-3 and what it stands for.
  expect(decodeEmbedding(0x0000, 4).level).toBe('installable');
  expect(decodeEmbedding(0x0002, 4).level).toBe('restricted');
  expect(decodeEmbedding(0x0004, 4).level).toBe('preview-print');
  expect(decodeEmbedding(0x0008, 4).level).toBe('editable');
  // Versions 0 to 2: the least restrictive of several bits counts; from 3 on they exclude one another.
  expect(decodeEmbedding(0x000e, 1)).toMatchObject({ level: 'editable', contradictory: false });
  expect(decodeEmbedding(0x0006, 3)).toMatchObject({ level: 'preview-print', contradictory: true });
  expect(decodeEmbedding(0x0302, 4)).toMatchObject({ level: 'restricted', noSubsetting: true, bitmapOnly: true });
  expect(decodeEmbedding(0x0102, 4)).toMatchObject({ noSubsetting: true, bitmapOnly: false });
  // "Applications must ignore bits 4 to 15 when reading a version 0 or 1 table."
  expect(decodeEmbedding(0x0302, 1)).toMatchObject({ noSubsetting: false, bitmapOnly: false });
});

test('every 16-bit value of fsType, in every version of the table, means what its defined bits mean', () => {
  // OpenType specification, OS/2, fsType: bit 0 reserved, 1 restricted, 2 preview and print, 3 editable, 8 no subsetting,
  // 9 bitmap embedding only; all others reserved, and from bit 4 on ignored in versions 0 and 1.
  const LEVEL = ['installable', 'restricted', 'preview-print', 'preview-print', 'editable', 'editable', 'editable', 'editable'];
  const wrong: number[] = [];
  for (const version of [0, 1, 2, 3, 4, 5])
    for (let value = 0; value < 0x10000; value++) {
      const found = decodeEmbedding(value, version);
      const usage = (value >> 1) & 7;
      if (
        found.level !== LEVEL[usage] ||
        found.noSubsetting !== (version >= 2 && Boolean(value & 0x100)) ||
        found.bitmapOnly !== (version >= 2 && Boolean(value & 0x200)) ||
        found.contradictory !== (version >= 3 && ![0, 1, 2, 4].includes(usage))
      )
        wrong.push(value);
    }
  expect(wrong).toEqual([]);
});

test('heights that OS/2 lacks are measured from the outlines', () => {
  for (const name of ['literata', 'serifOtf', 'serifVariableOtf'] as const) {
    const whole = one(readFont(name));
    const os2 = patch16(patch16(font(name).tables.get('OS/2')!, 86, 0), 88, 0);
    const measured = one(withTable(font(name), 'OS/2', os2));
    expect(measured.heightsMeasured).toBe(true);
    // The designer's figures leave out overshoot; what is drawn is within 2% of an em of them.
    expect(Math.abs(measured.xHeight! - whole.xHeight!)).toBeLessThanOrEqual(whole.unitsPerEm * 0.02);
    expect(Math.abs(measured.capHeight! - whole.capHeight!)).toBeLessThanOrEqual(whole.unitsPerEm * 0.02);
  }
});

test.each(['literata', 'khmer', 'serifOtf', 'serifVariableOtf'] as const)('outlines of %s have the bounds fontTools finds', (name) => {
  const source = font(name);
  const { tables } = source;
  const cmap = readCmap(tables.get('cmap')!, faceFrom(font(name)).glyphCount)!;
  const cff = tables.get('CFF2') ?? tables.get('CFF ');
  const outlines = cff
    ? new CffOutlines(cff, tables.has('CFF2'))
    : new GlyfOutlines(tables.get('glyf')!, new Loca(tables.get('loca')!, faceFrom(font(name)).need(HEAD).indexToLocFormat !== 0));
  const ours: Record<string, number[] | null> = {};
  for (const codePoint of [...cmap.codePoints].filter((_, i) => i % 7 === 0)) {
    const pen = new BoundsPen();
    outlines.draw(glyphOf(cmap, codePoint), pen);
    ours[codePoint] = pen.bounds
      ? [pen.bounds.xMin, pen.bounds.yMin, pen.bounds.xMax, pen.bounds.yMax].map((v) => Math.round(v * 10) / 10)
      : null;
  }
  const script = `
import json, sys
from fontTools.ttLib import TTFont
from fontTools.pens.boundsPen import BoundsPen
font = TTFont(${JSON.stringify(FONTS[name])}); cmap = font.getBestCmap(); glyphs = font.getGlyphSet()
def bounds(c):
    pen = BoundsPen(glyphs); glyphs[cmap[c]].draw(pen)
    return pen.bounds and [round(v, 1) for v in pen.bounds]
print(json.dumps({c: bounds(int(c)) for c in json.load(sys.stdin)}))`;
  const theirs = JSON.parse(
    spawnSync('/usr/bin/python3', ['-c', script], { input: JSON.stringify(Object.keys(ours)), encoding: 'utf8' }).stdout,
  ) as Record<string, number[] | null>;
  expect(Object.keys(theirs).length).toBeGreaterThan(15);
  for (const [codePoint, box] of Object.entries(theirs)) {
    if (box === null || ours[codePoint] === null) expect(ours[codePoint]).toEqual(box);
    else box.forEach((value, i) => expect(Math.abs(ours[codePoint]![i]! - value)).toBeLessThanOrEqual(0.2));
  }
});

test('one width is a matter of printable ASCII, and of ten characters at least', async () => {
  const mono = font('notoMono');
  const pitchCodes = (bytes: Uint8Array): string[] =>
    one(bytes)
      .findings.map((f) => f.code)
      .filter((c) => c.endsWith('-pitch'));
  const unmarked = new Uint8Array(mono.tables.get('post')!);
  unmarked.fill(0, 12, 16);
  const plain = withTable(mono, 'post', unmarked);
  expect(pitchCodes(writeSfnt(mono))).toEqual([]);
  expect(pitchCodes(plain)).toEqual(['unmarked-pitch']);
  // Ten letters are enough to judge by, nine are not.
  const cut = async (bytes: Uint8Array, text: string): Promise<Uint8Array> =>
    (await nodeSubsetter()).subset(
      bytes,
      0,
      [...text].map((c) => c.codePointAt(0)!),
    );
  expect(pitchCodes(await cut(plain, 'abcdefghij'))).toEqual(['unmarked-pitch']);
  expect(pitchCodes(await cut(plain, 'abcdefghi'))).toEqual([]);
  // Widths outside of ASCII and those of control signs do not matter, the tilde's does.
  const cmap = readCmap(mono.tables.get('cmap')!, faceFrom(mono).glyphCount)!;
  const widened = (codePoint: number): Uint8Array => {
    const glyph = glyphOf(cmap, codePoint);
    const long = new DataView(mono.tables.get('hhea')!.slice().buffer).getUint16(34);
    const hmtx = new Uint8Array(mono.tables.get('hmtx')!);
    expect(glyph).toBeLessThan(long);
    return withTable(mono, 'hmtx', patch16(hmtx, 4 * glyph, 1234));
  };
  expect(pitchCodes(widened(0x7e))).toEqual(['contradictory-pitch']);
  expect(pitchCodes(widened(0x416))).toEqual([]);
});

describe('what is wrong with a font is said', () => {
  const codes = (bytes: Uint8Array): string[] => one(bytes).findings.map((f) => `${f.severity} ${f.code}`);
  const base = font('gochiHand');
  const cases: [string, () => Uint8Array, string][] = [
    [
      'a checksum that does not fit',
      () => {
        const b = new Uint8Array(readFont('gochiHand'));
        b[b.length - 60] = b[b.length - 60]! ^ 1;
        return b;
      },
      'fault bad-checksum',
    ],
    ['no OS/2 table', () => withTable(base, 'OS/2', null), 'fault missing-table'],
    ['no character map', () => withTable(base, 'cmap', null), 'blocks missing-table'],
    [
      'no outlines',
      () => withTable({ ...base, tables: new Map([...base.tables].filter(([t]) => t !== 'loca')) }, 'glyf', null),
      'blocks no-outlines',
    ],
    ['an em of no size a browser takes', () => withTable(base, 'head', patch16(base.tables.get('head')!, 18, 8)), 'blocks bad-em'],
    [
      'italic in one table and upright in another',
      () => withTable(base, 'head', patch16(base.tables.get('head')!, 44, 2)),
      'fault contradictory-style',
    ],
    ['a weight off the scale', () => withTable(base, 'OS/2', patch16(base.tables.get('OS/2')!, 4, 4000)), 'fault bad-weight'],
    [
      'lines that fall on one another',
      () => withTable(base, 'hhea', patch16(base.tables.get('hhea')!, 4, 0x8000)),
      'fault contradictory-metrics',
    ],
    [
      'one width claimed and not kept',
      () => {
        const post = new Uint8Array(base.tables.get('post')!);
        post[15] = 1;
        return withTable(base, 'post', post);
      },
      'fault contradictory-pitch',
    ],
    [
      'fewer glyphs than its characters need',
      () => withTable(base, 'maxp', patch16(base.tables.get('maxp')!, 4, 60)),
      'blocks dangling-characters',
    ],
    ['widths cut short', () => withTable(base, 'hmtx', base.tables.get('hmtx')!.subarray(0, 40)), 'blocks short-hmtx'],
  ];
  test.each(cases)('%s', (_what, make, expected) => expect(codes(make())).toContain(expected));
  test('side bearings that are missing stop a face from the first byte on', () => {
    // OpenType, hmtx: four bytes for each of numberOfHMetrics, two for each glyph beyond them.
    const count = 30;
    const rest = faceFrom(base).need(HEAD) && new DataView(base.tables.get('maxp')!.slice().buffer).getUint16(4) - count;
    const length = 4 * count + 2 * rest;
    const short = (bytes: number): string[] => {
      const hhea = patch16(base.tables.get('hhea')!, 34, count);
      const fewer = { ...base, tables: new Map(base.tables).set('hhea', hhea) };
      return codes(withTable(fewer, 'hmtx', new Uint8Array(bytes)));
    };
    expect(rest).toBeGreaterThan(10);
    expect(short(length)).not.toContain('blocks short-hmtx');
    expect(short(length - 1)).toContain('blocks short-hmtx');
    expect(short(4 * count + 2)).toContain('blocks short-hmtx');
    expect(short(4 * count - 1)).toContain('blocks short-hmtx');
  });
  test('a sound font has no finding that stops it', () =>
    expect(codes(readFont('serifOtf')).filter((c) => c.startsWith('blocks'))).toEqual([]));
  test('overlapping tables', () => {
    const bytes = new Uint8Array(readFont('gochiHand'));
    const view = new DataView(bytes.buffer);
    const at = (tag: string): number => {
      for (let i = 0; ; i++) if (String.fromCharCode(...bytes.subarray(12 + 16 * i, 16 + 16 * i)) === tag) return 12 + 16 * i;
    };
    view.setUint32(at('name') + 8, view.getUint32(at('glyf') + 8) + 4);
    expect(codes(bytes)).toContain('blocks overlapping-tables');
  });
});

test('a box that says nothing was found is no fault, any other that is inside out is', () => {
  const whole = font('gochiHand');
  const glyf = whole.tables.get('glyf')!;
  const start = new Loca(whole.tables.get('loca')!, faceFrom(whole).need(HEAD).indexToLocFormat !== 0).offset(11);
  const dir = mkdtempSync(join(tmpdir(), 'glyph-'));
  const withBox = (box: readonly number[]): [boolean, number] => {
    const bytes = withTable(
      whole,
      'glyf',
      box.reduce((table, value, i) => patch16(table, start + 2 + 2 * i, value & 0xffff), glyf),
    );
    writeFileSync(join(dir, 'font.ttf'), bytes);
    const found = inspectFont(bytes, nodeCodec).faces[0]!.findings;
    return [found.some((f) => f.code === 'bad-glyph'), spawnSync('ots-sanitize', [join(dir, 'font.ttf')]).status!];
  };
  expect(withBox([32767, 32767, -32767, -32767])).toEqual([false, 0]);
  expect(withBox([549, -258, 164, 1196])).toEqual([true, 1]);
  rmSync(dir, { recursive: true });
});

test('what OpenType Sanitizer accepts of fonts-noto-core, we mark as refused nowhere', () => {
  const dir = mkdtempSync(join(tmpdir(), 'glyph-'));
  for (const name of ['notoSans', 'khmer', 'notoMono', 'didot', 'scheherazade'] as const) {
    writeFileSync(join(dir, 'font.ttf'), readFont(name));
    expect(spawnSync('ots-sanitize', [join(dir, 'font.ttf')]).status).toBe(0);
    expect(one(readFont(name)).findings.filter((f) => f.severity === 'blocks')).toEqual([]);
  }
  rmSync(dir, { recursive: true });
});

test('files of one face fold together, and the better one leads', () => {
  expect(faceKey(one(readFont('serifOtf')), 'a.otf')).toBe(faceKey(one(readFont('serifTtf')), 'b.ttf'));
  expect(faceKey(one(readFont('serifOtf')), 'a')).not.toBe(faceKey(one(readFont('serifVariable')), 'a'));
  expect(versionKey('Version 1.003;PS 1')).toBe('1.3');
  // Common practice: OTF before TTF before web files; a file with fewer characters never leads.
  const files = [
    { format: 'woff2', codePoints: 900 },
    { format: 'ttf', codePoints: 900 },
    { format: 'otf', codePoints: 900 },
    { format: 'otf', codePoints: 200 },
  ] as const;
  expect([...files].sort(leadOrder).map((f) => f.format + f.codePoints)).toEqual(['otf900', 'ttf900', 'woff2900', 'otf200']);
});

test('runs of code points', () => {
  const runs = toRuns([0x20, 0x21, 0x22, 0xa0, 0x1f600]);
  expect(formatRuns(runs)).toEqual(['U+0020-0022', 'U+00A0', 'U+1F600']);
  expect([0x1f, 0x20, 0x22, 0x23, 0xa0, 0x1f600].map((c) => inRuns(runs, c))).toEqual([false, true, true, false, true, true]);
});
