// Gathers the words and sentences that stand beside open licenses and change nothing, and writes rights/data/harmless-words.ts.
//   node scripts/gather-harmless.mjs WORDS FONTS DOCS...
// WORDS is a list of the words of a language, a line each: names and what no language has are left out.
// FONTS holds a folder of texts for each package of fonts (licenses, copyright files, READMEs, logs); DOCS are folders of what
// is written about software at large. Packages whose names begin with n to z are passed over: they are for measuring.
import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { aroundLicenses, compileLicenses, readLicenses } from '../packages/core/dist/index.js';
import { bears, sentenceKey, WORD } from '../packages/core/dist/rights/wording.js';
import { ABOUT_FONTS, MILD, TECHNICAL } from '../packages/core/dist/rights/data/beside-words.js';
import { sentencesOf } from '../packages/core/dist/rights/sentences.js';

const [list, fonts, ...docs] = process.argv.slice(2);
if (!fonts || docs.length === 0) {
  console.error('node scripts/gather-harmless.mjs WORDS FONTS DOCS...');
  process.exit(2);
}

function* files(dir) {
  for (const entry of readdirSync(dir, { withFileTypes: true })) {
    const path = join(dir, entry.name);
    if (entry.isDirectory()) yield* files(path);
    else if (entry.isFile() && statSync(path).size < 400_000) yield path;
  }
}
const textOf = (path) => {
  try {
    const bytes = path.endsWith('.gz') ? gunzipSync(readFileSync(path)) : readFileSync(path);
    const text = bytes.toString('utf8');
    return text.includes('\ufffd') ? bytes.toString('latin1') : text;
  } catch {
    return '';
  }
};
const count = (map, key) => map.set(key, (map.get(key) ?? 0) + 1);
const lower = (text, into) => {
  for (const m of text.matchAll(WORD)) if (/^\p{Ll}[\p{Ll}'’-]*$/u.test(m[0])) into.add(m[0].replace(/’/g, "'"));
};

const all = createRequire(import.meta.url)('spdx-license-list/full');
const index = compileLicenses(Object.entries(all).map(([spdxId, l]) => ({ spdxId, text: l.licenseText ?? '' })));
const words = new Map();
const sentences = new Map();
const questions = new Set();
let packages = 0;
for (const name of readdirSync(fonts)) {
  if (!/^[a-m0-9]/i.test(name.replace(/^(?:fonts|tex)-/, ''))) continue;
  const texts = [...files(join(fonts, name))]
    .filter((p) =>
      /(?:^|\/)(?:copyright|readme|licen[cs]e|copying|ofl|fontlog|authors|contributors|notice|changes|news|history|todo|manifest)[^/]*$|\.(?:txt|md)(?:\.gz)?$/i.test(
        p,
      ),
    )
    .map((path) => ({ path, text: textOf(path) }));
  const read = texts.map(({ path, text }) => ({ faq: /OFL-FAQ/i.test(path), text, found: readLicenses(text, index).recognised }));
  if (!read.some((r) => r.found.length > 0)) continue;
  packages++;
  const [w, s] = [new Set(), new Set()];
  for (const { text, found, faq } of read) {
    const around = aroundLicenses(text, found);
    lower(around, w);
    for (const { text: sentence } of sentencesOf(around)) {
      s.add(sentenceKey(sentence));
      // What the keepers of a license say of it is theirs, whoever brings it along.
      if (faq) questions.add(sentenceKey(sentence));
    }
  }
  for (const x of w) count(words, x);
  for (const x of s) count(sentences, x);
}
const general = new Map();
for (const dir of docs)
  for (const name of readdirSync(dir)) {
    const path = join(dir, name);
    if (!statSync(path).isDirectory()) continue;
    const seen = new Set();
    for (const p of files(path))
      if (/(?:readme|news|changelog|changes|history|faq|contributing|todo)[^/]*$/i.test(p)) lower(textOf(p), seen);
    for (const x of seen) count(general, x);
  }

const language = new Set(
  readFileSync(list, 'utf8')
    .split('\n')
    .filter((w) => /^\p{Ll}/u.test(w)),
);
/** Words of the trade that such lists lack. */
const isOurs = (w) =>
  TECHNICAL.test(w) ||
  ABOUT_FONTS.test(w) ||
  /^(?:sil|faq|faqs|rfns?|fontlog|woff2?|urls?|changelog|readme|metadata|filename|unzip|whitespace|webfonts?|subset|website)$/.test(w);
const isTrue = (w) => language.has(w) || isOurs(w) || w === '#' || (w.includes('-') && w.split('-').every((p) => language.has(p)));
const isWord = (w) => w.length > 1 && !bears(w) && (language.has(w) || isOurs(w));
const core = [...words].filter(([w, n]) => n >= 4 && isWord(w)).map(([w]) => w);
const has = new Set(core);
const wide = [...general].filter(([w, n]) => n >= 6 && isWord(w) && !has.has(w)).map(([w]) => w);
// What many say word for word is a form; what could narrow, or names another license, must be said by more of them.
const risky = (s) => s.split(' ').some((w) => bears(w) && !MILD.test(w));
const another = /\b(?:gpl|lgpl|general public|apache|creative commons|mit|bsd|lppl|latex project)\b/;
const forms = [...sentences]
  .filter(([s, n]) => {
    const long = s.split(' ').length;
    if (/^files /.test(s) || /^(?:yes|no)$/.test(s) || (another.test(s) && !/support files|rest of the package|other scripts/.test(s)))
      return false;
    if (!s.split(' ').every((w) => bears(w) || isTrue(w))) return false;
    if (questions.has(s) && n >= 2 && long >= 2) return true;
    return risky(s) ? n >= 8 && long >= 2 : n >= 3 && long >= 4;
  })
  .map(([s]) => s);
const body = (list, glue) => JSON.stringify(list.sort().join(glue));
writeFileSync(
  new URL('../packages/core/src/rights/data/harmless-words.ts', import.meta.url),
  `// Written by scripts/gather-harmless.mjs; not to be changed by hand.
/** Words beside open licenses, in at least four of ${packages} packages of fonts. */
export const CORE_WORDS = ${body(core, ' ')};
/** Words of what is written about software at large, in at least six projects. */
export const WIDE_WORDS = ${body(wide, ' ')};
/** Sentences that many packages have word for word, as \`sentenceKey\` makes them. */
export const KNOWN_SENTENCES = ${body(forms, '\n')};
`,
);
console.log(`${packages} packages of fonts: ${core.length} words, ${forms.length} sentences; ${wide.length} further words`);
