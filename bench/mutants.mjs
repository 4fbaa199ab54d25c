// How many small wrong edits the unit tests notice, over rights, coverage, place, sfnt and face of the core.
// node bench/mutants.mjs [COUNT] [SEED] [--in FOLDER_OR_FILE,…] [--tests PATTERN] [--near] [--no-named]: the named ones first, then COUNT at random.
// The source is compiled into copies, one a core, and edited there, never here; each edit is shown to the suites that run through
// its line, those nearest first, in a process of its own. Edits that change nothing are kept with their reason in mutants.json.
import { execFileSync, spawn } from 'node:child_process';
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { SourceMap } from 'node:module';
import { availableParallelism, tmpdir } from 'node:os';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { transformSync } from '@swc/core';
import { ROOT } from '../scripts/lib/system.mjs';

const FOLDERS = ['rights', 'coverage', 'place', 'sfnt', 'face'];
const core = 'packages/core/src';
const { values: options, positionals } = parseArgs({
  allowPositionals: true,
  options: { in: { type: 'string' }, tests: { type: 'string' }, near: { type: 'boolean' }, 'no-named': { type: 'boolean' } },
});

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

let seed = Number(positionals[1] ?? 1);
/** Numerical Recipes' linear congruential generator. */
const random = () => (seed = (1664525 * seed + 1013904223) >>> 0) / 2 ** 32;

const sources = new Map();
/** The text of a file as it was when it was first asked for: nobody's work in the meantime moves the places of edits. */
function sourceOf(file) {
  if (!sources.has(file)) sources.set(file, readFileSync(join(ROOT, core, file), 'utf8'));
  return sources.get(file);
}

/** JavaScript of a source text and the map back to it. */
const compiled = (file, text) =>
  transformSync(text, {
    filename: file,
    sourceMaps: true,
    jsc: { target: 'es2022', parser: { syntax: 'typescript' } },
    module: { type: 'es6' },
  });

/** Files of the repository, also those that are new. */
const kept = () =>
  execFileSync('git', ['ls-files', '-z', '--cached', '--others', '--exclude-standard'], { cwd: ROOT, encoding: 'utf8' })
    .split('\0')
    .filter((name) => name !== '' && existsSync(join(ROOT, name)));
/** A copy of all that is kept in the repository (some tests look into documents and benches), its packages compiled in place. */
function makeCopy() {
  const copy = mkdtempSync(join(tmpdir(), 'mutants-'));
  for (const name of kept()) {
    mkdirSync(dirname(join(copy, name)), { recursive: true });
    copyFileSync(join(ROOT, name), join(copy, name));
    if (/^(packages|apps\/server\/test)\/.*(?<!\.d)\.ts$/.test(name)) {
      const { code } = compiled(name, readFileSync(join(ROOT, name), 'utf8'));
      writeFileSync(join(copy, name.replace(/\.ts$/, '.js')), code);
    }
  }
  mkdirSync(join(copy, 'node_modules/@orderly-glyph'), { recursive: true });
  for (const name of readdirSync(join(ROOT, 'node_modules')))
    if (!name.startsWith('.') && name !== '@orderly-glyph') symlinkSync(join(ROOT, 'node_modules', name), join(copy, 'node_modules', name));
  for (const name of ['core', 'node', 'schema']) {
    symlinkSync(join(copy, 'packages', name), join(copy, 'node_modules/@orderly-glyph', name));
    const path = join(copy, 'packages', name, 'package.json');
    writeFileSync(path, readFileSync(path, 'utf8').replaceAll('./dist/', './src/'));
    // Some suites run programs on what was built before; those run through nothing that is edited.
    if (existsSync(join(ROOT, 'packages', name, 'dist')))
      symlinkSync(join(ROOT, 'packages', name, 'dist'), join(copy, 'packages', name, 'dist'));
  }
  return copy;
}

/** Ends with what a suite said: passed, failed (also by hanging), and the milliseconds it took. */
function runSuite(copy, path, { most = 300_000, coverage } = {}) {
  const began = Date.now();
  return new Promise((resolve) => {
    const child = spawn(process.execPath, ['--no-warnings', '--expose-gc', join(ROOT, 'bench/suite.mjs'), join(copy, path)], {
      cwd: copy,
      stdio: ['ignore', 'ignore', 'pipe'],
      detached: true,
      env: { ...process.env, ...(coverage && { NODE_V8_COVERAGE: coverage }) },
    });
    let said = '';
    child.stderr.on('data', (data) => (said = (said + data).slice(-3000)));
    // With what it started itself.
    const clock = setTimeout(() => process.kill(-child.pid, 'SIGKILL'), most);
    child.on('close', (status) => {
      clearTimeout(clock);
      resolve({ passed: status === 0, took: Date.now() - began, said });
    });
  });
}

/** JavaScript of each file of the core: where each mapped piece begins and the line of the source that it comes from. */
const pieces = new Map();
function piecesOf(file) {
  if (!pieces.has(file)) {
    const { code, map } = compiled(file, sourceOf(file));
    const source = new SourceMap(JSON.parse(map));
    const found = [];
    let at = 0;
    code.split('\n').forEach((text, line) => {
      let last = -1;
      for (const word of text.matchAll(/\S+/g)) {
        const entry = source.findEntry(line, word.index);
        if (entry.originalLine !== undefined && entry.originalLine !== last) found.push([at + word.index, (last = entry.originalLine) + 1]);
      }
      at += text.length + 1;
    });
    pieces.set(file, found);
  }
  return pieces.get(file);
}
/** Lines of a file that ran, of V8's nested ranges with their counts. */
function linesRun(file, functions) {
  const found = piecesOf(file);
  const ran = new Array(found.length).fill(false);
  const ranges = functions.flatMap((f) => f.ranges).sort((a, b) => a.startOffset - b.startOffset || b.endOffset - a.endOffset);
  for (const { startOffset, endOffset, count } of ranges)
    found.forEach(([at], i) => {
      if (at >= startOffset && at < endOffset) ran[i] = count > 0;
    });
  return new Set(found.filter((_, i) => ran[i]).map(([, line]) => line));
}

/** Lines of the core that each suite runs through, and how long it took. */
const suites = [];
async function measure(copy, path) {
  const folder = join(copy, `.coverage-${suites.length}-${Date.now()}`);
  const { passed, took, said } = await runSuite(copy, path, { coverage: folder });
  // A test that fails without any edit would notice every one.
  if (!passed) return console.log(`${path} fails as it is: ${said}`);
  const lines = new Map();
  for (const name of readdirSync(folder))
    for (const { url, functions } of JSON.parse(readFileSync(join(folder, name), 'utf8')).result) {
      if (!url.startsWith('file:')) continue;
      const file = relative(join(copy, core), fileURLToPath(url)).replace(/\.js$/, '.ts');
      if (file.startsWith('.') || !existsSync(join(ROOT, core, file))) continue;
      lines.set(file, new Set([...(lines.get(file) ?? []), ...linesRun(file, functions)]));
    }
  rmSync(folder, { recursive: true, force: true });
  suites.push({ path, took, lines });
}

/** Milliseconds of the longest suite of another folder that an edit is shown to. */
const MOST_FAR = 30_000;
/** The first suite that notices what a copy holds now, or none. */
async function noticedBy(copy, file, line) {
  // Suites of the same room, quick ones first, then those of others.
  const near = ({ path }) => (path.includes(`/src/${file.split('/')[0]}/`) ? 1 : 2);
  const through = suites
    .filter((s) => s.lines.get(file)?.has(line) && (near(s) < 2 || (!options.near && s.took < MOST_FAR)))
    .sort((a, b) => near(a) - near(b) || a.took - b.took);
  // An edit that makes a suite hang is noticed by that.
  for (const { path, took } of through) if (!(await runSuite(copy, path, { most: 10_000 + 8 * took })).passed) return path;
  return null;
}

/** Offsets in a text that lie in a comment, an import or a type, or in the room set aside for a writer, which grows by itself. */
function isCode(text, at) {
  const line = text.slice(text.lastIndexOf('\n', at) + 1, text.indexOf('\n', at));
  if (/new Writer\(/.test(line)) return false;
  return !/^\s*(\*|\/\/|\/\*|import |export (type|interface|\{|\*)|throw )/.test(line);
}
const lineOf = (text, at) => text.slice(0, at).split('\n').length;
const lineText = (text, at) => text.slice(text.lastIndexOf('\n', at) + 1, text.indexOf('\n', at)).trim();

/** All slips that could be made in the folders. */
function allSlips() {
  const asked = options.in?.split(',') ?? FOLDERS;
  const walk = (dir) =>
    dir.endsWith('.ts')
      ? [dir]
      : readdirSync(join(ROOT, core, dir), { withFileTypes: true }).flatMap((e) =>
          e.isDirectory()
            ? e.name === 'data'
              ? []
              : walk(`${dir}/${e.name}`)
            : /(?<!\.test)\.ts$/.test(e.name) && e.name !== 'index.ts'
              ? [`${dir}/${e.name}`]
              : [],
        );
  const all = [];
  for (const file of asked.flatMap(walk)) {
    const text = sourceOf(file);
    for (const [pattern, to] of SLIPS)
      for (const { 0: from, index: at } of text.matchAll(pattern))
        if (isCode(text, at)) all.push({ file, at, from, to: typeof to === 'string' ? to : to(from), code: lineText(text, at) });
  }
  return all;
}

/** Edits that were read and change nothing that anyone could see: { file, code, from, to, why }. */
const SAME = JSON.parse(readFileSync(join(ROOT, 'bench/mutants.json'), 'utf8'));
const same = (m) => SAME.some((s) => s.file === m.file && s.code === m.code && s.from === m.from && s.to === m.to);

const slips = allSlips();
const copies = Array.from({ length: availableParallelism() }, makeCopy);
/** Each of a list by whichever copy is free. */
const share = (list, work) => {
  const left = list[Symbol.iterator]();
  return Promise.all(
    copies.map(async (copy) => {
      for (const one of left) await work(copy, one);
    }),
  );
};
const score = { noticed: 0, all: 0, same: 0 };
const named = { noticed: 0, all: 0, same: 0 };
const tryOne =
  (tally) =>
  async (copy, { file, at, from, to, code, say }) => {
    const text = sourceOf(file);
    if (at < 0) return console.log(`not found: ${say}`);
    const path = join(copy, core, file.replace(/\.ts$/, '.js'));
    let edited;
    try {
      edited = compiled(file, text.slice(0, at) + to + text.slice(at + from.length)).code;
    } catch {
      // Not a program any more (“a ?? b && c”): no edit that anyone could make.
      return;
    }
    const whole = compiled(file, text).code;
    // In a type: there is nothing to notice.
    if (edited === whole) return;
    writeFileSync(path, edited);
    const line = lineOf(text, at);
    const by = await noticedBy(copy, file, line);
    writeFileSync(path, whole);
    if (by === null && same({ file, code, from, to })) return void tally.same++;
    tally.all++;
    if (by) tally.noticed++;
    else console.log(`survived: ${file}:${line} “${from}” to “${to}” | ${say ?? code}`);
    if (tally.all % 20 === 0) console.log(`${tally.noticed} of ${tally.all}`);
  };
try {
  const listed = kept()
    .filter((name) => /^packages\/(core|node)\/.*\.test\.ts$/.test(name) && new RegExp(options.tests ?? '').test(name))
    .map((name) => name.replace(/\.ts$/, '.js'));
  await share(listed, measure);
  for (const { path, took } of suites.sort((a, b) => a.took - b.took)) console.log(`${(took / 1000).toFixed(1)} s ${path}`);
  if (!options['no-named']) {
    const edits = NAMED.map(([say, file, from, to]) => ({
      say,
      file,
      from,
      to,
      at: sourceOf(file).indexOf(from),
    }));
    await share(edits, tryOne(named));
    console.log(`named: ${named.noticed} of ${named.all} noticed`);
  }
  const drawn = [];
  const wanted = Math.min(Number(positionals[0] ?? 400), slips.length);
  while (drawn.length < wanted) drawn.push(...slips.splice(Math.floor(random() * slips.length), 1));
  await share(drawn, tryOne(score));
  const percent = ((100 * score.noticed) / Math.max(1, score.all)).toFixed(1);
  console.log(`drawn: ${score.noticed} of ${score.all} noticed (${percent}%), ${score.same} more change nothing`);
} finally {
  for (const copy of copies) rmSync(copy, { recursive: true, force: true, maxRetries: 20, retryDelay: 500 });
}
