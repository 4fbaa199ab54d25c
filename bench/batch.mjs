// A hundred faces to WOFF2 in the server's processes: one worker against two. node bench/batch.mjs
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { Compute } from '../apps/server/dist/platform/compute/pool.js';

const NOTO = '/usr/share/fonts/truetype/noto';
const faces = readdirSync(NOTO)
  .filter((f) => /^NotoSans.*Regular\.ttf$/.test(f) && statSync(join(NOTO, f)).size < 400_000)
  .sort()
  .slice(0, 100)
  .map((f) => new Uint8Array(readFileSync(join(NOTO, f))));
async function take(workers) {
  const compute = new Compute(workers);
  const one = () => compute.run('convert', [faces[0], 0, [{ step: 'container', options: { to: 'woff2' } }]]);
  // Processes are started before the clock is.
  await Promise.all(Array.from({ length: workers * 2 }, one));
  const began = performance.now();
  await Promise.all(faces.map((bytes) => compute.run('convert', [bytes, 0, [{ step: 'container', options: { to: 'woff2' } }]])));
  const ms = performance.now() - began;
  await compute.close();
  return ms;
}
const [single, double] = [await take(1), await take(2)];
console.log(
  `${faces.length} faces: one worker ${(single / 1000).toFixed(1)} s, two ${(double / 1000).toFixed(1)} s, ${(single / double).toFixed(2)} times the rate`,
);
process.exit(0);
