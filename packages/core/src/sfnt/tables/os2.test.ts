import { faceOf } from '../../../test/face.js';
import { patch16, readFont } from '../../../test/fonts.js';
import { OS2 } from '../index.js';

// Source: OpenType specification, OS/2: version 0 has 78 bytes, version 1 adds the code pages (86), version 2 the heights, the
// default and the break character and the context (96), version 5 the optical sizes (100).
test.each([
  [0, 78, { ulCodePageRange1: null, sxHeight: null, sCapHeight: null, usMaxContext: null, usLowerOpticalPointSize: null }],
  [1, 86, { ulCodePageRange1: expect.any(Number), sxHeight: null, sCapHeight: null, usMaxContext: null, usLowerOpticalPointSize: null }],
  [2, 96, { ulCodePageRange1: expect.any(Number), sxHeight: 431, sCapHeight: 612, usMaxContext: 3, usLowerOpticalPointSize: null }],
  [4, 96, { ulCodePageRange1: expect.any(Number), sxHeight: 431, sCapHeight: 612, usMaxContext: 3, usLowerOpticalPointSize: null }],
  [5, 100, { sxHeight: 431, sCapHeight: 612, usMaxContext: 3, usLowerOpticalPointSize: 120, usUpperOpticalPointSize: 480 }],
])('version %i of OS/2 has %i bytes and just its fields, read and written', (version, length, fields) => {
  const face = faceOf(readFont('gochiHand'));
  let bytes: Uint8Array = new Uint8Array(100);
  bytes.set(face.bytes('OS/2')!.subarray(0, 96));
  for (const [offset, value] of [
    [0, version],
    [86, 431],
    [88, 612],
    [94, 3],
    [96, 120],
    [98, 480],
  ] as const)
    bytes = patch16(bytes, offset, value);
  bytes = bytes.slice(0, length);
  const read = OS2.read(bytes, face);
  expect(read).toMatchObject({ version, ...fields });
  expect(Buffer.compare(OS2.write(read, face), bytes)).toBe(0);
});

test('bytes beyond those of its version are no fields', () => {
  const face = faceOf(readFont('gochiHand'));
  const bytes = patch16(patch16(face.bytes('OS/2')!.slice(0, 96), 0, 1), 86, 431);
  expect(OS2.read(bytes, face)).toMatchObject({ version: 1, sxHeight: null, sCapHeight: null, usMaxContext: null });
});
