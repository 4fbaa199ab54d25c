import { createCanvas, ImageData, loadImage } from '@napi-rs/canvas';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  codeModules,
  FlattenPen,
  layOut,
  openFace,
  pageCode,
  PAPERS,
  rasterize,
  SALMON,
  sheetShapes,
  TransformPen,
} from '../dist/index.js';
import { nodeCodec } from '../../node/dist/index.js';

// A stand-in for somebody with a pen and a camera: draws letters of known faces into the boxes of a sheet, and takes the page on its way.
// It runs on the built code in a process of its own: node packages/core/test/filler.mjs PLAN.json FONT FOLDER writes the pages of a plan.

/** mulberry32. */
function random(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
const BLACK_PEN = [28, 27, 34];
/** As a paint program writes it, at 300 dpi. */
export function cleanExport({ paper }) {
  const { width, height } = PAPERS[paper];
  const s = 300 / 25.4;
  return {
    width: Math.round(width * s),
    height: Math.round(height * s),
    place: (x, y) => [x * s, y * s],
    light: () => 1,
    blur: 0,
    noise: 0,
    jpeg: null,
    digital: true,
    pen: [0, 0, 0],
  };
}
/** From a flatbed at 300 dpi: laid in askew, a little soft, grainy, kept as JPEG. */
export function scanned({ paper }, seed = 1, turn = 1.3, dpi = 300) {
  const { width, height } = PAPERS[paper];
  const s = dpi / 25.4;
  const r = random(seed);
  const a = ((turn + (r() - 0.5)) * Math.PI) / 180;
  const [c, d] = [Math.cos(a), Math.sin(a)];
  const [w, h] = [(width + 12) * s, (height + 12) * s];
  return {
    width: Math.round(w),
    height: Math.round(h),
    place: (x, y) => {
      const [u, v] = [(x - width / 2) * s, (y - height / 2) * s];
      return [w / 2 + c * u - d * v, h / 2 + d * u + c * v];
    },
    light: () => 0.93,
    blur: 0.7,
    noise: 2.5,
    jpeg: 85,
    digital: false,
    pen: BLACK_PEN,
  };
}
/** From a phone held over a desk: perspective, a lens of 1.5%, paper that bends by 2 mm, light from one side and a soft shadow. */
export function photographed({ paper }, seed = 1) {
  const { width, height } = PAPERS[paper];
  const r = random(seed);
  const [w, h] = [3024, 4032];
  const fill = 0.9;
  const s = Math.min((w * fill) / width, (h * fill) / height);
  const tilt = [(r() - 0.5) * 2.4e-4, (r() - 0.5) * 2.4e-4];
  const a = ((r() - 0.5) * 6 * Math.PI) / 180;
  const [c, d] = [Math.cos(a), Math.sin(a)];
  const phase = r() * 2;
  return {
    width: w,
    height: h,
    place: (x, y) => {
      // Bent paper: what rises toward the lens moves outward and is drawn together along the bend.
      const lift = 2 * Math.sin((Math.PI * (y / height) * 1.3 + phase) % (2 * Math.PI));
      const [bx, by] = [x - width / 2 + ((x - width / 2) * lift) / 420, y - height / 2 + ((y - height / 2) * lift) / 420];
      const [tx, ty] = [c * bx - d * by, d * bx + c * by];
      const p = 1 + tilt[0] * tx + tilt[1] * ty;
      let [u, v] = [(tx / p) * s, (ty / p) * s];
      const rr = (u * u + v * v) / ((w / 2) ** 2 + (h / 2) ** 2);
      const k = 1 - 0.015 * rr;
      [u, v] = [u * k, v * k];
      return [w / 2 + u, h / 2 + v];
    },
    light: (x, y) => {
      const side = 0.62 + 0.3 * (x / w) + 0.06 * (y / h);
      const edge = (x * 0.8 + y * 0.6 - 0.9 * w) / 160;
      return side * (1 - 0.32 / (1 + Math.exp(edge)));
    },
    blur: 0.9,
    noise: 3,
    jpeg: 88,
    digital: false,
    pen: BLACK_PEN,
  };
}
const toLight = (v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
// Tables, since every px of a page asks for them.
const BYTES = Float32Array.from({ length: 8193 }, (_, i) => {
  const v = i / 8192;
  return 255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
});
const toByte = (v) => BYTES[v <= 0 ? 0 : v >= 1 ? 8192 : (v * 8192) | 0];
const NORMALS = (() => {
  const next = random(12345);
  return Float32Array.from({ length: 1 << 16 }, () => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next()));
})();
const rgb = (hex) => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16));
/**
 * A page with letters in its boxes, as a picture.
 * @param ink what is drawn in the box at a place of the plan, in parts of the em around its origin; outer contours all run one way
 * @param words the same for a line of words
 */
export async function filledPage(plan, page, journey, ink, words = () => [], seed = 7) {
  const { width, height, place } = journey;
  const along = (p) => {
    // Long sides are cut, since straight ones bend on the way.
    const out = [];
    for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) {
      const [x0, y0, x1, y1] = [p[j], p[j + 1], p[i], p[i + 1]];
      const steps = Math.max(1, Math.ceil(Math.hypot(x1 - x0, y1 - y0) / 4));
      for (let k = 1; k <= steps; k++) out.push(...place(x0 + ((x1 - x0) * k) / steps, y0 + ((y1 - y0) * k) / steps));
    }
    return out;
  };
  const disc = ([x, y], r, back) => {
    const out = [];
    for (let k = 0; k < 96; k++) {
      const a = ((back ? -1 : 1) * 2 * Math.PI * k) / 96;
      out.push(x + r * Math.cos(a), y + r * Math.sin(a));
    }
    return out;
  };
  const rect = (x, y, w, h) => [x, y, x + w, y, x + w, y + h, x, y + h];
  const layers = new Map();
  const add = (color, ...polygons) => void layers.set(color, [...(layers.get(color) ?? []), ...polygons]);
  for (const s of sheetShapes(plan, page, await codeModules(pageCode(plan, page.page)), 'Test'))
    if (s.kind === 'line') {
      const [[x0, y0], [x1, y1]] = [s.from, s.to];
      add(
        s.color,
        x0 === x1 ? rect(x0 - s.width / 2, y0, s.width, y1 - y0) : rect(Math.min(x0, x1), y0 - s.width / 2, Math.abs(x1 - x0), s.width),
      );
    } else if (s.kind === 'disc') add(s.color, disc(s.middle, s.radius, false), ...(s.hole > 0 ? [disc(s.middle, s.hole, true)] : []));
    else if (s.kind === 'rect') add(s.color, rect(s.x, s.y, s.width, s.height));
  const onPaper = (x, y, polygons) => polygons.map((p) => p.map((v, i) => (i % 2 === 0 ? x + v * plan.em : y - v * plan.em)));
  for (const c of page.cells) add('pen', ...onPaper(c.x, c.y, ink(c.index)));
  for (const w of page.words) add('pen', ...onPaper(w.x, w.y, words(w.index)));
  const mixed = journey.digital ? (v) => v / 255 : (v) => toLight(v / 255);
  const light = Array.from({ length: 3 }, () => new Float32Array(width * height).fill(1));
  // Guides first, what is black over them, ink last.
  for (const color of [SALMON, '#000000', 'pen']) {
    const polygons = layers.get(color);
    if (!polygons) continue;
    const cover = rasterize(polygons.map(along), { xMin: 0, xMax: width, yMin: 0, yMax: height }, width, height);
    const paint = (color === 'pen' ? journey.pen : rgb(color)).map(mixed);
    for (let c = 0; c < 3; c++) for (let i = 0; i < cover.length; i++) if (cover[i] > 0) light[c][i] += cover[i] * (paint[c] - light[c][i]);
  }
  const out = new Uint8ClampedArray(4 * width * height);
  const next = random(seed);
  const normal = () => NORMALS[(next() * 65536) | 0];
  for (let c = 0; c < 3; c++) {
    const soft = journey.blur > 0 ? blurred(light[c], width, height, journey.blur) : light[c];
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const v = soft[i] * journey.light(x, y);
        const byte = journey.digital ? 255 * v : toByte(v);
        out[4 * i + c] = journey.noise > 0 ? byte + journey.noise * normal() : byte;
      }
  }
  for (let i = 3; i < out.length; i += 4) out[i] = 255;
  if (journey.jpeg === null) return { width, height, data: out };
  const canvas = createCanvas(width, height);
  canvas.getContext('2d').putImageData(new ImageData(out, width, height), 0, 0);
  const again = await loadImage(canvas.toBuffer('image/jpeg', journey.jpeg));
  const back = createCanvas(width, height);
  back.getContext('2d').drawImage(again, 0, 0);
  return { width, height, data: back.getContext('2d').getImageData(0, 0, width, height).data };
}
function blurred(values, width, height, sigma) {
  const r = Math.ceil(3 * sigma);
  const kernel = Float32Array.from({ length: 2 * r + 1 }, (_, i) => Math.exp(-((i - r) ** 2) / (2 * sigma * sigma)));
  const sum = kernel.reduce((a, b) => a + b);
  for (let i = 0; i < kernel.length; i++) kernel[i] /= sum;
  const across = values.slice();
  const out = values.slice();
  // The outermost px stay as they are: paper.
  for (let y = 0; y < height; y++)
    for (let x = r, i = y * width + r; x < width - r; x++, i++) {
      let v = 0;
      for (let k = -r; k <= r; k++) v += kernel[k + r] * values[i + k];
      across[i] = v;
    }
  for (let y = r; y < height - r; y++)
    for (let x = 0, i = y * width; x < width; x++, i++) {
      let v = 0;
      for (let k = -r; k <= r; k++) v += kernel[k + r] * across[i + k * width];
      out[i] = v;
    }
  return out;
}

/** A letter of a face as it would be drawn into its box, in parts of the em; marks over the pale letter of theirs. */
export function drawnBy(face, character) {
  const s = 1 / face.unitsPerEm;
  const pen = new FlattenPen(0.0003);
  const alone = { '\u0301': '´', '\u0307': '.', '\u0328': ',' };
  const at = { '\u0301': [0.1, 0.05], '\u0307': [0.2, 0.62], '\u0328': [0.2, -0.1] };
  const [left, y] = at[character] ?? [0.05, 0];
  let x = left;
  for (const c of alone[character] ?? character) {
    const glyph = face.glyphOf(c.codePointAt(0));
    face.draw(glyph, new TransformPen([s, 0, 0, s, x, y], pen));
    x += face.advanceOf(glyph) * s + (c === ' ' ? 0.1 : 0.02);
  }
  pen.closePath();
  return pen.polygons;
}

/** A picture as PNG. */
export function pngOf({ width, height, data }) {
  const canvas = createCanvas(width, height);
  canvas.getContext('2d').putImageData(new ImageData(new Uint8ClampedArray(data), width, height), 0, 0);
  return canvas.toBuffer('image/png');
}

if (process.argv[1]?.endsWith('filler.mjs') && process.argv.length >= 5) {
  const plan = JSON.parse(readFileSync(process.argv[2], 'utf8'));
  const face = openFace(new Uint8Array(readFileSync(process.argv[3])), nodeCodec, 0);
  for (const page of layOut(plan)) {
    const picture = await filledPage(
      plan,
      page,
      cleanExport(plan),
      (i) => drawnBy(face, plan.cells[i].character),
      (i) => drawnBy(face, plan.words[i]),
    );
    writeFileSync(join(process.argv[4], `${page.page}.png`), pngOf(picture));
  }
}
