import { FontError } from '../sfnt/index.js';

/** A square code found in a picture. */
export interface FoundCode {
  text: string;
  /** Where the corners of the code lie, px: its own upper left, upper right, lower right, lower left. */
  corners: [number, number][];
}

/** Reads square codes. */
export interface CodeReader {
  /** All QR codes in a picture of one byte a px (0 black), turned or mirrored as they may be. */
  read(gray: Uint8Array, width: number, height: number): Promise<FoundCode[]>;
}

/**
 * Loads the reader of codes.
 * @param wasm the bytes of its WebAssembly module
 */
export async function createCodeReader(wasm: Uint8Array): Promise<CodeReader> {
  const { prepareZXingModule, readBarcodes } = await import('zxing-wasm/reader');
  await prepareZXingModule({ overrides: { wasmBinary: wasm.slice().buffer }, fireImmediately: true });
  return {
    async read(gray, width, height) {
      const data = new Uint8ClampedArray(4 * gray.length);
      for (let i = 0; i < gray.length; i++) {
        data[4 * i] = data[4 * i + 1] = data[4 * i + 2] = gray[i]!;
        data[4 * i + 3] = 255;
      }
      const found = await readBarcodes({ data, width, height, colorSpace: 'srgb' } as unknown as ImageData, {
        formats: ['QRCode'],
        tryHarder: true,
        tryRotate: true,
        tryInvert: true,
        tryDownscale: true,
        maxNumberOfSymbols: 6,
      });
      return found
        .filter((f) => f.isValid)
        .map(({ text, isMirrored, position: p }) => ({
          text,
          // Corners of a mirrored code come in the picture's order, not in its own.
          corners: (isMirrored
            ? [p.topLeft, p.bottomLeft, p.bottomRight, p.topRight]
            : [p.topLeft, p.topRight, p.bottomRight, p.bottomLeft]
          ).map(({ x, y }): [number, number] => [x, y]),
        }));
    },
  };
}

/** The modules of a QR code of a text, dark ones true; without a quiet zone. @throws FontError when the text is too long */
export async function codeModules(text: string): Promise<boolean[][]> {
  const { encode } = await import('uqr');
  try {
    return encode(text, { ecc: 'M', border: 0 }).data;
  } catch {
    throw new FontError('does-not-fit', 'The text is too long for a code.');
  }
}
