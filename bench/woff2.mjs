// WOFF2 compression against Debian's woff2_compress: time and size, font by font.
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { convertFont } from '../packages/core/dist/index.js';
import { nodeCodec } from '../packages/node/dist/index.js';

const dir = '/usr/share/fonts/truetype/noto';
const all = readdirSync(dir).filter((f) => f.endsWith('.ttf'));
const files = all
  .filter((_, i) => i % 8 === 0)
  .concat(['NotoSans-Regular.ttf', 'NotoSerif-Regular.ttf'])
  .map((f) => join(dir, f));
const temp = mkdtempSync(join(tmpdir(), 'bench-'));
const median = (list) => [...list].sort((a, b) => a - b)[list.length >> 1];
convertFont(readFileSync(files[0]), 'woff2', nodeCodec);
const rows = files.map((path) => {
  const bytes = readFileSync(path);
  let start = performance.now();
  const packed = convertFont(bytes, 'woff2', nodeCodec);
  const ours = performance.now() - start;
  copyFileSync(path, join(temp, 'in.ttf'));
  start = performance.now();
  spawnSync('woff2_compress', [join(temp, 'in.ttf')]);
  const theirs = performance.now() - start;
  return { ours, theirs, size: packed.length, reference: statSync(join(temp, 'in.woff2')).size };
});
rmSync(temp, { recursive: true });
const sum = (key) => rows.reduce((s, r) => s + r[key], 0);
console.log(`${rows.length} faces`);
console.log(
  `time ratio ours / woff2_compress: median ${median(rows.map((r) => r.ours / r.theirs)).toFixed(2)}, sum ${(sum('ours') / sum('theirs')).toFixed(2)}`,
);
console.log(
  `size ratio: median ${median(rows.map((r) => r.size / r.reference)).toFixed(4)}, sum ${(sum('size') / sum('reference')).toFixed(4)}, worst ${Math.max(...rows.map((r) => r.size / r.reference)).toFixed(4)}`,
);
console.log(`within 0.5% of the reference's size: ${rows.filter((r) => r.size <= r.reference * 1.005).length} of ${rows.length}`);
