// Drawings of three open icon packages as glyphs: how well they cover what the drawings do, and how long that takes.
// node bench/icons.mjs [COUNT] [PACKAGE or all] [FROM]: each glyph is read back by another reader, drawn at 1,024 px and averaged to 256,
// beside its drawing done the same way.
import { readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import * as fontkit from 'fontkit';
import * as core from '../packages/core/dist/index.js';
import { nodeCodec, iconThreads, nodePaths, nodeSvgEngine } from '../packages/node/dist/index.js';

const require = createRequire(import.meta.url);
const within = (name, folder) => join(dirname(require.resolve(`${name}/package.json`)), folder);
const PACKAGES = {
  strokes: within('lucide-static', 'icons'),
  outline: within('@tabler/icons', 'icons/outline'),
  fills: within('bootstrap-icons', 'icons'),
};
const count = Number(process.argv[2] ?? 1500);
const from = Number(process.argv[4] ?? 0);
const tools = { svg: await nodeSvgEngine(), paths: await nodePaths(), codec: nodeCodec, pause: () => new Promise((r) => setImmediate(r)) };
const facts = { ...core.DEFAULT_FACTS, family: 'Bench Icons', prefix: 'b-', base: 'b-icon', line: 'baseline', formats: ['ttf'] };

function averaged(svg) {
  const { alpha, columns } = tools.svg.coverage(svg, 1024);
  const out = new Float32Array(256 * 256);
  for (let y = 0; y < 1024; y++) for (let x = 0; x < 1024; x++) out[(y >> 2) * 256 + (x >> 2)] += alpha[y * columns + x] / 16;
  return out;
}
function compare(a, b) {
  let [least, most, worst] = [0, 0, 0];
  for (let k = 0; k < a.length; k++) {
    least += Math.min(a[k], b[k]);
    most += Math.max(a[k], b[k]);
  }
  // Differences that gather in one place: the mean over five by five.
  for (let y = 0; y < 252; y++)
    for (let x = 0; x < 252; x++) {
      if (Math.abs(a[(y + 2) * 256 + x + 2] - b[(y + 2) * 256 + x + 2]) < 0.2) continue;
      let sum = 0;
      for (let v = 0; v < 5; v++) for (let u = 0; u < 5; u++) sum += Math.abs(a[(y + v) * 256 + x + u] - b[(y + v) * 256 + x + u]);
      worst = Math.max(worst, sum / 25);
    }
  return { overlap: most > 0 ? least / most : 1, worst };
}

for (const [what, dir] of Object.entries(PACKAGES)) {
  if (process.argv[3] && process.argv[3] !== 'all' && process.argv[3] !== what) continue;
  const files = readdirSync(dir)
    .filter((f) => f.endsWith('.svg'))
    .slice(from, from + count);
  const icons = files.map((f) => core.newIcon(f, core.iconName(f, 'x').name, readFileSync(join(dir, f), 'utf8')));
  const set = { facts, icons, given: [] };
  // Once to warm up, on a few.
  await core.buildIconSet({ ...set, icons: icons.slice(0, 100) }, 1, '2026-01-01', tools);
  let at = performance.now();
  await core.buildIconSet(set, 1, '2026-01-01', tools, false);
  const without = performance.now() - at;
  at = performance.now();
  const built = await core.buildIconSet(set, 1, '2026-01-01', tools);
  const proven = performance.now() - at;
  const several = iconThreads();
  await core.buildIconSet({ ...set, icons: icons.slice(0, 100) }, 1, '2026-01-01', { ...tools, ...several });
  at = performance.now();
  await core.buildIconSet(set, 1, '2026-01-01', { ...tools, ...several });
  const both = performance.now() - at;
  several.close();
  console.log(
    `${what}: ${files.length} drawings, em ${built.em}, ${built.files[0].bytes.length} bytes; ${(without / 1000).toFixed(1)} s, ${(proven / 1000).toFixed(1)} s compared, ${(both / 1000).toFixed(1)} s compared on both cores; ${process.memoryUsage().rss >> 20} MiB`,
  );
  const font = fontkit.create(Buffer.from(built.files[0].bytes));
  const results = [];
  for (const [i, icon] of built.icons.entries()) {
    const d = font.glyphForCodePoint(icon.codePoint).path.toSVG();
    const em = built.em;
    const ours = averaged(
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${em} ${em}" width="1024" height="1024"><path transform="matrix(1 0 0 -1 0 ${em})" d="${d}"/></svg>`,
    );
    results.push({
      name: icon.name,
      found: icon.findings.map((f) => f.code),
      ...compare(ours, averaged(core.readSource(icons[i].svg).svg)),
    });
    if (i % 10 === 0) await tools.pause();
  }
  results.sort((a, b) => a.overlap - b.overlap);
  const lossless = results.filter((r) => !r.found.includes('opacity') && !r.found.includes('colors'));
  console.log(
    `  overlap: median ${results[results.length >> 1].overlap.toFixed(4)}, least ${results[0].overlap.toFixed(4)} (${results[0].name}), without see-through parts ${lossless[0].overlap.toFixed(4)} (${lossless[0].name}); below 0.988: ${results.filter((r) => r.overlap < 0.988).length}; differences in one place above 0.3: ${results.filter((r) => r.worst > 0.3).length}; told to differ: ${results.filter((r) => r.found.includes('differs')).length}`,
  );
  if (process.env.SHOW)
    for (const r of results
      .slice(0, Number(process.env.SHOW))
      .concat(results.filter((x) => x.worst > 0.3 || x.found.includes('differs') || x.found.includes('shape-failed'))))
      console.log('   ', r.name, r.overlap.toFixed(4), r.worst.toFixed(2), r.found.join());
}
