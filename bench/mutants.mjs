// How many small wrong edits the unit tests notice, over rights, coverage, place, sfnt and face of the core.
// node bench/mutants.mjs [COUNT] [SEED]: the named ones first, then COUNT drawn at random; worked in a copy, never here.
import { execFileSync, spawnSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { ROOT } from '../scripts/lib/system.mjs';

const FOLDERS = ['rights', 'coverage', 'place', 'sfnt', 'face'];
const core = 'packages/core/src';

/** Edits that once went unnoticed. */
const NAMED = [
  ['bitmap bit in the key of verdicts', 'rights/table.ts', "${e.bitmapOnly ? 'b' : ''}", ''],
  ['precedence of counters', 'rights/verdict.ts', 'license.counters?.[key] ?? counters[key]', 'counters[key] ?? license.counters?.[key]'],
  ['heights by the version of OS/2', 'sfnt/tables/os2.ts', 'sxHeight: since(2,', 'sxHeight: since(1,'],
  ['a table past the end', 'sfnt/container.ts', 'offset + length > bytes.length', 'offset + length > bytes.length + 4'],
  [
    'a negative lineGap',
    'face/soundness.ts',
    'hhea.ascender - hhea.descender + hhea.lineGap',
    'hhea.ascender - hhea.descender + Math.abs(hhea.lineGap)',
  ],
  ['an em above 16,384', 'face/soundness.ts', 'head.unitsPerEm > 16384', 'head.unitsPerEm > 16400'],
  ['a lead with 2% more characters', 'face/identity.ts', 'fuller * 0.02', 'fuller * 0.03'],
  ['tolerance of a language', 'coverage/judge.ts', 'MOST_MISSING_SHARE = 0.1', 'MOST_MISSING_SHARE = 0.2'],
  ['threshold of weight repair', 'face/naming.ts', '>= 150', '> 150'],
  ['joining by two letters', 'font/setting.ts', '.repeat(3)', '.repeat(2)'],
  ['SCALED_COMPONENT_OFFSET', 'outline/glyf.ts', 'flags & 0x800', 'flags & 0x1000'],
  ['embedding refused by a place', 'place/checks/embedding.ts', "profile.embedding.restricted === 'refused'", 'true'],
  [
    'the first of two mappings',
    'sfnt/tables/cmap.ts',
    'codePoint <= this.codePoints[this.count - 1]!',
    'codePoint < this.codePoints[this.count - 1]!',
  ],
];

/** What a slip of the hand looks like, each once a place. */
const SLIPS = [
  [/ < /g, ' <= '],
  [/ <= /g, ' < '],
  [/ > /g, ' >= '],
  [/ >= /g, ' > '],
  [/ === /g, ' !== '],
  [/ !== /g, ' === '],
  [/ && /g, ' || '],
  [/ \|\| /g, ' && '],
  [/ \?\? /g, ' && '],
  [/ \+ (?=\d)/g, ' - '],
  [/ - (?=\d)/g, ' + '],
  [/(?<=[ (\[])(\d{1,4})(?=[;,)\] ])/g, (n) => String(Number(n) + 1)],
  [/\breturn true\b/g, 'return false'],
  [/\breturn false\b/g, 'return true'],
  [/'yes'/g, "'no'"],
  [/'ask'/g, "'yes'"],
  [/(?<= )!(?=\w)/g, ''],
];

let seed = Number(process.argv[3] ?? 1);
/** Numerical Recipes' linear congruential generator. */
const random = () => (seed = (1664525 * seed + 1013904223) >>> 0) / 2 ** 32;

const copy = mkdtempSync(join(tmpdir(), 'mutants-'));
// All that is kept in the repository: some tests look into documents and benches.
for (const name of execFileSync('git', ['ls-files', '-z'], { cwd: ROOT, encoding: 'utf8' }).split('\0').filter(Boolean)) {
  mkdirSync(dirname(join(copy, name)), { recursive: true });
  copyFileSync(join(ROOT, name), join(copy, name));
}
mkdirSync(join(copy, 'node_modules'));
for (const name of readdirSync(join(ROOT, 'node_modules')))
  if (!name.startsWith('.') && name !== '@orderly-glyph') symlinkSync(join(ROOT, 'node_modules', name), join(copy, 'node_modules', name));
// Some suites run programs on what was built before; those run through nothing that is edited.
for (const name of ['core', 'node', 'schema'])
  if (existsSync(join(ROOT, 'packages', name, 'dist')))
    symlinkSync(join(ROOT, 'packages', name, 'dist'), join(copy, 'packages', name, 'dist'));

const JEST = join(ROOT, 'node_modules/jest/bin/jest.js');
/** An edit that makes a suite hang is noticed by that: no suite takes more than a minute and a half. */
const jest = (...args) =>
  spawnSync(process.execPath, ['--experimental-vm-modules', '--no-warnings', JEST, '--selectProjects', 'unit', '-i', ...args], {
    cwd: copy,
    encoding: 'utf8',
    timeout: 400_000,
    killSignal: 'SIGKILL',
  });

/** Lines of the core that each suite runs through, and how long it took: an edit is shown to those suites alone, quick ones first. */
const suites = [];
function measure() {
  const listed = jest('--listTests')
    .stdout.split('\n')
    .filter((path) => /packages\/(core|node)\//.test(path));
  for (const path of listed) {
    const out = join(copy, '.coverage');
    const began = Date.now();
    const options = ['--coverageProvider', 'v8', '--coverageReporters', 'json', '--coverageDirectory', out];
    // The named ones lie in other folders too.
    const only = [...FOLDERS, 'font', 'outline'].flatMap((f) => ['--collectCoverageFrom', `${core}/${f}/**/*.ts`]);
    // A test that fails without any edit would notice every one.
    const run = jest('--coverage', ...options, ...only, '--runTestsByPath', path);
    if (run.status !== 0) throw new Error(`${path} fails as it is: ${run.signal ?? ''} ${run.stderr?.slice(-3000)}`);
    const lines = new Map();
    const hits = existsSync(join(out, 'coverage-final.json')) ? JSON.parse(readFileSync(join(out, 'coverage-final.json'), 'utf8')) : {};
    for (const [file, { statementMap, s }] of Object.entries(hits)) {
      const hit = new Set();
      for (const [id, { start, end }] of Object.entries(statementMap))
        if (s[id] > 0) for (let line = start.line; line <= end.line; line++) hit.add(line);
      lines.set(file.slice(file.indexOf(core) + core.length + 1), hit);
    }
    suites.push({ path, took: Date.now() - began, lines });
    rmSync(out, { recursive: true, force: true });
  }
  suites.sort((a, b) => a.took - b.took);
}
function noticed(file, line) {
  // A suite that is named after the file, then those of its folder, then quick ones.
  const near = ({ path }) => (path.includes(`/${file.replace(/\.ts$/, '')}.`) ? 0 : path.includes(`/${dirname(file)}/`) ? 1 : 2);
  const through = suites
    .filter((s) => s.lines.get(file)?.has(line))
    .sort((a, b) => near(a) - near(b) || a.took - b.took)
    .map((s) => s.path);
  // One after another: most edits are noticed by the first, and the slow ones then never run.
  return through.some((path) => failsOf(jest('--bail', '--runTestsByPath', path), path));
}
/** Whether tests failed, or hung. @throws Error when there was no run to speak of, which would count as noticing anything */
function failsOf({ status, signal, stderr }, path) {
  if (status === 0) return false;
  if (signal === 'SIGKILL' || /^(Tests|Test Suites):.* failed/m.test(stderr ?? '')) return true;
  throw new Error(`${path} did not run: ${signal ?? status} ${stderr?.slice(-2000)}`);
}

/** Offsets in a text that lie in a comment, an import or a data file's strings. */
function isCode(text, at) {
  const line = text.slice(text.lastIndexOf('\n', at) + 1, text.indexOf('\n', at));
  return !/^\s*(\*|\/\/|\/\*|import |export (type|interface|\{|\*)|throw )/.test(line);
}

const generated = [];
for (const folder of FOLDERS) {
  const walk = (dir) =>
    readdirSync(join(ROOT, core, dir), { withFileTypes: true }).flatMap((e) =>
      e.isDirectory()
        ? e.name === 'data'
          ? []
          : walk(`${dir}/${e.name}`)
        : /(?<!\.test)\.ts$/.test(e.name) && e.name !== 'index.ts'
          ? [`${dir}/${e.name}`]
          : [],
    );
  for (const file of walk(folder)) {
    const text = readFileSync(join(ROOT, core, file), 'utf8');
    for (const [pattern, to] of SLIPS)
      for (const match of text.matchAll(pattern))
        if (isCode(text, match.index))
          generated.push({ file, at: match.index, from: match[0], to: typeof to === 'string' ? to : to(match[0]) });
  }
}
const wanted = Number(process.argv[2] ?? 400);
const drawn = [];
while (drawn.length < Math.min(wanted, generated.length)) drawn.push(...generated.splice(Math.floor(random() * generated.length), 1));

const score = { noticed: 0, all: 0 };
const named = { noticed: 0, all: 0 };
const lineOf = (text, at) => text.slice(0, at).split('\n').length;
function tryOne(file, at, from, to, tally, say) {
  const path = join(copy, core, file);
  const whole = readFileSync(path, 'utf8');
  if (at < 0) return console.log(`not found: ${say}`);
  writeFileSync(path, whole.slice(0, at) + to + whole.slice(at + from.length));
  tally.all++;
  const line = lineOf(whole, at);
  if (noticed(file, line)) tally.noticed++;
  else console.log(`survived: ${file}:${line} ${say}`);
  writeFileSync(path, whole);
  console.log(`${tally.noticed} of ${tally.all}`);
  // What is unedited must still pass, or the machine is what fails.
  if (tally.all % 25 === 0 && failsOf(jest('--runTestsByPath', suites[0].path), suites[0].path))
    throw new Error('A suite fails without any edit.');
}
try {
  measure();
  for (const { path, took } of suites) console.log(`${(took / 1000).toFixed(1)} s ${path.slice(copy.length)}`);
  for (const [say, file, from, to] of NAMED) tryOne(file, readFileSync(join(copy, core, file), 'utf8').indexOf(from), from, to, named, say);
  console.log(`named: ${named.noticed} of ${named.all} noticed`);
  for (const { file, at, from, to } of drawn) tryOne(file, at, from, to, score, `“${from}” to “${to}”`);
  console.log(`drawn: ${score.noticed} of ${score.all} noticed (${((100 * score.noticed) / Math.max(1, score.all)).toFixed(1)}%)`);
} finally {
  rmSync(copy, { recursive: true, force: true });
}
