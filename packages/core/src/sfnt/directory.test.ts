import { nodeCodec } from '@orderly-glyph/node';
import { readFont } from '../../test/fonts.js';
import { FontError, readFontFile } from './index.js';

// Source: OpenType specification, "Table Directory": offset and length from the beginning of the file.
test('a file may end where its last table ends, and not a byte before', () => {
  const bytes = readFont('gochiHand');
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  const ends = Array.from({ length: view.getUint16(4) }, (_, i) => view.getUint32(12 + 16 * i + 8) + view.getUint32(12 + 16 * i + 12));
  const end = Math.max(...ends);
  expect(readFontFile(bytes.slice(0, end), nodeCodec).fonts.length).toBe(1);
  for (const missing of [1, 3, 4]) {
    const read = (): unknown => readFontFile(bytes.slice(0, end - missing), nodeCodec);
    expect(read).toThrow(FontError);
    expect(read).toThrow(/reaches past the end of the file/);
  }
});
