// Sheets filled by a stand-in hand, read back and compared with what was drawn.
// node bench/drawn.mjs [FACES] [JOURNEYS] [SEED] [EM]: overlap of what both cover at 512 px an em, mean distance of edges, how far the
// lowest ink lies from where it should, points beside those of the source; --json prints figures for a program.
import { readFileSync } from 'node:fs';
import * as core from '../packages/core/dist/index.js';
import { nodeCodec, nodeCodeReader } from '../packages/node/dist/index.js';
import { cleanExport, filledPage, photographed, scanned } from '../packages/core/test/filler.mjs';

const google = (name, file) => new URL(`../node_modules/@expo-google-fonts/${name}/400Regular/${file}_400Regular.ttf`, import.meta.url);
const FACES = {
  gochi: google('gochi-hand', 'GochiHand'),
  caveat: google('caveat', 'Caveat'),
  yusei: google('yusei-magic', 'YuseiMagic'),
  literata: google('literata', 'Literata'),
  young: google('young-serif', 'YoungSerif'),
  atkinson: google('atkinson-hyperlegible-next', 'AtkinsonHyperlegibleNext'),
  vietnam: google('be-vietnam-pro', 'BeVietnamPro'),
};
const JOURNEYS = { clean: cleanExport, scan: scanned, photo: photographed };
const CHARACTERS = [...'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789.,;:!?&()-'];
const args = process.argv.slice(2).filter((a) => a !== '--json');
const json = process.argv.includes('--json');
const faces = (args[0] ?? 'gochi,caveat,yusei,literata').split(',');
const journeys = (args[1] ?? 'clean,scan,photo').split(',');
const seed = Number(args[2] ?? 1);
const em = Number(args[3] ?? 14);
const reader = await nodeCodeReader();

const flat = (contours) => {
  const pen = new core.FlattenPen(0.2);
  for (const c of contours) core.drawContour(c, pen);
  pen.closePath();
  return pen.polygons;
};
const lengthOf = (polygons) => {
  let sum = 0;
  for (const p of polygons)
    for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) sum += Math.hypot(p[i] - p[j], p[i + 1] - p[j + 1]);
  return sum;
};
const lowest = (contours) => Math.min(...flat(contours).flatMap((p) => p.filter((_, k) => k % 2 === 1)));
const points = (contours) => contours.reduce((s, c) => s + c.segments.length, 0);
const mean = (list) => list.reduce((s, v) => s + v, 0) / list.length;
const at = (list, share) => [...list].sort((a, b) => a - b)[Math.floor((list.length - 1) * share)];

const BOX = { xMin: -200, xMax: 1200, yMin: -400, yMax: 1000 };
const SIDE = Math.round(1.4 * 512);
const out = [];
for (const name of faces) {
  const face = core.openFace(new Uint8Array(readFileSync(FACES[name])), nodeCodec, 0);
  const s = 1000 / face.unitsPerEm;
  const plan = {
    id: 'ABCDEFGH23456723',
    layout: 1,
    paper: 'A4',
    em,
    cells: CHARACTERS.map((character) => ({ character, variant: 0 })),
    words: [],
  };
  const truth = CHARACTERS.map((c) => {
    const pen = new core.ContourPen();
    face.draw(face.glyphOf(c.codePointAt(0)), new core.TransformPen([s, 0, 0, s, 30, 0], pen));
    pen.closePath();
    return pen.contours;
  });
  for (const way of journeys) {
    const row = { face: name, way, overlap: [], edge: [], base: [], points: 0, truePoints: 0, lost: 0, findings: [], ms: 0, boxes: 0 };
    for (const page of core.layOut(plan)) {
      const picture = await filledPage(plan, page, JOURNEYS[way](plan, seed), (i) => flat(truth[i]).map((p) => p.map((v) => v / 1000)));
      const began = performance.now();
      const gray = core.channelOf(picture, 'red');
      const found = await core.findPages(gray, reader);
      if (found.length !== 1) {
        row.lost += page.cells.length;
        row.findings.push('no-code');
        continue;
      }
      const read = core.readPage(picture, gray, found[0], plan, page);
      row.ms += performance.now() - began;
      row.boxes += page.cells.length;
      row.findings.push(...read.findings.map((f) => f.code));
      if (read.cells.length === 0) row.lost += page.cells.length;
      for (const { index, contours } of read.cells) {
        if (contours.length === 0) {
          row.lost++;
          continue;
        }
        const [a, b] = [core.rasterize(flat(truth[index]), BOX, SIDE, SIDE), core.rasterize(flat(contours), BOX, SIDE, SIDE)];
        let [least, most, off] = [0, 0, 0];
        for (let k = 0; k < a.length; k++) {
          least += Math.min(a[k], b[k]);
          most += Math.max(a[k], b[k]);
          off += Math.abs(a[k] - b[k]);
        }
        row.overlap.push(least / most);
        row.edge.push((off * (1400 / SIDE) ** 2) / lengthOf(flat(truth[index])));
        row.base.push(Math.abs(lowest(truth[index]) - lowest(contours)));
        row.points += points(contours);
        row.truePoints += points(truth[index]);
      }
    }
    out.push(row);
    if (!json)
      console.log(
        `${name} ${way}: overlap ${mean(row.overlap).toFixed(4)}, fifth percentile ${at(row.overlap, 0.05).toFixed(4)}, least ${Math.min(...row.overlap).toFixed(4)}; edge ${mean(row.edge).toFixed(2)}, base p95 ${at(row.base, 0.95).toFixed(2)} thousandths; points ${(row.points / row.truePoints).toFixed(2)}; lost ${row.lost}; ${Math.round(row.ms)} ms for ${row.boxes} boxes${row.findings.length ? `; ${row.findings.join(', ')}` : ''}`,
      );
  }
}
const all = (way) => {
  const rows = out.filter((r) => r.way === way);
  const overlap = rows.flatMap((r) => r.overlap);
  return {
    way,
    overlap: mean(overlap),
    p5: at(overlap, 0.05),
    edge: mean(rows.flatMap((r) => r.edge)),
    base: at(
      rows.flatMap((r) => r.base),
      0.95,
    ),
    points: rows.reduce((s, r) => s + r.points, 0) / rows.reduce((s, r) => s + r.truePoints, 0),
    lost: rows.reduce((s, r) => s + r.lost, 0),
    findings: rows.flatMap((r) => r.findings),
    ms: mean(rows.map((r) => (r.ms / r.boxes) * 72)),
  };
};
const totals = journeys.map(all);
if (json) console.log(JSON.stringify(totals));
else
  for (const t of totals)
    console.log(
      `all ${t.way}: overlap ${t.overlap.toFixed(4)}, fifth percentile ${t.p5.toFixed(4)}, edge ${t.edge.toFixed(2)}, base p95 ${t.base.toFixed(2)}, points ${t.points.toFixed(2)}, lost ${t.lost}, ${Math.round(t.ms)} ms for 72 boxes`,
    );
process.exit(0);
