// How far the width of paragraphs is off while a fallback stands in for a web face: node bench/fallback.mjs FOLDER
// FOLDER as for scripts/compile-frequencies.mjs; the pages are those that the frequencies were not counted on.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from 'playwright-core';
import { openFace } from '../packages/core/dist/font/index.js';
import { fallbackFor } from '../packages/core/dist/webkit/index.js';
import { nodeCodec } from '../packages/node/dist/index.js';
import { pagesOf, paragraphsOf } from '../scripts/compile-frequencies.mjs';

const folder = process.argv[2];
const liberation = join(folder, 'fonts-liberation/usr/share/fonts/truetype/liberation');
const modules = new URL('../node_modules/', import.meta.url).pathname;
const FACES = {
  literata: '@expo-google-fonts/literata/400Regular/Literata_400Regular.ttf',
  gochi: '@expo-google-fonts/gochi-hand/400Regular/GochiHand_400Regular.ttf',
  serif: 'source-serif/TTF/SourceSerif4-Regular.ttf',
  serifBold: 'source-serif/TTF/SourceSerif4-Bold.ttf',
};
const FALLBACKS = {
  Arial: 'LiberationSans-Regular',
  'Arial Bold': 'LiberationSans-Bold',
  'Times New Roman': 'LiberationSerif-Regular',
  'Courier New': 'LiberationMono-Regular',
};
const LANGUAGES = { en: 'manpages', de: 'manpages-de', pl: 'manpages-pl' };

const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const page = await browser.newPage();
const load = (name, bytes, more = {}) =>
  page.evaluate(
    async ([family, data, descriptors]) => {
      const face = new FontFace(
        family,
        Uint8Array.from(atob(data), (c) => c.charCodeAt(0)),
        descriptors,
      );
      await face.load();
      document.fonts.add(face);
    },
    [name, Buffer.from(bytes).toString('base64'), more],
  );
const measure = (family, texts) =>
  page.evaluate(
    ([f, list]) => {
      document.body.innerHTML = '';
      return list.map((t) => {
        const span = document.createElement('span');
        span.style.cssText = `font: 20px "${f}"; white-space: pre; display: inline-block`;
        span.textContent = t;
        document.body.append(span);
        const box = span.getBoundingClientRect();
        return [box.width, box.height];
      });
    },
    [family, texts],
  );
const errors = [];
/** Ten paragraphs together, a face, a fallback and a language each. */
const totals = [];
let heights = 0;
for (const [tag, pkg] of Object.entries(LANGUAGES)) {
  const pages = pagesOf(pkg).filter((_, i) => i % 2 === 1);
  const paragraphs = pages.flatMap((p) => paragraphsOf(p, tag).slice(0, 1)).slice(0, 400);
  for (const [name, path] of Object.entries(FACES)) {
    const bytes = readFileSync(join(modules, path));
    const face = openFace(new Uint8Array(bytes), nodeCodec);
    const texts = paragraphs
      .filter((p) => face.writes(p).length === 0)
      .filter((_, i) => i % 7 === 0)
      .slice(0, 10);
    if (texts.length < 10) continue;
    await load(`${name}`, bytes);
    const own = await measure(name, texts);
    for (const [local, file] of Object.entries(FALLBACKS)) {
      const f = fallbackFor(face, local, [tag]);
      const percent = (v) => `${(100 * v).toFixed(2)}%`;
      const alias = `${name}-${local}-${tag}`;
      await load(alias, readFileSync(join(liberation, `${file}.ttf`)), {
        sizeAdjust: percent(f.sizeAdjust),
        ascentOverride: percent(f.ascentOverride),
        descentOverride: percent(f.descentOverride),
        lineGapOverride: percent(f.lineGapOverride),
      });
      const theirs = await measure(alias, texts);
      const sum = (list) => list.reduce((s, [w]) => s + w, 0);
      totals.push({ off: sum(theirs) / sum(own) - 1, what: alias });
      theirs.forEach(([w, h], i) => {
        errors.push({ off: Math.abs(w / own[i][0] - 1), what: alias });
        heights = Math.max(heights, Math.abs(h - own[i][1]));
      });
    }
  }
}
await browser.close();
errors.sort((a, b) => b.off - a.off);
for (const local of Object.keys(FALLBACKS)) {
  const own = errors.filter((e) => e.what.includes(`-${local}-`));
  console.log(
    `${local}: mean ${((100 * own.reduce((s, e) => s + e.off, 0)) / own.length).toFixed(2)}%, worst ${(100 * own[0].off).toFixed(2)}% (${own[0].what})`,
  );
}
totals.sort((a, b) => Math.abs(b.off) - Math.abs(a.off));
console.log(
  `ten paragraphs together: mean ${((100 * totals.reduce((s, t) => s + Math.abs(t.off), 0)) / totals.length).toFixed(2)}%, worst ${totals
    .slice(0, 6)
    .map((t) => `${(100 * t.off).toFixed(2)}% ${t.what}`)
    .join(', ')}`,
);
const mean = errors.reduce((s, e) => s + e.off, 0) / errors.length;
console.log(
  `${errors.length} paragraphs: mean ${(100 * mean).toFixed(2)}%, worst ${(100 * errors[0].off).toFixed(2)}% (${errors[0].what}), line height off by ${heights.toFixed(2)} px at most`,
);
