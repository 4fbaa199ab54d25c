/** Pixels as a decoder gives them: red, green, blue, alpha, a byte each, row by row from the top. */
export interface Picture {
  width: number;
  height: number;
  data: Uint8Array | Uint8ClampedArray;
}

/** One channel of a picture, a byte a px. */
export interface Gray {
  width: number;
  height: number;
  data: Uint8Array;
}

/** By which light a page is read: red, in which guides are as bright as paper, or green for red pens. */
export type Channel = 'red' | 'green';

/** One channel of a picture over white paper. */
export function channelOf({ width, height, data }: Picture, channel: Channel | 'luminance'): Gray {
  const out = new Uint8Array(width * height);
  const at = channel === 'red' ? 0 : 1;
  for (let i = 0, p = 0; i < out.length; i++, p += 4) {
    const v = channel === 'luminance' ? 0.2126 * data[p]! + 0.7152 * data[p + 1]! + 0.0722 * data[p + 2]! : data[p + at]!;
    const a = data[p + 3]!;
    out[i] = a === 255 ? v : (v * a + 255 * (255 - a)) / 255;
  }
  return { width, height, data: out };
}

/** Light of each byte, 0 to 1. Source: IEC 61966-2-1, sRGB. */
export const LINEAR = Float32Array.from({ length: 256 }, (_, v) => {
  const s = v / 255;
  return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4;
});
/** Bytes as they are, 0 to 1: programs mix the edges of what they draw so. */
export const EVEN = Float32Array.from({ length: 256 }, (_, v) => v / 255);

/** A picture made smaller by whole steps: means of squares. */
export function halved({ width, height, data }: Gray, by: number): Gray {
  const w = Math.max(1, Math.floor(width / by));
  const h = Math.max(1, Math.floor(height / by));
  const out = new Uint8Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let sum = 0;
      for (let v = 0; v < by; v++) for (let u = 0; u < by; u++) sum += data[(y * by + v) * width + x * by + u]!;
      out[y * w + x] = sum / (by * by);
    }
  return { width: w, height: h, data: out };
}
