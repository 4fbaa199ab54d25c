import { createCanvas, loadImage, Path2D } from '@napi-rs/canvas';
import { cellsFor, layOut, wordsFor } from '@orderly-glyph/core';

/** The hand of the sample business: strokes of a pen on a board where an em is 100, the baseline at 70, small letters begin at 22. */
const HAND = {
  a: 'M38 30C30 20 10 22 8 46C6 68 24 74 34 62L38 30M39 24C37 40 37 60 44 69',
  b: 'M12 -3C11 20 10 45 11 68M11 46C16 24 42 22 43 46C44 70 22 76 11 62',
  c: 'M38 32C28 18 8 24 8 48C8 72 28 76 40 60',
  d: 'M38 34C28 18 8 24 8 48C8 72 28 74 38 58M39 -3C38 20 38 50 42 69',
  e: 'M9 46C20 46 38 44 38 34C37 18 10 20 8 46C7 72 30 76 41 59',
  f: 'M36 4C28 -6 18 -2 18 14L17 69M6 30L33 28',
  g: 'M37 32C28 18 8 22 8 44C8 66 28 68 37 52M38 24C38 50 40 76 34 88C28 97 12 96 8 86',
  h: 'M11 -3L10 69M10 44C16 24 36 20 37 40L38 69',
  i: 'M11 23L11 69M11 5L11.5 6',
  j: 'M18 23C18 50 20 74 15 86C12 93 4 94 2 88M18 5L18.5 6',
  k: 'M11 -3L10 69M34 24L11 48M17 44L37 69',
  l: 'M11 -3C10 30 9 60 14 69',
  m: 'M10 24L10 69M10 42C14 24 32 20 33 40L33 69M33 42C38 24 55 20 56 40L57 69',
  n: 'M10 24L10 69M10 44C15 24 35 20 36 40L37 69',
  o: 'M24 22C4 22 4 70 24 70C45 70 45 22 24 22Z',
  p: 'M11 24L11 93M11 44C16 22 42 20 43 46C44 70 22 76 11 60',
  q: 'M38 32C28 18 8 24 8 48C8 72 28 74 38 56M39 24L39 93',
  r: 'M10 24L10 69M10 46C13 30 22 21 32 26',
  s: 'M34 28C24 18 9 24 12 36C15 46 34 46 34 58C34 72 14 72 7 62',
  t: 'M16 4L15 56C15 68 22 72 30 66M4 26L29 25',
  u: 'M9 24C8 50 8 69 22 69C32 69 36 54 37 24M37 24L39 69',
  v: 'M6 24L21 69L37 24',
  w: 'M6 24L18 69L30 30L42 69L55 24',
  x: 'M7 24L37 69M36 24L7 69',
  y: 'M7 24L22 62M38 24C30 50 24 76 16 90C12 96 5 94 4 90',
  z: 'M8 25L36 25L7 68L38 68',
  A: 'M6 69L28 0L50 69M14 46L42 46',
  B: 'M11 1L10 69M11 1C46 -4 44 34 12 33C52 32 52 70 10 69',
  C: 'M48 14C36 -8 8 4 8 36C8 70 36 78 50 56',
  D: 'M11 1L10 69C64 72 62 -2 11 1',
  E: 'M44 1L11 1L10 69L45 69M11 34L38 33',
  F: 'M44 1L11 1L10 69M11 34L38 33',
  G: 'M48 14C36 -8 8 4 8 36C8 70 40 76 49 54L49 40L31 40',
  H: 'M11 1L10 69M48 1L48 69M10 34L48 34',
  I: 'M11 1L11 69',
  J: 'M34 1L34 50C34 72 12 74 6 58',
  K: 'M11 1L10 69M46 1L11 38M20 30L48 69',
  L: 'M11 1L10 69L44 69',
  M: 'M8 69L12 1L34 46L56 1L60 69',
  N: 'M10 69L11 1L48 69L49 1',
  O: 'M32 0C0 0 0 70 32 70C64 70 64 0 32 0Z',
  P: 'M11 69L11 1C50 -4 50 40 11 39',
  Q: 'M32 0C0 0 0 70 32 70C64 70 64 0 32 0ZM38 52L58 76',
  R: 'M11 69L11 1C50 -4 48 38 11 36M24 37L48 69',
  S: 'M42 11C30 -6 9 2 11 18C14 34 45 34 45 52C44 74 16 74 7 57',
  T: 'M4 1L52 1M28 1L28 69',
  U: 'M10 1C9 44 10 70 29 70C48 70 49 44 49 1',
  V: 'M5 1L27 69L50 1',
  W: 'M5 1L20 69L36 10L52 69L68 1',
  X: 'M7 1L48 69M47 1L6 69',
  Y: 'M6 1L27 36L49 1M27 36L27 69',
  Z: 'M8 1L46 1L7 69L48 69',
  0: 'M26 0C2 0 2 70 26 70C50 70 50 0 26 0Z',
  1: 'M8 14L24 1L24 69',
  2: 'M8 14C16 -6 42 0 40 18C38 36 14 50 8 69L44 69',
  3: 'M9 8C22 -6 42 4 36 20C32 32 22 32 20 32C44 32 48 56 34 66C24 73 10 68 6 60',
  4: 'M34 69L34 1L6 48L46 48',
  5: 'M40 1L14 1L11 30C34 20 48 38 40 56C34 72 14 72 7 60',
  6: 'M40 6C20 -6 8 24 9 46C10 76 44 76 43 48C42 26 16 26 9 48',
  7: 'M7 1L44 1L20 69',
  8: 'M26 33C8 24 8 0 26 0C44 0 44 24 26 33C4 42 4 70 26 70C48 70 48 42 26 33Z',
  9: 'M42 24C38 44 10 46 9 24C8 -4 42 -6 43 22C44 48 34 68 16 69',
  '.': 'M11 67L11.5 67.5',
  ',': 'M12 66C14 72 11 78 7 82',
  '!': 'M11 1L11 48M11 67L11.5 67.5',
  '?': 'M8 12C14 -6 40 -2 36 16C33 28 22 30 22 48M22 67L22.5 67.5',
  "'": 'M10 1L9 18',
  '(': 'M22 -4C6 18 6 56 22 80',
  ')': 'M8 -4C24 18 24 56 8 80',
  '[': 'M22 -4L9 -4L9 80L22 80',
  ']': 'M8 -4L21 -4L21 80L8 80',
  '{': 'M24 -4C10 -4 18 30 8 38C18 46 10 80 24 80',
  '}': 'M8 -4C22 -4 14 30 24 38C14 46 22 80 8 80',
  '-': 'M8 42L30 42',
  '/': 'M6 76L34 -4',
  '&': 'M50 66C30 52 10 24 16 10C22 -4 38 2 32 16C26 30 6 40 8 54C10 74 40 72 48 40',
  '@': 'M40 30C28 20 18 34 22 46C26 56 38 50 40 30L42 46C50 54 60 44 58 28C54 -6 6 -6 6 36C6 76 40 80 54 66',
  '#': 'M20 4L12 66M38 4L30 66M6 24L46 24M4 46L44 46',
  '%': 'M14 4C2 4 2 30 14 30C26 30 26 4 14 4ZM46 2L10 68M42 40C30 40 30 66 42 66C54 66 54 40 42 40Z',
  '*': 'M20 2L20 34M6 10L34 26M34 10L6 26',
  '+': 'M6 38L40 38M23 20L23 56',
  '=': 'M6 30L40 30M6 46L40 46',
  '€': 'M46 12C34 -6 12 2 12 36C12 70 36 76 48 58M4 28L36 28M4 42L34 42',
  $: 'M42 11C30 -6 9 2 11 18C14 34 45 34 45 52C44 74 16 74 7 57M26 -8L26 78',
  '£': 'M42 12C34 -6 14 0 16 20C18 44 20 58 8 69L44 69M6 36L34 36',
  '‹': 'M20 26L8 44L20 62',
  '›': 'M8 26L20 44L8 62',
  '†': 'M20 0L20 76M6 20L34 20',
  '§': 'M34 10C26 -4 8 2 14 16C20 28 36 30 34 44C32 56 12 52 12 38M10 62C16 76 36 74 32 58C28 46 10 44 12 30C14 22 22 20 26 24',
  '\u0300': 'M28 14L19 2',
  '\u0301': 'M24 14L33 2',
  '\u0302': 'M17 13L26 3L35 13',
  '\u0307': 'M26 8L26.5 8.5',
  '\u0308': 'M18 8L18.5 8.5M33 8L33.5 8.5',
  '\u0328': 'M30 69C24 76 22 84 34 84',
};
const PEN = 6.4;

/** mulberry32: the same hand every time. */
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

/** No hand does the same twice: every number of a stroke is a little off. */
const wavering = (d, next) => d.replace(/-?\d+(?:\.\d+)?/g, (n) => String(Math.round((Number(n) + (next() - 0.5) * 1.3) * 100) / 100));

/** A page of the sheet, filled. */
async function filled(blank, plan, page, next) {
  const image = await loadImage(blank);
  const canvas = createCanvas(image.width, image.height);
  const context = canvas.getContext('2d');
  context.drawImage(image, 0, 0);
  const px = 300 / 25.4;
  context.strokeStyle = '#1d1b26';
  context.lineCap = context.lineJoin = 'round';
  context.lineWidth = PEN;
  const write = (character, x, y) => {
    const unit = (plan.em / 100) * px;
    context.setTransform(unit, 0, 0, unit, x * px, y * px - 70 * unit);
    context.stroke(new Path2D(wavering(HAND[character], next)));
  };
  for (const { cell, x, y } of page.cells) if (HAND[cell.character]) write(cell.character, x, y);
  for (const { text, x, y } of page.words) {
    let at = x + 0.1 * plan.em;
    for (const c of text) {
      if (HAND[c]) write(c, at, y);
      // A letter is as wide as its strokes reach, and a little white follows.
      const across = c === ' ' ? [24] : [...HAND[c].matchAll(/(-?[\d.]+) -?[\d.]+/g)].map((m) => Number(m[1]));
      at += ((Math.max(...across) + 9) / 100) * plan.em;
    }
  }
  return canvas.toBuffer('image/png');
}

/** The typeface of the sample business: a sheet drawn, read, one letter mended, released; what comes next still open. */
export async function loadTypefaces(client) {
  const wish = {
    languages: ['en', 'pl', 'cy'],
    figures: true,
    punctuation: true,
    currency: true,
    fractions: true,
    capitalsOnly: false,
    variants: 1,
    ligatures: [],
    also: '',
  };
  const face = await client.call('POST', '/api/typefaces', { family: 'Hollin Hand', maker: 'Hollin Bank Seeds', wish });
  const at = `/api/typefaces/${face.id}`;
  const { sheets } = await client.call('POST', `${at}/sheets`, { paper: 'A4', em: 14, boxes: 'all' });
  const cells = cellsFor(wish);
  const plan = { id: sheets[0].id, layout: 1, paper: 'A4', em: 14, cells, words: wordsFor(cells) };
  const next = random(20270301);
  let now = face;
  for (const page of layOut(plan)) {
    const blank = await client.bytes(`${at}/sheets/${plan.id}?as=png&page=${page.page}`);
    now = (await client.call('POST', `${at}/pages`, await filled(blank, plan, page, next), 'application/octet-stream')).typeface;
  }
  await client.call('POST', `${at}/releases`, { mayRelease: true, version: now.version, notes: 'The lettering of the packet backs.' });
  const glyph = (character) => now.glyphs.find((g) => g.character === character && g.variant === 0);
  await client.call('POST', `${at}/acts`, { act: 'step', ids: [glyph('g').letterId], step: { step: 'weight', by: 10 } });
  await client.call('POST', `${at}/acts`, { act: 'sides', character: 'n', left: 62, right: 58, leftAs: null, rightAs: null });
}
