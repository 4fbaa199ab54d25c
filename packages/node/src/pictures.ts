import { FontError, type Picture, type SvgEngine } from '@orderly-glyph/core';
import type sharpType from 'sharp';

/** Pixels of one picture at most: a page at 600 dpi has some forty million. */
const MOST_PIXELS = 60_000_000;
/** Pictures with more are made smaller: what is read has edges that a scan at 300 dpi, of 8.7 million for A4, shows in full. */
const ENOUGH_PIXELS = 9_000_000;
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

const isPdf = (bytes: Uint8Array): boolean => startsWith(bytes, [0x25, 0x50, 0x44, 0x46]);
const isTiff = (bytes: Uint8Array): boolean => startsWith(bytes, [0x49, 0x49, 0x2a, 0], [0x4d, 0x4d, 0, 0x2a]);

/** @throws FontError for what is no picture that is read, or breaks off */
function sortOut(bytes: Uint8Array): void {
  if (isPdf(bytes) || isTiff(bytes)) return;
  if (
    bytes.length > 12 &&
    String.fromCharCode(...bytes.subarray(4, 8)) === 'ftyp' &&
    /hei|mif1|msf1/.test(String.fromCharCode(...bytes.subarray(8, 16)))
  )
    throw new FontError(
      'unsupported',
      'The picture is HEIC, which is not read here. Let the phone save it as JPEG (“most compatible”), or share it as JPEG.',
    );
  if (!startsWith(bytes, [0x89, 0x50, 0x4e, 0x47], [0xff, 0xd8, 0xff], [0x52, 0x49, 0x46, 0x46], [0x47, 0x49, 0x46, 0x38]))
    throw new FontError('unsupported', 'It is no picture that is read here: PNG, JPEG, WebP, GIF, TIFF and PDF are.');
  if (!isWhole(bytes)) throw new FontError('bad-table', 'The picture breaks off before its end. Send it again.');
}

type Sharp = typeof sharpType;
let libvips: Promise<Sharp> | null = null;
/** The decoder: one thread and nothing kept, since each process reads one picture at a time. */
function decoder(): Promise<Sharp> {
  libvips ??= import('sharp').then(({ default: sharp }) => {
    sharp.concurrency(1);
    sharp.cache(false);
    return sharp;
  });
  return libvips;
}
const openPicture = async (bytes: Uint8Array, page: number): Promise<ReturnType<Sharp>> =>
  (await decoder())(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), {
    limitInputPixels: MOST_PIXELS,
    failOn: 'truncated',
    sequentialRead: true,
    ...(isTiff(bytes) ? { page } : {}),
  });

const damaged = (bytes: Uint8Array): FontError =>
  new FontError(
    'bad-table',
    isTiff(bytes)
      ? 'A page of the TIFF is damaged, or packed in a way that is not read here. Save it as PNG or JPEG.'
      : 'The picture is damaged or breaks off.',
  );

/** Pages of a TIFF that are no previews of a few px that scanners put beside them, by their places from 0 on. */
async function tiffPages(bytes: Uint8Array): Promise<number[]> {
  const count = await (await openPicture(bytes, 0)).metadata().then(
    (m) => m.pages ?? 1,
    () => {
      throw new FontError('bad-table', 'The TIFF is damaged.');
    },
  );
  const out: number[] = [];
  for (let page = 0; page < Math.min(count, 2 * MOST_PAGES) && out.length < MOST_PAGES; page++) {
    const size = await (await openPicture(bytes, page)).metadata().catch(() => null);
    if (size === null || (size.width >= 200 && size.height >= 200)) out.push(page);
  }
  return out;
}

/**
 * Decodes one picture, made smaller while it is unpacked where it has more px than are needed, over white and turned upright.
 * What its head says of its size is judged before anything of it is unpacked.
 */
async function raster(bytes: Uint8Array, page = 0, most = ENOUGH_PIXELS): Promise<Picture> {
  const told = await (await openPicture(bytes, page)).metadata().catch((error: Error) => {
    // The decoder refuses by itself what says that it is larger than any page.
    if (/pixel limit/i.test(error.message)) tooLarge(...(sizeOf(bytes) ?? [MOST_PIXELS, 2]));
    throw damaged(bytes);
  });
  const { width, height } = told;
  tooLarge(width, height);
  if (width < 8 || height < 8) throw new FontError('bad-table', 'The picture is empty.');
  const scale = Math.min(1, Math.sqrt(most / (width * height)));
  try {
    let picture = (await openPicture(bytes, page)).autoOrient();
    if (scale < 1)
      picture = picture.resize({ width: Math.max(1, Math.round((told.autoOrient?.width ?? width) * scale)), kernel: 'lanczos3' });
    const { data, info } = await picture
      .flatten({ background: '#ffffff' })
      .toColourspace('srgb')
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, data: new Uint8ClampedArray(data.buffer, data.byteOffset, data.byteLength) };
  } catch {
    throw damaged(bytes);
  }
}

/**
 * How many pictures a file holds: pages of a PDF or TIFF, else one.
 * @throws FontError in words when it is no picture that can be read
 */
export async function pageCountOf(bytes: Uint8Array): Promise<number> {
  sortOut(bytes);
  if (isPdf(bytes)) return Math.min(MOST_PAGES, (await pdfPage(bytes, null)).pages);
  return isTiff(bytes) ? (await tiffPages(bytes)).length : 1;
}

/**
 * One picture of a file. @param page from 1 on
 * @throws FontError in words when it is no picture that can be read, or has no such page
 */
export async function pageOf(bytes: Uint8Array, page: number, most = ENOUGH_PIXELS): Promise<Picture & { pages: number }> {
  sortOut(bytes);
  if (isPdf(bytes)) {
    const { picture, pages } = await pdfPage(bytes, page);
    return { ...picture!, pages };
  }
  const pages = isTiff(bytes) ? await tiffPages(bytes) : [0];
  if (pages[page - 1] === undefined)
    throw new FontError('does-not-fit', `It has ${pages.length} ${pages.length === 1 ? 'page' : 'pages'}.`);
  return { ...(await raster(bytes, pages[page - 1]!, most)), pages: pages.length };
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

/** A page of a PDF, and how many it has; without a page only that. */
async function pdfPage(bytes: Uint8Array, only: number | null): Promise<{ picture: Picture | null; pages: number }> {
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
    const pages = document.numPages;
    if (only === null) return { picture: null, pages };
    if (only > pages) throw new FontError('does-not-fit', `The PDF has ${pages} ${pages === 1 ? 'page' : 'pages'}.`);
    const page = await document.getPage(only);
    const viewport = page.getViewport({ scale: PDF_DPI / 72 });
    const [width, height] = [Math.ceil(viewport.width), Math.ceil(viewport.height)];
    tooLarge(width, height);
    const canvas = createCanvas(width, height);
    const context = canvas.getContext('2d');
    context.fillStyle = '#fff';
    context.fillRect(0, 0, width, height);
    await page.render({ canvasContext: context as never, canvas: canvas as never, viewport }).promise;
    page.cleanup();
    return { picture: { width, height, data: context.getImageData(0, 0, width, height).data }, pages };
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
  // Four times what is asked for: what is shown is then the mean of several px, as smooth as it can be.
  if (!looksLikeSvg(bytes)) {
    const { pages: count, ...picture } = await pageOf(bytes, page, 4 * most * most);
    [found, pages] = [picture, count];
  } else
    for await (const picture of drawnSvg(bytes, most, await svg())) {
      pages++;
      found ??= picture;
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
