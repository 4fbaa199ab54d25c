// Words set by Skia in known faces, spoiled as pictures are, and looked for among these faces; what was found as JSON.
// Run on the built code, in a process of its own: jest's sandbox makes loops over px ten times slower.
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { createCanvas, GlobalFonts, loadImage } from '@napi-rs/canvas';
import * as core from '../dist/index.js';
import { nodeCodec } from '../../node/dist/index.js';

const google = (name, file) => fileURLToPath(new URL(`../../../node_modules/@expo-google-fonts/${name}/${file}.ttf`, import.meta.url));
const FILES = {
  literata: google('literata', '400Regular/Literata_400Regular'),
  gochi: google('gochi-hand', '400Regular/GochiHand_400Regular'),
  caveat: google('caveat', '400Regular/Caveat_400Regular'),
  young: google('young-serif', '400Regular/YoungSerif_400Regular'),
  atkinson: google('atkinson-hyperlegible-next', '400Regular/AtkinsonHyperlegibleNext_400Regular'),
  atkinsonBold: google('atkinson-hyperlegible-next', '700Bold/AtkinsonHyperlegibleNext_700Bold'),
  vietnam: google('be-vietnam-pro', '400Regular/BeVietnamPro_400Regular'),
  didot: google('gfs-didot', '400Regular/GFSDidot_400Regular'),
  noto: google('noto-sans', '400Regular/NotoSans_400Regular'),
  yusei: google('yusei-magic', '400Regular/YuseiMagic_400Regular'),
};
const faces = Object.entries(FILES).flatMap(([name, path]) => {
  const bytes = new Uint8Array(readFileSync(path));
  GlobalFonts.registerFromPath(path, name);
  const shapes = core.decodeShapes(core.encodeShapes(core.openFace(bytes, nodeCodec, 0)));
  return [{ item: name, shapes }];
});
const usual = core.usualWidths(faces.map((f) => f.shapes));
const familyOf = (name) => name.replace(/Bold$/, '');
const shapesOf = (name) => faces.find((f) => f.item === name).shapes;

/** A word as a customer sends it. */
export async function picture(
  face,
  text,
  { cap = 40, blur = 0, jpeg = 0, ground = '#fff', ink = '#000', turn = 0, stretch = 1, slant = 0, specks = 0, gradient = false } = {},
) {
  const size = cap / (shapesOf(face).letters.get(72).height / 1000);
  const probe = createCanvas(10, 10).getContext('2d');
  probe.font = `${size}px ${face}`;
  const width = probe.measureText(text).width;
  const canvas = createCanvas(Math.ceil(width * stretch + 2.4 * cap), Math.ceil(3.2 * cap));
  const x = canvas.getContext('2d');
  x.fillStyle = ground;
  x.fillRect(0, 0, canvas.width, canvas.height);
  if (gradient) {
    const g = x.createLinearGradient(0, 0, canvas.width, 0);
    g.addColorStop(0, '#ffffff');
    g.addColorStop(1, '#c9c9c9');
    x.fillStyle = g;
    x.fillRect(0, 0, canvas.width, canvas.height);
  }
  x.translate(canvas.width / 2, canvas.height / 2 + cap / 2);
  x.rotate((turn * Math.PI) / 180);
  x.transform(stretch, 0, -slant, 1, 0, 0);
  x.font = `${size}px ${face}`;
  x.fillStyle = ink;
  if (blur > 0) x.filter = `blur(${blur}px)`;
  x.fillText(text, -width / 2, 0);
  x.filter = 'none';
  x.setTransform(1, 0, 0, 1, 0, 0);
  x.fillStyle = ink;
  for (let i = 0; i < specks; i++) x.fillRect(((i * 37) % (canvas.width - 4)) + 2, i % 2 ? 3 : canvas.height - 4, 1, 1);
  const image = await loadImage(jpeg > 0 ? canvas.toBuffer('image/jpeg', jpeg) : canvas.toBuffer('image/png'));
  const out = createCanvas(image.width, image.height).getContext('2d');
  out.drawImage(image, 0, 0);
  return { width: image.width, height: image.height, data: out.getImageData(0, 0, image.width, image.height).data };
}

export function looked(pic, text, { among = faces, wish = {}, options = {}, asWord = null } = {}) {
  const { field } = core.inkOf(core.editPicture(pic, []), wish);
  const read = core.readWord(field, core.widthsOf(text, usual));
  if (!read) return null;
  const { answer, letters } = core.findFaces(text, read, among, familyOf, { ...options, asWord });
  const [first] = answer.families;
  return {
    letters,
    first: first?.best.item,
    sureness: answer.sureness,
    stretch: first?.best.stretch,
    slant: first?.best.slant,
    turn: first?.best.turn,
    scale: first?.best.scale,
    cut: read.cut,
    outline: first?.best.outline().length,
  };
}

const without = (name) => faces.filter((f) => familyOf(f.item) !== familyOf(name));
const found = [];
const words = ['Orchard', 'Bramble', 'Juniper', 'WEXFORD'];
const spoils = [
  { cap: 20 },
  { cap: 20, blur: 0.8, jpeg: 60 },
  { cap: 40, blur: 1.2, jpeg: 50, ground: '#20402e', ink: '#f2ecd8' },
  { cap: 80, turn: 1.6, gradient: true },
];
let k = 0;
for (const { item } of faces)
  for (const [i, spoil] of spoils.entries()) {
    const text = words[(i + k++) % words.length];
    const pic = await picture(item, text, spoil);
    found.push({ face: item, text, spoil: i, ...looked(pic, text) });
  }
const absent = [];
for (const { item } of faces)
  absent.push({ face: item, ...looked(await picture(item, 'Marigold', { cap: 40, blur: 0.6 }), 'Marigold', { among: without(item) }) });

const one = async (face, text, spoil, options) => looked(await picture(face, text, spoil), text, options);
const lines = async () => {
  const a = await picture('literata', 'First', { cap: 30 });
  const b = await picture('literata', 'ijij', { cap: 30 });
  const both = { width: Math.max(a.width, b.width), height: a.height + b.height };
  const data = new Uint8ClampedArray(4 * both.width * both.height).fill(255);
  for (const [p, y0] of [
    [a, 0],
    [b, a.height],
  ])
    for (let y = 0; y < p.height; y++) data.set(p.data.subarray(4 * y * p.width, 4 * (y + 1) * p.width), 4 * (y + y0) * both.width);
  const taken = core.takeApart(core.findInk({ ...both, data }).field);
  return core.linesOf(taken.parts).map((l) => core.groupsOf(taken.parts, l).length);
};
const guesses = async (face, text) => {
  const taken = core.takeApart(core.findInk(await picture(face, text, { cap: 40 })).field);
  const letters = core.groupsOf(taken.parts, core.linesOf(taken.parts)[0]).map((g) => core.letterOf(taken, g));
  return core
    .guessLetters(letters, faces)
    .map((g) => String.fromCodePoint(g[0].codePoint))
    .join('');
};
const softness = async (blur) => {
  const taken = core.takeApart(core.findInk(await picture('atkinsonBold', 'HELIX', { cap: 80, blur })).field);
  return core.softnessOf(core.groupsOf(taken.parts, core.linesOf(taken.parts)[0]).map((g) => core.letterOf(taken, g)));
};
/** How much of a picture's ink its tracing covers, against what either covers. */
const traced = async () => {
  const { field } = core.findInk(await picture('literata', 'Rg', { cap: 80 }));
  const flat = new core.FlattenPen(0.05);
  for (const c of core.traceInk(field)) core.drawContour(c, flat);
  flat.closePath();
  const own = core.rasterize(flat.polygons, { xMin: 0, yMin: 0, xMax: field.width, yMax: field.height }, field.width, field.height);
  let [both, either] = [0, 0];
  for (let y = 0; y < field.height; y++)
    for (let x = 0; x < field.width; x++) {
      const [p, q] = [Math.min(1, field.values[y * field.width + x]), own[(field.height - 1 - y) * field.width + x]];
      both += Math.min(p, q);
      either += Math.max(p, q);
    }
  return both / either;
};

/** A few small letters in a large noisy picture: how many parts of ink, and the color that is taken for it. */
const noisy = () => {
  const canvas = createCanvas(1200, 900);
  const x = canvas.getContext('2d');
  x.fillStyle = '#fff';
  x.fillRect(0, 0, 1200, 900);
  x.fillStyle = '#401020';
  x.font = '30px literata';
  x.fillText('Foxglove', 300, 500);
  const data = x.getImageData(0, 0, 1200, 900).data;
  let seed = 7;
  for (let i = 0; i < data.length; i++) if (i % 4 !== 3) data[i] += ((seed = (1664525 * seed + 1013904223) >>> 0) / 2 ** 32 - 0.5) * 60;
  const found = core.findInk({ width: 1200, height: 900, data });
  // Nothing but noise: as many parts as there can be.
  const specks = new Float32Array(1200 * 900).map((_, i) => (i % 2 && Math.floor(i / 1200) % 2 ? 1 : 0));
  return {
    ink: found.ink,
    parts: core.takeApart(found.field).parts.length,
    specks: core.takeApart({ width: 1200, height: 900, values: specks }).parts.length,
  };
};

console.log(
  JSON.stringify({
    noisy: noisy(),
    found,
    absent,
    narrowed: await one('atkinson', 'Bramble', { cap: 40, stretch: 0.88 }, { options: { stretched: true } }),
    slanted: await one('vietnam', 'Bramble', { cap: 40, slant: 0.18 }, { options: { slanted: true } }),
    upright: await one('vietnam', 'Bramble', { cap: 40 }, {}),
    joined: await one('caveat', 'meadow', { cap: 40, blur: 0.5 }, { asWord: true }),
    touching: await one('young', 'Orchard', { cap: 20, blur: 1.6 }, {}),
    few: await one('literata', 'Ox', { cap: 40 }, {}),
    dirty: await one('literata', 'Foxglove', { cap: 40, specks: 14 }, {}),
    accents: await one('noto', 'Köszégő', { cap: 40, blur: 0.6 }, {}),
    turned: await one('noto', 'Orchard', { cap: 40, turn: 2 }, {}),
    lines: await lines(),
    guesses: [await guesses('literata', 'Hamburg'), await guesses('atkinson', 'Foxtrend')],
    softness: [await softness(0), await softness(1), await softness(2)],
    traced: await traced(),
    bytes: faces.map((f) => core.encodeShapes(core.openFace(new Uint8Array(readFileSync(FILES[f.item])), nodeCodec, 0)).length),
  }),
);
