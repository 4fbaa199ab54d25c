// Outlines of Source Serif 4 (OTF) made quadratic: points and time against fontTools' cu2qu, in one run; and a subset to Polish
// against Debian's hb-subset. node bench/convert.mjs
import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { recipeFor, render, runsOfLanguages } from '../packages/core/dist/convert/index.js';
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
