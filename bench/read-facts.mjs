// Reading a face's facts against fontTools opening the same face lazily, over fonts-noto-core, both warm.
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { readFacts, inspectFont } from '../packages/core/dist/index.js';
import { nodeCodec } from '../packages/node/dist/index.js';

const dir = '/usr/share/fonts/truetype/noto';
const files = readdirSync(dir)
  .filter((f) => f.endsWith('.ttf'))
  .map((f) => `${dir}/${f}`);
const ROUNDS = 5;
const median = (list) => [...list].sort((a, b) => a - b)[list.length >> 1];

function time(work) {
  const best = new Map();
  for (let round = 0; round < ROUNDS; round++)
    for (const path of files) {
      const start = performance.now();
      work(readFileSync(path));
      const took = performance.now() - start;
      best.set(path, Math.min(took, best.get(path) ?? took));
    }
  return best;
}

const ours = time((bytes) => readFacts(bytes, nodeCodec));
const deep = time((bytes) => inspectFont(bytes, nodeCodec));
const theirs = JSON.parse(
  spawnSync('/usr/bin/python3', [new URL('fonttools-lazy.py', import.meta.url).pathname, String(ROUNDS), ...files], {
    encoding: 'utf8',
    maxBuffer: 1 << 26,
  }).stdout,
);
const ratios = files.map((f) => ours.get(f) / theirs[f]);
console.log(`${files.length} faces, best of ${ROUNDS} rounds each`);
console.log(
  `facts          median ${median([...ours.values()]).toFixed(2)} ms, sum ${[...ours.values()].reduce((a, b) => a + b).toFixed(0)} ms`,
);
console.log(
  `with deep check median ${median([...deep.values()]).toFixed(2)} ms, sum ${[...deep.values()].reduce((a, b) => a + b).toFixed(0)} ms`,
);
console.log(
  `fontTools lazy median ${median(Object.values(theirs)).toFixed(2)} ms, sum ${Object.values(theirs)
    .reduce((a, b) => a + b)
    .toFixed(0)} ms`,
);
console.log(`ratio facts / fontTools: median ${median(ratios).toFixed(2)}, worst ${Math.max(...ratios).toFixed(2)}`);
