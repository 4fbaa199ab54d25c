import * as zlib from 'node:zlib';
import type { Codec } from '@orderly-glyph/core';

const view = (buffer: Buffer): Uint8Array => new Uint8Array(buffer.buffer, buffer.byteOffset, buffer.length);

/** The core's compression, met by Node's zlib and its native Brotli. */
export const nodeCodec: Codec = {
  inflate: (data, maxLength) => view(zlib.inflateSync(data, { maxOutputLength: Math.max(1, maxLength) })),
  deflate: (data) => view(zlib.deflateSync(data, { level: 9 })),
  brotliDecompress: (data, maxLength) => view(zlib.brotliDecompressSync(data, { maxOutputLength: Math.max(1, maxLength) })),
  brotliCompress: (data) =>
    view(
      zlib.brotliCompressSync(data, {
        params: {
          [zlib.constants.BROTLI_PARAM_MODE]: zlib.constants.BROTLI_MODE_FONT,
          [zlib.constants.BROTLI_PARAM_QUALITY]: 11,
          [zlib.constants.BROTLI_PARAM_LGWIN]: 22,
          [zlib.constants.BROTLI_PARAM_SIZE_HINT]: data.length,
        },
      }),
    ),
};
