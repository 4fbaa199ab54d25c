// Outlines of Source Serif 4 (OTF) made quadratic: points and time against fontTools' cu2qu, in one run; and a subset to Polish
// against Debian's hb-subset. node bench/convert.mjs
import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { recipeFor, render, runsOfLanguages } from '../packages/core/dist/convert/index.js';
import { GLYF } from '../packages/core/dist/sfnt/index.js';
import { openFace } from '../packages/core/dist/font/index.js';
import { nodeCodec, nodeSubsetter } from '../packages/node/dist/index.js';

const path = new URL('../node_modules/source-serif/OTF/SourceSerif4-Regular.otf', import.meta.url).pathname;
const bytes = new Uint8Array(readFileSync(path));
const face = openFace(bytes, nodeCodec);
const tools = { codec: nodeCodec, subsetter: await nodeSubsetter() };
const step = (await import('../packages/core/dist/convert/steps/outlines.js')).OUTLINES;
const best = (act) => {
  let least = Infinity;
  for (let i = 0; i < 5; i++) {
    const began = performance.now();
    act();
    least = Math.min(least, performance.now() - began);
  }
  return least;
};
const ours = best(() => step.run({ face: openFace(bytes, nodeCodec), format: 'otf', bytes }, { to: 'glyf' }, tools));
const fast = best(() => step.run({ face: openFace(bytes, nodeCodec), format: 'otf', bytes }, { to: 'glyf', quick: true }, tools));
const quick = render(bytes, 0, recipeFor(face, 'otf', { to: 'ttf', quick: true }), tools);
const made = render(bytes, 0, recipeFor(face, 'otf', { to: 'ttf' }), tools);
const out = join(tmpdir(), 'bench-convert.ttf');
writeFileSync(out, made.bytes);
const theirs = JSON.parse(
  spawnSync(
    '/usr/bin/python3',
    [
      '-c',
      `
import json, sys, time
from fontTools.ttLib import TTFont
from fontTools.pens.cu2quPen import Cu2QuPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
best = 1e9
for i in range(3):
    t = time.time(); f = TTFont(sys.argv[1]); gs = f.getGlyphSet(); n = 0
    for g in f.getGlyphOrder():
        p = TTGlyphPen(None); gs[g].draw(Cu2QuPen(p, 0.5, reverse_direction=True)); q = p.glyph()
        if q.numberOfContours > 0: n += len(q.coordinates)
    best = min(best, time.time() - t)
o = TTFont(sys.argv[2])
print(json.dumps({'points': n, 'ms': best * 1000, 'ours': sum(len(o['glyf'][g].coordinates) for g in o.getGlyphOrder() if o['glyf'][g].numberOfContours > 0)}))`,
      path,
      out,
    ],
    { encoding: 'utf8' },
  ).stdout,
);
console.log(
  `points ${(theirs.ours / theirs.points).toFixed(3)} of cu2qu's, time ${(ours / theirs.ms).toFixed(2)} (${ours.toFixed(0)} and ${theirs.ms.toFixed(0)} ms); farthest ${made.comparison.farthest.toFixed(3)} units, both ways`,
);

// The other way round, against tx of Debian's afdko where it is at hand (TX=its path): the whole CFF table, +S.
if (process.env.TX) {
  const folder = new URL('../node_modules/', import.meta.url).pathname;
  const faces = (
    process.env.FACES ??
    `${folder}source-serif/TTF/SourceSerif4-Regular.ttf ${folder}@expo-google-fonts/literata/400Regular/Literata_400Regular.ttf`
  ).split(' ');
  let [mine, reference] = [0, 0];
  for (const path of faces) {
    const make = (share) => render(new Uint8Array(readFileSync(path)), 0, [{ step: 'outlines', options: { to: 'CFF', share } }], tools);
    const plain = join(tmpdir(), 'bench-plain.otf');
    const packed = join(tmpdir(), 'bench-tx.cff');
    writeFileSync(plain, make(false).bytes);
    spawnSync(process.env.TX, ['-cff', '+S', '+b', plain, packed]);
    mine += make(true).face.bytes('CFF ').length;
    reference += readFileSync(packed).length;
  }
  console.log(`CFF tables of ${faces.length} faces ${(mine / reference).toFixed(3)} of tx +S`);
}

const count = (f) => f.need(GLYF).reduce((n, g) => n + (g?.kind === 'simple' ? g.x.length : 0), 0);
console.log(
  `quick: points ${(count(quick.face) / theirs.points).toFixed(3)} of cu2qu's, time ${(fast / theirs.ms).toFixed(2)}; farthest ${quick.comparison.farthest.toFixed(3)}, ${quick.comparison.equal ? 'proved' : quick.comparison.differences[0]}`,
);

const runs = runsOfLanguages(['pl']);
const ranges = [];
for (let i = 0; i < runs.length; i += 2) ranges.push(`${runs[i].toString(16)}-${runs[i + 1].toString(16)}`);
const SUBSET = (await import('../packages/core/dist/convert/steps/subset.js')).SUBSET;
const cut = best(() => SUBSET.run({ face: openFace(bytes, nodeCodec), format: 'otf', bytes }, { runs }, tools));
const native = best(() =>
  spawnSync('hb-subset', [
    path,
    `--unicodes=${ranges.join()}`,
    '--no-hinting',
    '--layout-features=*',
    '-o',
    join(tmpdir(), 'bench-hb.otf'),
  ]),
);
console.log(`subset to Polish ${(cut / native).toFixed(2)} of hb-subset as a process (${cut.toFixed(0)} and ${native.toFixed(0)} ms)`);
