// How many small wrong edits the unit tests notice, over rights, coverage, place, sfnt and face of the core.
// node bench/mutants.mjs [COUNT] [SEED]: the named ones first, then COUNT drawn at random; worked in a copy, never here.
import { execFileSync, spawnSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { ROOT } from '../scripts/lib/system.mjs';

const FOLDERS = ['rights', 'coverage', 'place', 'sfnt', 'face'];
const core = 'packages/core/src';
const SEQUENCER = join(ROOT, 'bench/quickest-first.mjs');

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

/** Tests that may notice an edit in a folder, the quick ones first: most edits need no more. */
const TESTS = {
  rights: ['core/src/rights/(day|mentions|belongs|rights|terms|verdict|table)', 'core/src/(rights/recognise|place)'],
  coverage: ['core/src/(coverage|text)', 'core/src/font'],
  place: ['core/(src/place|test/additions)', 'core/src/rights/verdict'],
  sfnt: [
    'core/src/(sfnt/(directory|tables/(cmap|name|os2|layout))|font|face/facts|convert)',
    'core/src/sfnt/(containers|tables/round-trip)',
  ],
  face: ['core/src/face/(?!kind)', 'core/src/(derived|face/kind)'],
  font: ['core/src/(coverage|font)'],
  outline: ['core/src/outline'],
};
function fails(pattern) {
  const jest = join(ROOT, 'node_modules/jest/bin/jest.js');
  const args = [
    '--experimental-vm-modules',
    '--no-warnings',
    jest,
    '--selectProjects',
    'unit',
    '--bail',
    '-i',
    '--testSequencer',
    SEQUENCER,
    '--testPathPatterns',
    pattern,
  ];
  return spawnSync(process.execPath, args, { cwd: copy, stdio: 'ignore', timeout: 240_000 }).status !== 0;
}
function noticed(file) {
  const beside = join(copy, core, file.replace(/\.ts$/, '.test.ts'));
  const first = existsSync(beside) ? [`core/src/${file.replace(/\.ts$/, '.test.ts')}`] : [];
  return [...first, ...TESTS[file.split('/')[0]]].some(fails);
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
function tryOne(file, change, tally, say) {
  const path = join(copy, core, file);
  const whole = readFileSync(path, 'utf8');
  const changed = change(whole);
  if (changed === whole) return console.log(`not found: ${say}`);
  writeFileSync(path, changed);
  tally.all++;
  if (noticed(file)) tally.noticed++;
  else console.log(`survived: ${say}`);
  writeFileSync(path, whole);
}
try {
  // A test that fails without any edit would notice every one.
  for (const pattern of new Set(Object.values(TESTS).flat())) if (fails(pattern)) throw new Error(`The tests ${pattern} fail as they are.`);
  for (const [say, file, from, to] of NAMED) tryOne(file, (text) => text.replace(from, () => to), named, say);
  console.log(`named: ${named.noticed} of ${named.all} noticed`);
  for (const { file, at, from, to } of drawn) {
    const line = readFileSync(join(copy, core, file), 'utf8')
      .slice(0, at)
      .split('\n').length;
    tryOne(file, (text) => text.slice(0, at) + to + text.slice(at + from.length), score, `${file}:${line} “${from}” to “${to}”`);
    if (score.all % 20 === 0) console.log(`${score.noticed} of ${score.all}`);
  }
  console.log(`drawn: ${score.noticed} of ${score.all} noticed (${((100 * score.noticed) / Math.max(1, score.all)).toFixed(1)}%)`);
} finally {
  rmSync(copy, { recursive: true, force: true });
}
