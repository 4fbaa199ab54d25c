// Which face is in a picture? Words set by Chromium in faces of a folder, spoiled as pictures are, and looked for among all of them.
// node bench/match.mjs FOLDER [COUNT] [SEED] [--kind plain|joined|stretched|absent] [--cap 20,40,80] [--json]
// FOLDER holds font files; each face's index is made first and timed. A query counts as right when the face or a twin is named.
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { createCanvas, loadImage } from '@napi-rs/canvas';
import { chromium } from 'playwright-core';
import * as core from '../packages/core/dist/index.js';
import { nodeCodec } from '../packages/node/dist/index.js';

const args = process.argv.slice(2);
const option = (name, otherwise) => (args.includes(`--${name}`) ? args.splice(args.indexOf(`--${name}`), 2)[1] : otherwise);
const kind = option('kind', 'plain');
const caps = option('cap', '20,40,80').split(',').map(Number);
const only = option('only', '');
/** a or b: faces of one half of the families only; nothing is tuned on b. */
const half = option('half', '');
/** Every word as one shape. */
const asWords = args.includes('--words') && args.splice(args.indexOf('--words'), 1);
const regular = args.includes('--regular') && args.splice(args.indexOf('--regular'), 1);
const verbose = args.includes('--say') && args.splice(args.indexOf('--say'), 1);
const json = args.includes('--json') && args.splice(args.indexOf('--json'), 1);
const [folder, count = '100', seedText = '1'] = args;
let seed = Number(seedText) * 7919 + 17;
/** Numerical Recipes' linear congruential generator. */
const random = () => (seed = (1664525 * seed + 1013904223) >>> 0) / 2 ** 32;
const pick = (list) => list[Math.floor(random() * list.length)];

const files = [];
const walk = (dir) => {
  for (const name of readdirSync(dir).sort()) {
    const path = join(dir, name);
    if (statSync(path).isDirectory()) walk(path);
    else if (/\.(ttf|otf)$/i.test(name)) files.push(path);
  }
};
for (const f of folder.split(',')) walk(f);

const faces = [];
const times = [];
let bytesOfAll = 0;
for (const path of files) {
  try {
    const bytes = new Uint8Array(readFileSync(path));
    const face = core.openFace(bytes, nodeCodec, 0);
    const naming = core.nameFace(core.readFacts(bytes, nodeCodec).faces[0], path);
    const began = performance.now();
    const encoded = core.encodeShapes(face);
    times.push(performance.now() - began);
    if (!encoded) continue;
    const shapes = core.decodeShapes(encoded);
    if (!'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz'.split('').every((c) => shapes.letters.has(c.codePointAt(0)))) continue;
    bytesOfAll += encoded.length;
    const h = shapes.letters.get(72);
    faces.push({
      item: { path, family: naming.family, style: naming.style, weight: naming.weightClass, slope: naming.slope, id: faces.length },
      shapes,
      cap: h.height / 1000,
    });
  } catch {
    // What cannot be read is in no library.
  }
}
times.sort((a, b) => a - b);
console.error(
  `${faces.length} faces of ${files.length} files, ${Math.round(bytesOfAll / faces.length)} bytes and ${times[times.length >> 1].toFixed(1)} ms each (p95 ${times[Math.floor(times.length * 0.95)].toFixed(1)})`,
);

const WORDS = [
  'Orchard',
  'Bramble',
  'Foxglove',
  'Kingfisher',
  'Marigold',
  'Thimble',
  'Quarry',
  'Wexford',
  'Juniper',
  'Velvet',
  'Bazaar',
  'Lantern',
  'Hazelnut',
  'Pottery',
  'Cobbler',
  'Driftwood',
  'Gazebo',
  'Nightjar',
  'Saffron',
  'Umbrella',
  'Yardley',
  'Alchemy',
  'Icehouse',
  'Emporium',
  'Rhubarb',
  'Millstone',
  'Clockwork',
  'Tapestry',
];
const isTwin = (a, b, text = 'HOnopdeaRSgt') =>
  Boolean(a && b) &&
  core.areTwins(
    a.shapes,
    b.shapes,
    [...text].map((c) => c.codePointAt(0)),
  );

const browser = await chromium.launch({ executablePath: '/usr/bin/chromium' });
const page = await browser.newPage();
await page.setContent('<body></body>');
/** A word as a picture: [bytes of PNG or JPEG]. */
async function picture(face, text, cap, spoil) {
  const base64 = readFileSync(face.item.path).toString('base64');
  const url = await page.evaluate(
    async ({ base64, text, size, cap, spoil }) => {
      const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      const font = new FontFace('Q', bytes.buffer, {});
      await font.load();
      document.fonts.add(font);
      const c = document.createElement('canvas');
      const x = c.getContext('2d');
      x.font = `${size}px Q`;
      const m = x.measureText(text);
      const pad = Math.ceil(cap * 0.7);
      const [w0, h0] = [m.actualBoundingBoxRight + m.actualBoundingBoxLeft, m.actualBoundingBoxAscent + m.actualBoundingBoxDescent];
      const turn = (spoil.turn * Math.PI) / 180;
      c.width = Math.ceil(w0 * spoil.stretch + 2 * pad + Math.abs(Math.sin(turn)) * h0);
      c.height = Math.ceil(h0 + 2 * pad + Math.abs(Math.sin(turn)) * w0);
      x.fillStyle = spoil.ground;
      x.fillRect(0, 0, c.width, c.height);
      x.translate(c.width / 2, c.height / 2);
      x.rotate(turn);
      x.transform(spoil.stretch, 0, -spoil.slant, 1, 0, 0);
      x.font = `${size}px Q`;
      x.fillStyle = spoil.ink;
      if (spoil.blur > 0) x.filter = `blur(${spoil.blur}px)`;
      x.fillText(text, m.actualBoundingBoxLeft - w0 / 2, m.actualBoundingBoxAscent - h0 / 2);
      document.fonts.delete(font);
      let out = c;
      if (spoil.lens !== 0) {
        // Seen a little from the side: columns shrink towards one end.
        out = document.createElement('canvas');
        out.width = c.width;
        out.height = c.height;
        const o = out.getContext('2d');
        o.fillStyle = spoil.ground;
        o.fillRect(0, 0, c.width, c.height);
        for (let i = 0; i < c.width; i++) {
          const k = 1 + spoil.lens * (i / c.width - 0.5);
          o.drawImage(c, i, 0, 1, c.height, i, (c.height * (1 - k)) / 2, 1, c.height * k);
        }
      }
      const o = out.getContext('2d');
      if (spoil.noise > 0) {
        const data = o.getImageData(0, 0, out.width, out.height);
        let s = spoil.seed >>> 0;
        const r = () => (s = (1664525 * s + 1013904223) >>> 0) / 2 ** 32;
        for (let i = 0; i < data.data.length; i += 4) {
          const n = (r() + r() + r() - 1.5) * 2 * spoil.noise;
          for (let k = 0; k < 3; k++) data.data[i + k] += n;
        }
        o.putImageData(data, 0, 0);
      }
      return spoil.jpeg > 0 ? out.toDataURL('image/jpeg', spoil.jpeg / 100) : out.toDataURL('image/png');
    },
    { base64, text, size: cap / face.cap, cap, spoil: { ...spoil } },
  );
  const image = await loadImage(Buffer.from(url.slice(url.indexOf(',') + 1), 'base64'));
  const canvas = createCanvas(image.width, image.height);
  const x = canvas.getContext('2d');
  x.drawImage(image, 0, 0);
  return { width: image.width, height: image.height, data: x.getImageData(0, 0, image.width, image.height).data };
}
const color = (dark) => {
  const v = () => Math.round(dark ? random() * 90 : 170 + random() * 85);
  return `rgb(${v()},${v()},${v()})`;
};
function spoiled(cap) {
  const inverted = random() < 0.3;
  const colored = random() < 0.4;
  const light = colored ? color(false) : '#fff';
  const dark = colored ? color(true) : '#000';
  return {
    ground: inverted ? dark : light,
    ink: inverted ? light : dark,
    blur: random() < 0.6 ? random() * 0.05 * cap : 0,
    noise: random() < 0.5 ? random() * 10 : 0,
    jpeg: random() < 0.6 ? 40 + Math.floor(random() * 31) : 0,
    turn: random() < 0.3 ? (1 + 2 * random()) * (random() < 0.5 ? -1 : 1) : 0,
    lens: random() < 0.2 ? (random() - 0.5) * 0.2 : 0,
    stretch: kind === 'stretched' ? (random() < 0.5 ? 0.88 : 1.12) : 1,
    slant: kind === 'slanted' ? 0.1 + 0.15 * random() : 0,
    seed: Math.floor(random() * 2 ** 31),
  };
}

const usual = new Map();
{
  const sums = new Map();
  for (const f of faces)
    for (const [c, l] of f.shapes.letters) {
      const s = sums.get(c) ?? [0, 0];
      s[0] += l.width / (f.cap * 1000);
      s[1]++;
      sums.set(c, s);
    }
  for (const [c, [s, n]] of sums) usual.set(c, s / n);
}
const hash = (text) => [...text].reduce((h, c) => (Math.imul(h, 31) + c.charCodeAt(0)) >>> 0, 7);
const isScript = (f) =>
  /script|hand|dance|pacifico|lobster|cookie|courgette|damion|great|kaushan|marck|mr-|mrs-|niconne|pinyon|parisienne|petit|sacramento|satisfy|tangerine|yellowtail|alex|playball|rochester|rancho|grand-hotel|norican|merienda|oleo/i.test(
    f.item.path,
  );
const pool = faces
  .filter((f) => (only ? f.item.path.includes(only) : true) && (kind === 'joined' ? isScript(f) : !isScript(f)))
  .filter((f) => !half || (hash(f.item.family) % 2 === 0 ? 'a' : 'b') === half)
  .filter((f) => !regular || (f.item.weight === 400 && f.item.slope === 'upright'));
const wanted = Number(count);
const chosen = [];
const left = [...pool];
while (chosen.length < wanted && left.length > 0) chosen.push(left.splice(Math.floor(random() * left.length), 1)[0]);

const rows = [];
for (const face of chosen)
  for (const cap of caps) {
    let text = pick(WORDS);
    if (random() < 0.35) text = text.toUpperCase();
    const spoil = spoiled(cap);
    const pic = await picture(face, text, cap, spoil);
    const index = kind === 'absent' ? faces.filter((f) => f.item.family !== face.item.family && !isTwin(f, face, text)) : faces;
    const began = performance.now();
    const { field } = core.findInk(pic);
    const codePoints = [...text].map((c) => c.codePointAt(0));
    const read = core.readWord(
      field,
      codePoints.map((c) => usual.get(c)),
    );
    const groups = read?.taken.parts ?? [];
    const letters = read ? core.namedLetters(text, read, index) : [];
    const mid = performance.now();
    const asWord = asWords || kind === 'joined' || (kind !== 'letters' && read && core.readsAsWord(read));
    const result =
      asWord && read?.whole
        ? core.searchWord(read.whole, text, index, (i) => i.family)
        : core.searchFaces(letters, index, (i) => i.family, { stretched: kind === 'stretched', slanted: kind === 'slanted' });
    const took = performance.now() - mid;
    const asked = letters.map((l) => ({ codePoint: l.codePoint, cells: l.letter.cells, box: l.letter.box }));
    const rank = verbose
      ? core
          .rankSoftened(asked, core.rankCoarse(asked, index), core.softnessOf(letters.map((l) => l.letter)))
          .findIndex((c) => c.face.item === face.item)
      : 0;
    const place = result.found.findIndex(
      (f) =>
        f.item === face.item ||
        isTwin(
          index.find((x) => x.item === f.item),
          face,
        ),
    );
    const families = [...new Set(result.found.map((f) => f.item.family))];
    const first = result.found[0];
    rows.push({
      rank,
      cap,
      text,
      family: face.item.family,
      style: face.item.style,
      place,
      groups: groups.length,
      letters: letters.length,
      wanted: codePoints.length,
      prepared: mid - began,
      took,
      five:
        families.slice(0, 5).includes(face.item.family) || (place >= 0 && families.slice(0, 5).includes(result.found[place].item.family)),
      sameFamily: first?.item.family === face.item.family || place === 0,
      score: first?.score ?? null,
      ...(() => {
        const answer = core.answerOf(
          result,
          (i) => i.family,
          (i) => faces[i.id].shapes,
          codePoints,
          Boolean(asWord),
        );
        return {
          sureness: answer.sureness,
          other: answer.families[1]?.best.score ?? null,
          first: first && `${first.item.family} ${first.item.style}`,
          asWord: Boolean(asWord),
        };
      })(),
      spoil,
    });
    const r = rows[rows.length - 1];
    if (verbose && r.place !== 0)
      console.error(
        `${cap} ${text} ${r.family} ${r.style}: place ${r.place}, coarse ${r.rank}, first ${first?.item.family} ${first?.item.style} ${first?.score.toFixed(4)}; own ${result.found[place]?.score.toFixed(4)}; level ${read?.taken.level} parts ${r.groups} letters ${r.letters}/${r.wanted}; blur ${spoil.blur.toFixed(1)} jpeg ${spoil.jpeg} turn ${spoil.turn.toFixed(1)} lens ${spoil.lens.toFixed(2)}`,
      );
  }
await browser.close();
if (json) console.log(JSON.stringify(rows));
const share = (list, f) => `${((100 * list.filter(f).length) / Math.max(1, list.length)).toFixed(1)}%`;
const at = (list, q) => list.sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * q))];
for (const cap of [...caps, null]) {
  const list = rows.filter((r) => cap === null || r.cap === cap);
  const sure = (word) =>
    `${word} ${share(list, (r) => r.sureness === word)} (wrong ${share(list, (r) => r.sureness === word && !r.sameFamily)})`;
  console.error(
    `${cap ?? 'all'} px, ${list.length}: ${['surely', 'probably', 'nearest', 'none'].map(sure).join(', ')}\n    first ${share(list, (r) => r.place === 0)}, family first ${share(list, (r) => r.sameFamily)}, among five ${share(list, (r) => r.five)}, letters right in number ${share(list, (r) => r.letters === r.wanted)}; ${at(
      list.map((r) => r.took),
      0.5,
    )?.toFixed(0)} ms, p95 ${at(
      list.map((r) => r.took),
      0.95,
    )?.toFixed(0)}; prepared ${at(
      list.map((r) => r.prepared),
      0.5,
    )?.toFixed(0)} ms`,
  );
}
