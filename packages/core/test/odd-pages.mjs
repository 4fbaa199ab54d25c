import { readFileSync } from 'node:fs';
import * as core from '../dist/index.js';
import { nodeCodec, nodeCodeReader } from '../../node/dist/index.js';
import { cleanExport, drawnBy, filledPage, photographed, scanned } from './filler.mjs';

// What is said of pages that were taken badly, and of odd boxes: node packages/core/test/odd-pages.mjs prints JSON.
const face = core.openFace(new Uint8Array(readFileSync(process.argv[2])), nodeCodec, 0);
const cells = [...'nohbadegHOTzx.i,'].map((character) => ({ character, variant: 0 }));
const plan = { id: 'ABCDEFGH23456723', layout: 1, paper: 'Letter', em: 20, cells, words: ['minimum honey'] };
const [page] = core.layOut(plan);
const reader = await nodeCodeReader();
const ink = (i) => drawnBy(face, cells[i].character);
const words = (i) => drawnBy(face, plan.words[i]);
const flat = (contours) => {
  const pen = new core.FlattenPen(0.2);
  for (const c of contours) core.drawContour(c, pen);
  pen.closePath();
  return pen.polygons;
};
const BOX = { xMin: -200, xMax: 1200, yMin: -400, yMax: 1000 };
function overlap(index, contours) {
  const [a, b] = [ink(index).map((p) => p.map((v) => 1000 * v)), flat(contours)].map((p) => core.rasterize(p, BOX, 700, 700));
  let [least, most] = [0, 0];
  for (let k = 0; k < a.length; k++) {
    least += Math.min(a[k], b[k]);
    most += Math.max(a[k], b[k]);
  }
  return least / most;
}
async function read(picture) {
  const gray = core.channelOf(picture, 'red');
  const found = await core.findPages(gray, reader);
  if (found.length !== 1) return { codes: [found.length === 0 ? 'no-code' : 'two-sheets'], page: null };
  return core.readPage(picture, gray, found[0], plan, page);
}
async function judged(journey, draw = ink, change = (p) => p) {
  const result = await read(change(await filledPage(plan, page, journey, draw, words)));
  if (!('cells' in result)) return { codes: result.codes, least: 0, boxes: {} };
  const overlaps = draw === ink ? result.cells.map((c) => overlap(c.index, c.contours)) : [];
  return {
    codes: result.findings.map((f) => f.code),
    channel: result.channel,
    pxPerEm: result.pxPerEm,
    least: Math.min(...overlaps),
    boxes: Object.fromEntries(result.cells.map((c) => [c.cell.character, c.findings.map((f) => f.code)])),
    contours: Object.fromEntries(result.cells.map((c) => [c.cell.character, c.contours.length])),
    letters: result.words.map((w) => (core.lettersOf(w.contours, w.text, (c) => core.shapeOf(c)?.box ?? null) ?? []).map((l) => l.length)),
  };
}
const scan = scanned(plan, 1, 1.3, 170);
const turned = (quarter, mirror = false) => {
  const { width: w, height: h, place } = scan;
  const odd = quarter % 2 === 1;
  return {
    ...scan,
    width: odd ? h : w,
    height: odd ? w : h,
    place: (x, y) => {
      const [at, v] = place(x, y);
      const u = mirror ? w - at : at;
      return quarter === 1 ? [h - v, u] : quarter === 2 ? [w - u, h - v] : quarter === 3 ? [v, w - u] : [u, v];
    },
  };
};
// Smaller than phones take it, and quicker.
const whole = photographed(plan, 9);
const photo = {
  ...whole,
  width: whole.width / 2,
  height: whole.height / 2,
  place: (x, y) => whole.place(x, y).map((v) => v / 2),
  light: (x, y) => whole.light(2 * x, 2 * y),
};
const within = (p, f) => {
  const data = new Uint8ClampedArray(p.data);
  for (let y = 0, i = 0; y < p.height; y++) for (let x = 0; x < p.width; x++, i += 4) f(data, i, x / p.width, y / p.height);
  return { ...p, data };
};
const rect = (x0, y0, x1, y1) => [x0, y0, x1, y0, x1, y1, x0, y1];
const odd = (i) =>
  cells[i].character === 'n'
    ? []
    : cells[i].character === 'o'
      ? [rect(-0.11, -0.35, 1.11, 0.97)]
      : cells[i].character === 'h'
        ? [rect(0.2, 0, 0.3, 1.03)]
        : cells[i].character === 'b'
          ? [...ink(i), rect(0.9, 0.8, 0.917, 0.817)]
          : cells[i].character === 'a'
            ? [rect(0.2, 0, 0.8, 0.5), [...rect(0.5, 0.2, 0.52, 0.22)].reverse(), [...rect(0.3, 0.2, 0.36, 0.26)].reverse()].map((p) =>
                p[0] === 0.2 ? p : [p[0], p[1], p[6], p[7], p[4], p[5], p[2], p[3]],
              )
            : ink(i);
const out = {
  scan: await judged(scan),
  upsideDown: await judged(turned(2)),
  onItsSide: await judged(turned(1)),
  mirrored: await judged(turned(0, true)),
  mirroredOnItsSide: await judged(turned(3, true)),
  photo: await judged(photo),
  cutOff: await judged({ ...photo, width: Math.round(photo.width * 0.72) }),
  far: await judged({ ...scan, width: 1000, height: 1250, place: (x, y) => [80 + x * 3.8, 80 + y * 3.8] }),
  shaken: await judged({ ...scan, blur: 6 }),
  redPen: await judged({ ...scan, pen: [230, 30, 40] }),
  bluePen: await judged({ ...scan, pen: [40, 60, 190] }),
  pencil: await judged({ ...scan, pen: [120, 120, 124] }),
  glare: await judged(photo, ink, (p) =>
    within(p, (d, i, x, y) => {
      const g = Math.max(0, 1 - Math.hypot(x - 0.4, y - 0.6) / 0.16);
      for (let c = 0; c < 3; c++) d[i + c] += (255 - d[i + c]) * Math.min(1, 8 * g);
    }),
  ),
  handOnPage: await judged(photo, ink, (p) =>
    within(p, (d, i, x, y) => {
      if (x > 0.45 && y > 0.3) [d[i], d[i + 1], d[i + 2]] = [190, 140, 120];
    }),
  ),
  odd: await judged(scan, odd),
  digital: await judged(cleanExport(plan)),
};
console.log(JSON.stringify(out));
process.exit(0);
