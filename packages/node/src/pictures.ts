import { FontError, type Picture, type SvgEngine } from '@orderly-glyph/core';

/** Pixels of one picture at most: a page at 600 dpi has some forty million. */
const MOST_PIXELS = 60_000_000;
/** Pictures with more are made smaller: what is read has edges that a scan at 300 dpi shows in full. */
const ENOUGH_PIXELS = 20_000_000;
/** Pages of one document that are looked at. */
const MOST_PAGES = 60;
/** dpi at which pages of a document are drawn. */
const PDF_DPI = 300;

const startsWith = (bytes: Uint8Array, ...starts: number[][]): boolean => starts.some((s) => s.every((b, i) => bytes[i] === b));
const tooLarge = (width: number, height: number): void => {
  if (!(width * height <= MOST_PIXELS))
    throw new FontError(
      'too-large',
      `The picture has ${Math.round((width * height) / 1e6)} million pixels; 60 million are enough for any page. Save it smaller.`,
    );
};

/**
 * The pictures in a file: PNG, JPEG, WebP, TIFF, or the pages of a PDF; one after another, so that only one is held.
 * @param only the one page of a PDF that is wanted; it then says how many there are
 * @throws FontError in words when it is no picture that can be read
 */
export async function* picturesOf(bytes: Uint8Array, only: number | null = null): AsyncGenerator<Picture & { pages?: number }> {
  if (startsWith(bytes, [0x25, 0x50, 0x44, 0x46])) yield* pagesOf(bytes, only);
  else if (startsWith(bytes, [0x49, 0x49, 0x2a, 0], [0x4d, 0x4d, 0, 0x2a])) yield* tiff(bytes);
  else if (
    bytes.length > 12 &&
    String.fromCharCode(...bytes.subarray(4, 8)) === 'ftyp' &&
    /hei|mif1|msf1/.test(String.fromCharCode(...bytes.subarray(8, 16)))
  )
    throw new FontError(
      'unsupported',
      'The picture is HEIC, which is not read here. Let the phone save it as JPEG (“most compatible”), or share it as JPEG.',
    );
  else if (startsWith(bytes, [0x89, 0x50, 0x4e, 0x47], [0xff, 0xd8, 0xff], [0x52, 0x49, 0x46, 0x46], [0x47, 0x49, 0x46, 0x38]))
    yield await raster(bytes);
  else throw new FontError('unsupported', 'It is no picture that is read here: PNG, JPEG, WebP, GIF, TIFF and PDF are.');
}

async function raster(bytes: Uint8Array): Promise<Picture> {
  const { createCanvas, loadImage } = await import('@napi-rs/canvas');
  const size = sizeOf(bytes);
  if (!isWhole(bytes)) throw new FontError('bad-table', 'The picture breaks off before its end. Send it again.');
  if (size) tooLarge(size[0], size[1]);
  let image: Awaited<ReturnType<typeof loadImage>>;
  try {
    image = await loadImage(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  } catch {
    throw new FontError('bad-table', 'The picture is damaged or breaks off.');
  }
  const { width, height } = image;
  tooLarge(width, height);
  if (width < 8 || height < 8) throw new FontError('bad-table', 'The picture is empty.');
  const by = Math.max(1, Math.ceil(Math.sqrt((width * height) / ENOUGH_PIXELS)));
  const [w, h] = [Math.max(1, Math.floor(width / by)), Math.max(1, Math.floor(height / by))];
  const context = createCanvas(w, h).getContext('2d');
  context.fillStyle = '#fff';
  context.fillRect(0, 0, w, h);
  context.imageSmoothingQuality = 'high';
  context.drawImage(image, 0, 0, w * by, h * by, 0, 0, w, h);
  return { width: w, height: h, data: context.getImageData(0, 0, w, h).data };
}

/** A picture with as many px as are needed, each the mean of a square of those it had. */
function reduced({ width, height, data }: Picture): Picture {
  const by = Math.ceil(Math.sqrt((width * height) / ENOUGH_PIXELS));
  if (by <= 1) return { width, height, data };
  const [w, h] = [Math.floor(width / by), Math.floor(height / by)];
  const out = new Uint8ClampedArray(4 * w * h);
  for (let y = 0, o = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      for (let c = 0; c < 4; c++) {
        let sum = 0;
        for (let v = 0; v < by; v++) for (let u = 0; u < by; u++) sum += data[4 * ((y * by + v) * width + x * by + u) + c]!;
        out[o++] = sum / (by * by);
      }
  return { width: w, height: h, data: out };
}

/** Whether a picture has its end: what is missing would read as empty paper. Sources: PNG (third edition), 11.2.5; ITU-T T.81, B.1.1.3. */
function isWhole(bytes: Uint8Array): boolean {
  const tail = bytes.subarray(Math.max(0, bytes.length - 65_536));
  const ends = (...marks: number[]): boolean => {
    for (let i = tail.length - marks.length; i >= 0; i--) if (marks.every((m, k) => tail[i + k] === m)) return true;
    return false;
  };
  return bytes[0] === 0x89 ? ends(0x49, 0x45, 0x4e, 0x44) : bytes[0] === 0xff ? ends(0xff, 0xd9) : true;
}

/** Width and height that a picture's head names, before anything is unpacked; null where it has none there. */
function sizeOf(bytes: Uint8Array): [number, number] | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes[0] === 0x89) return bytes.length >= 24 ? [view.getUint32(16), view.getUint32(20)] : null;
  // GIF. Source: GIF89a specification, logical screen descriptor.
  if (bytes[0] === 0x47) return bytes.length >= 10 ? [view.getUint16(6, true), view.getUint16(8, true)] : null;
  if (bytes[0] === 0xff) {
    // JPEG: the frame header. Source: ITU-T T.81, B.2.2.
    let at = 2;
    while (at + 9 < bytes.length && bytes[at] === 0xff) {
      const marker = bytes[at + 1]!;
      if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker)) return [view.getUint16(at + 7), view.getUint16(at + 5)];
      at += 2 + view.getUint16(at + 2);
    }
    return null;
  }
  // WebP. Source: RFC 9649, 2.7.
  const kind = String.fromCharCode(...bytes.subarray(12, 16));
  if (kind === 'VP8X' && bytes.length >= 30) return [1 + (view.getUint32(24, true) & 0xffffff), 1 + (view.getUint32(26, true) >>> 8)];
  if (kind === 'VP8 ' && bytes.length >= 30) return [view.getUint16(26, true) & 0x3fff, view.getUint16(28, true) & 0x3fff];
  if (kind === 'VP8L' && bytes.length >= 25)
    return [1 + (view.getUint32(21, true) & 0x3fff), 1 + ((view.getUint32(21, true) >>> 14) & 0x3fff)];
  return null;
}

async function* tiff(bytes: Uint8Array): AsyncGenerator<Picture> {
  const { default: utif } = (await import('utif2')) as unknown as {
    default: {
      decode(b: ArrayBuffer): { width: number; height: number; t256?: number[]; t257?: number[]; data: Uint8Array }[];
      decodeImage(b: ArrayBuffer, page: object): void;
      toRGBA8(page: object): Uint8Array;
    };
  };
  const buffer = bytes.slice().buffer;
  let pages: ReturnType<typeof utif.decode>;
  try {
    pages = utif.decode(buffer);
  } catch {
    throw new FontError('bad-table', 'The TIFF is damaged.');
  }
  for (const page of pages.slice(0, MOST_PAGES)) {
    const [width, height] = [page.t256?.[0] ?? 0, page.t257?.[0] ?? 0];
    // Previews of a few px that scanners put beside the page.
    if (width < 200 || height < 200) continue;
    tooLarge(width, height);
    try {
      utif.decodeImage(buffer, page);
      yield reduced({ width: page.width, height: page.height, data: utif.toRGBA8(page) });
    } catch {
      throw new FontError('bad-table', 'A page of the TIFF is damaged, or packed in a way that is not read here. Save it as PNG or JPEG.');
    }
  }
}

async function* pagesOf(bytes: Uint8Array, only: number | null): AsyncGenerator<Picture & { pages?: number }> {
  const { createCanvas, DOMMatrix, ImageData, Path2D } = await import('@napi-rs/canvas');
  // Its own copy of the canvas would make paths that ours does not know.
  Object.assign(globalThis, { DOMMatrix, ImageData, Path2D });
  const pdf = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const task = pdf.getDocument({
    data: new Uint8Array(bytes),
    isEvalSupported: false,
    disableFontFace: true,
    useSystemFonts: false,
    verbosity: pdf.VerbosityLevel.ERRORS,
  });
  try {
    const document = await task.promise;
    if (only !== null && only > document.numPages)
      throw new FontError('does-not-fit', `The PDF has ${document.numPages} ${document.numPages === 1 ? 'page' : 'pages'}.`);
    for (let n = only ?? 1; n <= Math.min(only ?? MOST_PAGES, document.numPages); n++) {
      const page = await document.getPage(n);
      const viewport = page.getViewport({ scale: PDF_DPI / 72 });
      const [width, height] = [Math.ceil(viewport.width), Math.ceil(viewport.height)];
      tooLarge(width, height);
      const canvas = createCanvas(width, height);
      const context = canvas.getContext('2d');
      context.fillStyle = '#fff';
      context.fillRect(0, 0, width, height);
      await page.render({ canvasContext: context as never, canvas: canvas as never, viewport }).promise;
      page.cleanup();
      yield { width, height, data: context.getImageData(0, 0, width, height).data, ...(only === null ? {} : { pages: document.numPages }) };
    }
  } catch (error) {
    if (error instanceof FontError) throw error;
    if ((error as Error).name === 'PasswordException') throw new FontError('unsupported', 'The PDF asks for a password.');
    throw new FontError('bad-table', 'The PDF is damaged.');
  } finally {
    await task.destroy();
  }
}

/** No wider and no higher than `most` px. */
async function fitted({ width, height, data }: Picture, most: number) {
  const { createCanvas, ImageData } = await import('@napi-rs/canvas');
  const whole = createCanvas(width, height);
  whole
    .getContext('2d')
    .putImageData(new ImageData(new Uint8ClampedArray(data.buffer, data.byteOffset, data.byteLength), width, height), 0, 0);
  const scale = Math.min(1, most / Math.max(width, height));
  if (scale === 1) return { canvas: whole, scale };
  const canvas = createCanvas(Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale)));
  const context = canvas.getContext('2d');
  context.imageSmoothingQuality = 'high';
  context.drawImage(whole, 0, 0, canvas.width, canvas.height);
  return { canvas, scale };
}

/**
 * One picture of a file: PNG, JPEG, WebP, GIF, TIFF, SVG or a page of a PDF, made smaller where it is larger than asked for.
 * @param page from 1 on; files of one picture have one
 * @param most px across or down
 * @param svg what draws SVG
 * @throws FontError in words when it is no picture that can be read, or has no such page
 */
export async function pictureAt(
  bytes: Uint8Array,
  page: number,
  most: number,
  svg: () => Promise<SvgEngine>,
): Promise<{ picture: Picture; pages: number }> {
  let pages = 0;
  let found: Picture | null = null;
  const all = looksLikeSvg(bytes) ? drawnSvg(bytes, most, await svg()) : picturesOf(bytes, page);
  for await (const { pages: count, ...picture } of all as AsyncIterable<Picture & { pages?: number }>) {
    pages = count ?? pages + 1;
    found ??= picture;
    if (count !== undefined || pages === page) {
      found = picture;
      if (count !== undefined) break;
    }
  }
  if (!found || page > Math.max(1, pages)) throw new FontError('does-not-fit', `It has ${pages} ${pages === 1 ? 'page' : 'pages'}.`);
  const { canvas } = await fitted(found, most);
  const data = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height).data;
  return { picture: { width: canvas.width, height: canvas.height, data }, pages: Math.max(1, pages) };
}

/** A vector drawing over white, as large as pictures are worked on. */
async function* drawnSvg(bytes: Uint8Array, most: number, engine: SvgEngine): AsyncGenerator<Picture> {
  const text = new TextDecoder().decode(bytes);
  const { width: w, height: h } = engine.normalise(text);
  const { columns, rows, alpha, rgb } = engine.coverage(text, Math.max(1, Math.round(most * Math.min(1, w / Math.max(1, h)))));
  const data = new Uint8ClampedArray(4 * columns * rows);
  for (let i = 0; i < alpha.length; i++) {
    for (let c = 0; c < 3; c++) data[4 * i + c] = alpha[i]! * rgb[3 * i + c]! + 255 * (1 - alpha[i]!);
    data[4 * i + 3] = 255;
  }
  yield { width: columns, height: rows, data };
}

const looksLikeSvg = (bytes: Uint8Array): boolean =>
  /^\s*(?:\uFEFF)?(?:<\?xml|<!--|<!DOCTYPE svg|<svg)/i.test(new TextDecoder().decode(bytes.subarray(0, 400)));

/** A picture as PNG. */
export async function pngOf(picture: Picture): Promise<Uint8Array> {
  const { canvas } = await fitted(picture, Infinity);
  return new Uint8Array(await canvas.encode('png'));
}

/** A picture as JPEG, no wider and no higher than `most` px. */
export async function jpegOf(picture: Picture, most: number): Promise<{ bytes: Uint8Array; scale: number }> {
  const { canvas, scale } = await fitted(picture, most);
  return { bytes: new Uint8Array(await canvas.encode('jpeg', 72)), scale };
}
