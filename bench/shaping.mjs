// Texts set before and after a face was cut down to their language, by Debian's hb-shape: positions must be the same.
// node bench/shaping.mjs FOLDER: FOLDER holds Debian's manpages-* unpacked, which nobody tuned on; ten lines of each of 20 languages.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { recipeFor, render, runsOfLanguages } from '../packages/core/dist/convert/index.js';
import { openFace } from '../packages/core/dist/font/index.js';
import { sampleOf } from '../packages/core/dist/unicode/index.js';
import { nodeCodec, nodeSubsetter } from '../packages/node/dist/index.js';

const folder = process.argv[2];
const NOTO = '/usr/share/fonts/truetype/noto';
const serif = new URL('../node_modules/source-serif/OTF/SourceSerif4-Regular.otf', import.meta.url).pathname;
/** Languages with the face they are set in; those after the bar have no manual pages, and are set in a sentence of ours. */
const PLAN = [
  ...['cs', 'da', 'de', 'es', 'fi', 'fr', 'hu', 'it', 'nl', 'pl', 'ro', 'tr', 'vi'].map((tag) => [tag, serif]),
  ...['el', 'mk', 'ru', 'sr', 'uk'].map((tag) => [tag, `${NOTO}/NotoSans-Regular.ttf`]),
  ['ar', `${NOTO}/NotoNaskhArabic-Regular.ttf`],
  ['hi', `${NOTO}/NotoSansDevanagari-Regular.ttf`],
  ['bn', `${NOTO}/NotoSansBengali-Regular.ttf`],
  ['th', `${NOTO}/NotoSansThai-Regular.ttf`],
];
const dir = mkdtempSync(join(tmpdir(), 'shaping-'));
const tools = { codec: nodeCodec, subsetter: await nodeSubsetter() };
/** Ten lines of running text out of a language's manual pages. */
function textsOf(tag) {
  const base = join(folder, `manpages-${tag}`, 'usr/share/man', tag);
  const pages = ['man1', 'man5', 'man8'].flatMap((m) => {
    try {
      return readdirSync(join(base, m)).map((f) => join(base, m, f));
    } catch {
      return [];
    }
  });
  const lines = pages
    .sort()
    .flatMap((p) => gunzipSync(readFileSync(p)).toString('utf8').split('\n'))
    .map((l) => l.replace(/^[.'].*|\\f[BIRP]|\\[-&]/g, '').trim())
    .filter((l) => l.length > 50 && !/[\\|{}<>_]/.test(l));
  return lines.length > 0 ? Array.from({ length: 10 }, (_, i) => lines[Math.floor((i * lines.length) / 10)]) : [sampleOf(tag)];
}
const shape = (file, text) =>
  JSON.parse(spawnSync('hb-shape', [file, '--output-format=json', '--no-glyph-names', '--', text], { encoding: 'utf8' }).stdout)
    .map((g) => [g.cl, g.dx, g.dy, g.ax].join())
    .join(' ');
let [texts, same] = [0, 0];
for (const [tag, path] of PLAN) {
  const bytes = new Uint8Array(readFileSync(path));
  const face = openFace(bytes, nodeCodec);
  const format = path.endsWith('.otf') ? 'otf' : 'ttf';
  const made = render(bytes, 0, recipeFor(face, format, { to: format, runs: runsOfLanguages([tag]) }), tools);
  const file = join(dir, 'made');
  writeFileSync(file, made.bytes);
  for (const whole of textsOf(tag)) {
    // What is no character of the language, such as a letter in a foreign name, was cut away.
    const text = [...whole].filter((c) => made.face.glyphOf(c.codePointAt(0)) !== 0).join('');
    texts++;
    if (shape(path, text) === shape(file, text)) same++;
    else console.log(`${tag}: ${text}`);
  }
}
rmSync(dir, { recursive: true });
console.log(`${same} of ${texts} texts in ${PLAN.length} languages are set the same`);
