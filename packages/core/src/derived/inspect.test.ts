import { nodeCodec } from '../../../node/src/index.js';
import { readFont } from '../../test/fonts.js';
import type { Codec } from '../sfnt/index.js';
import { DERIVED, inspect } from './index.js';

/** A codec that counts what it unpacks. */
function counting(): { codec: Codec; inflated: number[]; brotli: number[] } {
  const inflated: number[] = [];
  const brotli: number[] = [];
  return {
    inflated,
    brotli,
    codec: {
      ...nodeCodec,
      inflate: (data, most) => (inflated.push(data.length), nodeCodec.inflate(data, most)),
      brotliDecompress: (data, most) => (brotli.push(data.length), nodeCodec.brotliDecompress(data, most)),
    },
  };
}

test('every fact of a WOFF comes from unpacking each of its tables once', () => {
  const bytes = readFont('serifWoff');
  const { codec, inflated, brotli } = counting();
  const { faces } = inspect(bytes, codec, { fileName: 'a.woff' });
  expect(Object.keys(faces[0]!).sort()).toEqual(DERIVED.map((d) => d.id).sort());
  // Packed tables by its own directory. Source: WOFF 1.0 (W3C), 4: compLength and origLength of each entry of 20 bytes.
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  const packed = Array.from({ length: view.getUint16(12) }, (_, i) => 44 + 20 * i)
    .filter((at) => view.getUint32(at + 8) !== view.getUint32(at + 12))
    .map((at) => view.getUint32(at + 8));
  expect(packed.length).toBeGreaterThan(5);
  expect(inflated.sort((a, b) => a - b)).toEqual(packed.sort((a, b) => a - b));
  expect(brotli).toEqual([]);
});

test('every fact of a WOFF2 comes from unpacking it once', () => {
  const { codec, inflated, brotli } = counting();
  inspect(readFont('serifWoff2'), codec, { fileName: 'a.woff2' });
  expect([brotli.length, inflated.length]).toEqual([1, 0]);
});
