/**
 * Compression, handed in from outside because the core has no platform of its own.
 * Every function is synchronous and works on whole buffers. The decompressors throw when the data is
 * damaged or would grow past `maxLength` bytes.
 */
export interface Codec {
  /** zlib format (RFC 1950), as WOFF 1.0 uses it. */
  inflate(data: Uint8Array, maxLength: number): Uint8Array;
  deflate(data: Uint8Array): Uint8Array;
  /** Brotli (RFC 7932), as WOFF 2.0 uses it; the encoder runs in font mode at its highest quality. */
  brotliDecompress(data: Uint8Array, maxLength: number): Uint8Array;
  brotliCompress(data: Uint8Array): Uint8Array;
}
