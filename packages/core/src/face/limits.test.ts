import { nodeCodec } from '@orderly-glyph/node';
import { patch16, readFont, withTable } from '../../test/fonts.js';
import { readFontFile } from '../sfnt/index.js';
import { readFacts } from './facts.js';
import { leadOrder } from './identity.js';

const font = readFontFile(readFont('gochiHand'), nodeCodec).fonts[0]!;
const codes = (bytes: Uint8Array): string[] => readFacts(bytes, nodeCodec).faces[0]!.findings.map((f) => f.code);

test.each([
  [15, true],
  [16, false],
  [16384, false],
  [16385, true],
])('an em of %i units blocks a face: %s', (unitsPerEm, blocks) => {
  // Source: OpenType specification, head, unitsPerEm: 16 to 16384; at offset 18.
  expect(codes(withTable(font, 'head', patch16(font.tables.get('head')!, 18, unitsPerEm))).includes('bad-em')).toBe(blocks);
});

test('a gap below nothing counts as it is when line metrics are compared', () => {
  // Source: OpenType specification, hhea.lineGap (offset 8) and OS/2.sTypoLineGap (72), USE_TYPO_METRICS (fsSelection bit 7, 62).
  const hhea = font.tables.get('hhea')!;
  const view = new DataView(hhea.buffer, hhea.byteOffset);
  const made = (hheaGap: number, typoGap: number): string[] => {
    let os2 = font.tables.get('OS/2')!;
    for (const [offset, value] of [
      [0, 4],
      [62, 0xc0],
      [68, view.getInt16(4)],
      [70, view.getInt16(6)],
      [72, typoGap],
    ] as const)
      os2 = patch16(os2, offset, value);
    const changed = { ...font, tables: new Map(font.tables).set('OS/2', os2) };
    return codes(withTable(changed, 'hhea', patch16(hhea, 8, hheaGap)));
  };
  expect(made(-200, -200)).not.toContain('contradictory-metrics');
  expect(made(200, -200)).toContain('contradictory-metrics');
  expect(made(-200, 200)).toContain('contradictory-metrics');
});

test('a file leads by what it writes when that is more than two in a hundred characters, else by its format', () => {
  const order = (codePoints: number): number => Math.sign(leadOrder({ format: 'otf', codePoints }, { format: 'ttf', codePoints: 10_000 }));
  expect([10_000, 9_800, 9_799, 9_710, 10_201].map(order)).toEqual([-1, -1, 1, 1, -1]);
  // The other way round the poorer format leads only when it has more.
  const web = (codePoints: number): number => Math.sign(leadOrder({ format: 'woff', codePoints }, { format: 'otf', codePoints: 10_000 }));
  expect([10_000, 10_204, 10_205].map(web)).toEqual([1, 1, -1]);
});
