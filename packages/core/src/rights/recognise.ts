import { openLicense } from './data/open-licenses.js';
import { FREE_PASSAGES, MORE_TEXTS, NO_NAME, OPTIONAL_PARTS, SAME_WORDS, VARIANTS } from './data/license-matching.js';

/** A passage in which a text and the known license differ. */
export interface Passage {
  /** The license's own words; empty where something was put in. */
  expected: string;
  /** The text's words; empty where something was left out. */
  found: string;
  /** Where `found` stands in the text, in UTF-16 units. */
  start: number;
  end: number;
}

export interface Recognition {
  spdxId: string;
  name: string;
  /** Share of the known text found in its order, with what was put in counted against it, 0 to 1. */
  score: number;
  reservedNames: string[];
  /** Where the text differs from the license; a filled-in copyright line is no difference. */
  differences: Passage[];
  /** Where the license's text stands, in UTF-16 units; both 0 for a mention. */
  start: number;
  end: number;
  /** Where its title and instructions stand, which are no part of what it grants or asks. */
  asides: { start: number; end: number }[];
}

export interface LicenseReading {
  /** Licenses whose text is there, the longest first. */
  recognised: Recognition[];
  /** The known text that this one resembles most without being it; null when it resembles none. */
  near: Recognition | null;
}

interface Token {
  word: string;
  start: number;
  end: number;
}

interface Template {
  spdxId: string;
  text: string;
  /** Words as numbers of the index's vocabulary. */
  words: Int32Array;
  /** How many of them must be there: [from, until) is the required part. */
  from: number;
  until: number;
  /** How many runs of it are in the index. */
  runs: number;
}

/** Known license texts, ready to be compared with. */
export interface LicenseIndex {
  templates: readonly Template[];
  vocabulary: ReadonlyMap<string, number>;
  /** Templates by the hash of a run of words. */
  runs: ReadonlyMap<number, readonly number[]>;
  /** Numbers of the words that name nobody in particular. */
  nameless: ReadonlySet<number>;
  /** What the templates leave to be filled in, in lower case. */
  fillIns: ReadonlySet<string>;
}

const RUN = 5;
/** Below this score a text is not called recognised. */
const THRESHOLD = 0.93;
/** From here on a text resembles a license enough to say in which passages it differs. */
const NEAR = 0.6;
/** Long texts are found by every fourth of their runs, short ones by all. */
const SPARSE = 400;
/** Texts of fewer words say too little to be told apart from prose. */
const SHORTEST = 24;
/** Names that stand for the copyright holder are at most this many words. */
const LONGEST_NAME = 16;
/** Words that name nobody in particular. */
const NAMELESS = ['grantor', 'contributors', 'its', 'the', 'and', 'or', 'above'];

/**
 * A line that says whose copyright it is. It differs from case to case and belongs to no license text, as long as it says
 * nothing else.
 */
const NOTICE = /^[^\p{L}\n(©<]*(?:copyright\s*(?:\(c\)|©|ⓒ|\d{4}|[<[{])|\(c\)\s*(?:copyright|\d{4}|[<[{])|©)[^\n]*$/gimu;

/** A word, with its apostrophes and hyphens, also where it is parted at the end of a line. */
const WORD = /[\p{L}\p{N}]+(?:(?:['’‘`]|[-\u00ad\u2010\u2011](?:[ \t]*\n\s*)?)\p{L}+)*|&(?=\s)/gu;

/** Who grants a license, where its text names no one, after which words. */
const HOLDERS: Readonly<Record<string, readonly string[]>> = Object.fromEntries([
  ...['author', 'authors', 'holder', 'holders', 'owner', 'owners'].map((word) => [word, ['the', 'copyright']]),
  ['consortium', ['x']],
]);

/** A text without copyright lines that say nothing else, blank in their place. */
export const withoutNotices = (text: string): string =>
  text
    .replace(/(?<=(?:copyright|\(c\)|©)[^\n]{0,300}\n[ \t]{0,20})all rights reserved\.?/giu, (match) => ' '.repeat(match.length))
    .replace(NOTICE, (line) => (saysMore(line) ? line : ' '.repeat(line.length)));

/** The lines of a text that say whose copyright it is, but for those that license texts carry of themselves. */
export const copyrightLines = (text: string): string[] =>
  (text.match(NOTICE) ?? []).map((l) => l.trim()).filter((l) => !/free software foundation|<dates>|<year>|\[yyyy\]|\{year\}|<url/i.test(l));

/** What copyright lines hold beside names: standard phrases, addresses, years. */
const NOTICE_PHRASES =
  /all rights reserved|with (?:the )?reserved font names?|(?:all )?portions (?:are )?copyright|reserved font names?|such as|https?:\/\/[^\s)>]+|www\.[^\s)>]+|<[^>\n]*>|\S+@\S+|"[^"\n]*"|“[^”\n]*”|'[^'\n]*'|\([^)\n]{0,80}\)/giu;

/** Whether a copyright line says more than whose copyright it is. */
function saysMore(line: string): boolean {
  const rest = line.replace(NOTICE_PHRASES, ' ');
  return [
    ...rest.matchAll(WORD),
    ...[...line.matchAll(/\(([^)\n]{0,80})\)/gu)].flatMap((m) => [...m[1]!.replace(/https?:\/\/\S+|\S+@\S+/g, ' ').matchAll(WORD)]),
  ].some((m) => !/^\p{Lu}$/u.test(m[0]) && NO_NAME.has(wordOf(m[0])));
}

const wordOf = (raw: string): string =>
  (raw === '&' ? 'and' : raw)
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '');

const PLACEHOLDER = /<[^>\n]{1,80}>|\[(?:yyyy|year|name|fullname)[^\]\n]{0,60}\]/gi;

/** Whether something in angle brackets is an address or what a template leaves to be filled in; other words count. */
const harmless = (match: string, fillIns: ReadonlySet<string>): boolean =>
  fillIns.has(match.toLowerCase()) || /^<[^\s<>.@/]*[.@/][^\s<>]*>$/.test(match);

/**
 * Words of a text in order, without case, punctuation, quotes, line breaks, list markers, copyright lines and placeholders.
 * Source: SPDX specification, license matching guidelines.
 * @param fillIns what templates leave to be filled in; null for the text of a template itself
 */
function tokens(text: string, fillIns: ReadonlySet<string> | null = null): Token[] {
  const blank = (match: string): string => ' '.repeat(match.length);
  const plain = text
    .replace(NOTICE, (line) => (saysMore(line) ? line : blank(line)))
    .replace(PLACEHOLDER, (match) => (fillIns === null || harmless(match, fillIns) ? blank(match) : match));
  const out: Token[] = [];
  for (const match of plain.matchAll(WORD)) {
    const raw = match[0];
    const start = match.index;
    const end = start + raw.length;
    if (raw.length <= 4 && /^(\d{1,2}|[a-z]|[ivx]{1,4})$/i.test(raw)) {
      const after = plain[end];
      const before = plain[start - 1];
      if (
        after === ')' ||
        (after === '.' && (before === undefined || before === '\n' || /\n[\s*#/-]*$/.test(plain.slice(Math.max(0, start - 12), start))))
      )
        continue;
    }
    const word = wordOf(raw);
    const last = out.at(-1);
    if (word === 'isc' || (last !== undefined && HOLDERS[word]?.includes(last.word))) {
      // "The author", "the copyright holders" and the name of an organization mean whoever grants the license.
      let begin = start;
      while (['the', 'copyright', 'x'].includes(out.at(-1)?.word ?? '')) begin = out.pop()!.start;
      out.push({ word: 'grantor', start: begin, end });
    } else out.push({ word: SAME_WORDS[word] ?? word, start, end });
  }
  return out;
}

/** Hash of a run of words that stand one after the other. */
function runHash(words: Int32Array, at: number): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < RUN; i++) h = Math.imul(h ^ words[at + i]!, 0x01000193) ^ (h >>> 13);
  return h;
}

/**
 * Makes an index of license texts, such as those of the SPDX License List. Of identifiers with one and the same text the
 * first that we know the uses of stands for all, or else the shortest that ends in "-only", or else the first.
 */
export function compileLicenses(texts: readonly { spdxId: string; text: string }[]): LicenseIndex {
  const vocabulary = new Map<string, number>();
  const runs = new Map<number, number[]>();
  const templates: Template[] = [];
  const same = new Map<string, number>();
  const preference = (id: string): number => (openLicense(id)?.spdxId === id ? 0 : /-only$/.test(id) ? 1 : 2);
  for (const { spdxId, text } of [...texts, ...MORE_TEXTS].sort((a, b) => preference(a.spdxId) - preference(b.spdxId))) {
    const list = tokens(text);
    // Of exceptions the list has only their own text, under identifiers that are no longer used.
    if (list.length < SHORTEST || /-with-.*exception/.test(spdxId)) continue;
    const key = list.map((t) => t.word).join(' ');
    if (same.has(key)) continue;
    same.set(key, templates.length);
    const words = Int32Array.from(list, ({ word }) => {
      let id = vocabulary.get(word);
      if (id === undefined) vocabulary.set(word, (id = vocabulary.size + 1));
      return id;
    });
    const part = OPTIONAL_PARTS.find((p) => p.ids.test(spdxId));
    const cut = (pattern: RegExp | undefined, otherwise: number): number => {
      const match = pattern?.exec(text);
      if (!match) return otherwise;
      const at = list.findIndex((t) => t.start >= match.index);
      return at < 0 ? otherwise : at;
    };
    const template: Template = {
      spdxId,
      text,
      words,
      from: cut(part?.until, title(list, text)),
      until: cut(part?.from, list.length),
      runs: 0,
    };
    const number = templates.push(template) - 1;
    const sparse = words.length >= SPARSE;
    for (let i = 0; i + RUN <= words.length; i++) {
      const hash = runHash(words, i);
      if (sparse && (hash & 3) !== 0) continue;
      template.runs++;
      const known = runs.get(hash);
      if (!known) runs.set(hash, [number]);
      else if (known.at(-1) !== number) known.push(number);
    }
  }
  const fillIns = new Set(templates.flatMap((t) => (t.text.match(PLACEHOLDER) ?? []).map((m) => m.toLowerCase())));
  return { templates, vocabulary, runs, nameless: new Set(NAMELESS.flatMap((word) => vocabulary.get(word) ?? [])), fillIns };
}

/** How many words the title of a text has, which may be left out; 0 when it begins without one. */
function title(list: readonly Token[], text: string): number {
  const line = /^\s*([^\n]{3,80})\n\s*\n/.exec(text);
  if (!line || !/licen[cs]e/i.test(line[1]!)) return 0;
  return list.findIndex((t) => t.start >= line[0].length);
}

interface Aligned {
  template: Template;
  score: number;
  matched: number;
  /** First word of the text that belongs to the license's required part, and the one after its last. */
  from: number;
  until: number;
  /** The same with title and instructions. */
  outerFrom: number;
  outerUntil: number;
  /** Words of title and instructions that are there. */
  asides: number[];
  /** Stretches of words that differ: [template from, until, text from, until]. */
  gaps: [number, number, number, number][];
}

/**
 * Reads which known licenses a text holds. Runs of five words find candidates; each is then laid beside the text word by
 * word, so that prose around it costs nothing and every differing passage is known.
 */
export function readLicenses(text: string, index: LicenseIndex): LicenseReading {
  const list = tokens(text, index.fillIns);
  const words = Int32Array.from(list, (t) => index.vocabulary.get(t.word) ?? 0);
  const hashes = runHashes(words);
  const hits = new Map<number, number>();
  const seen = new Set<number>();
  for (const hash of hashes) {
    if (seen.has(hash)) continue;
    seen.add(hash);
    for (const number of index.runs.get(hash) ?? []) hits.set(number, (hits.get(number) ?? 0) + 1);
  }
  const candidates = [...hits]
    .map(([number, count]) => ({ template: index.templates[number]!, share: count / index.templates[number]!.runs, count }))
    .filter((c) => c.share >= 0.35)
    .sort((a, b) => b.share - a.share);
  // Those with the greatest share, and the longest among the rest: a text may hold a license that holds another.
  const chosen = new Set([...candidates.slice(0, 8), ...[...candidates].sort((a, b) => b.count - a.count).slice(0, 6)]);
  const aligned = [...chosen].map((c) => align(c.template, words, hashes, index)).filter((a) => a !== null && a.score >= NEAR) as Aligned[];
  const recognition = (a: Aligned): Recognition => describe(a, text, list);
  const full = aligned
    .filter((a) => a.score >= THRESHOLD && wholeAndPlain(a, list, text))
    .sort((a, b) => b.matched * b.score ** 3 - a.matched * a.score ** 3);
  const overlap = (a: Aligned, b: Aligned): boolean =>
    Math.min(a.until, b.until) - Math.max(a.from, b.from) > 0.2 * Math.min(a.until - a.from, b.until - b.from);
  const recognised: Aligned[] = [];
  for (const a of full) {
    if (recognised.some((r) => overlap(a, r))) continue;
    // A longer license that is nearly there casts doubt on a shorter one within it: clauses were added that matter.
    const doubt = aligned.some((b) => b !== a && b.matched > a.matched * 1.05 && b.score >= 0.8 && b.score < THRESHOLD && overlap(a, b));
    if (!doubt) recognised.push(a);
  }
  const near = aligned.filter((a) => !recognised.some((r) => overlap(a, r))).sort((a, b) => b.score * b.matched - a.score * a.matched)[0];
  return { recognised: recognised.map(recognition), near: near ? recognition(near) : null };
}

/** The text without the licenses found in it, blank in their place, so that what stands around them keeps its offsets. */
export function aroundLicenses(text: string, recognised: readonly Recognition[]): string {
  let out = text;
  const blank = (start: number, end: number): void =>
    void (out = out.slice(0, start) + out.slice(start, end).replace(/[^\n]/g, ' ') + out.slice(end));
  for (const { start, end, asides } of recognised) {
    blank(start, end);
    for (const a of asides) blank(a.start, a.end);
  }
  return out;
}

/** The known license whose text is there; the longest when there are several. Null when none is close enough. */
export function recogniseText(text: string, index: LicenseIndex): Recognition | null {
  return readLicenses(text, index).recognised[0] ?? null;
}

const runHashes = (words: Int32Array): Int32Array =>
  Int32Array.from({ length: Math.max(0, words.length - RUN + 1) }, (_, i) => runHash(words, i));

/** Runs that occur once in a license and where; kept, since the same few licenses are asked for again and again. */
const once = new WeakMap<Template, Map<number, number>>();
function onceIn(template: Template): Map<number, number> {
  let places = once.get(template);
  if (!places) {
    once.set(template, (places = new Map()));
    for (const [i, hash] of runHashes(template.words).entries()) places.set(hash, places.has(hash) ? -1 : i);
  }
  return places;
}
const parted = new WeakMap<Template, Token[]>();
function tokensOf(template: Template): Token[] {
  let list = parted.get(template);
  if (!list) parted.set(template, (list = tokens(template.text)));
  return list;
}

/** Lays a license beside a text; null when nothing of it stands there in order. */
function align(template: Template, words: Int32Array, hashes: Int32Array, index: LicenseIndex): Aligned | null {
  const own = template.words;
  const places = onceIn(template);
  const pairs: [number, number][] = [];
  const votes = new Map<number, number>();
  const WIDTH = 64;
  for (let j = 0; j < hashes.length; j++) {
    const i = places.get(hashes[j]!);
    if (i === undefined || i < 0) continue;
    pairs.push([i, j]);
    const lane = Math.floor((j - i) / WIDTH);
    votes.set(lane, (votes.get(lane) ?? 0) + 1);
  }
  if (pairs.length === 0) return null;
  // The license may stand in a text twice, or be quoted in it: the place where most of it stands together counts.
  const best = [...votes].sort((a, b) => b[1] - a[1])[0]![0];
  const slack = Math.max(200, own.length * 0.3);
  const near = pairs.filter(([i, j]) => Math.abs(j - i - best * WIDTH) <= slack);
  const chain = increasing(near);
  if (chain.length === 0) return null;
  const gaps: Aligned['gaps'] = [];
  let matched = 0;
  const within = (i: number): number => (i >= template.from && i < template.until ? 1 : 0);
  let optional = 0;
  let began = -1;
  let ended = 0;
  const asides: number[] = [];
  let outerFrom = -1;
  let outerUntil = 0;
  const take = (i: number, j: number): void => {
    matched++;
    if (outerFrom < 0) outerFrom = j;
    outerUntil = Math.max(outerUntil, j + 1);
    if (!within(i)) {
      optional++;
      asides.push(j);
      return;
    }
    if (began < 0) began = j;
    ended = Math.max(ended, j + 1);
  };
  // What stands before the first run and after the last may still match word by word.
  const first = chain[0]!;
  let i = 0;
  let j = Math.max(0, first[1] - first[0] - 8);
  const between = (toI: number, toJ: number, edge: 'before' | 'after' | null): void => {
    const steps = compare(own, i, toI, words, j, toJ);
    // At an edge the license ends where going on would find more foreign words than its own.
    const kept =
      edge === null
        ? [0, steps.length]
        : edge === 'after'
          ? [0, worthwhile(steps)]
          : [steps.length - worthwhile([...steps].reverse()), steps.length];
    steps.forEach((step, at) => {
      const outside = at < kept[0]! || at >= kept[1]!;
      if (step.same && !outside) {
        for (let k = step.i; k < step.i2; k++) take(k, step.j + k - step.i);
      } else if (step.i < step.i2 || !outside) gaps.push([step.i, step.i2, step.j, outside ? step.j : step.j2]);
    });
    i = toI;
    j = toJ;
  };
  between(first[0], first[1], 'before');
  for (const [ci, cj] of chain) {
    if (ci < i || cj < j) {
      // Runs overlap: only the last word is new.
      const skip = Math.max(i - ci, j - cj);
      if (skip >= RUN || i - ci !== j - cj) continue;
      for (let k = skip; k < RUN; k++) take(ci + k, cj + k);
    } else {
      between(ci, cj, null);
      for (let k = 0; k < RUN; k++) take(ci + k, cj + k);
    }
    i = ci + RUN;
    j = cj + RUN;
  }
  between(own.length, Math.min(words.length, j + (own.length - i) + 8), 'after');
  let inserted = 0;
  for (const [a, b, c, d] of gaps) {
    // Somebody's own name in the place of "the copyright holder" is what licenses are made for.
    if (b > a && d > c && d - c <= LONGEST_NAME && own.slice(a, b).every((word) => index.nameless.has(word))) matched += b - a;
    else inserted += d - c;
  }
  const required = template.until - template.from;
  return {
    template,
    matched,
    score: matched / (required + optional + inserted),
    from: Math.max(0, began),
    until: ended,
    outerFrom: Math.max(0, outerFrom),
    outerUntil,
    asides,
    gaps: gaps.filter(([a, b, c, d]) => d > c || (a < template.until && b > template.from)),
  };
}

/** How many steps, from a sure place outward, hold more of the license than of anything else. */
function worthwhile(steps: readonly Step[]): number {
  let sum = 0;
  let best = 0;
  let count = 0;
  steps.forEach((step, at) => {
    sum += step.same ? step.i2 - step.i : -(step.j2 - step.j) - 0.5 * (step.i2 - step.i);
    if (sum > best) {
      best = sum;
      count = at + 1;
    }
  });
  return count;
}

/** The longest chain of pairs that rises on both sides (patience sorting). */
function increasing(pairs: readonly [number, number][]): [number, number][] {
  const tails: number[] = [];
  const before = new Int32Array(pairs.length).fill(-1);
  pairs.forEach(([i], at) => {
    let lo = 0;
    let hi = tails.length;
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (pairs[tails[mid]!]![0] < i) lo = mid + 1;
      else hi = mid;
    }
    before[at] = lo > 0 ? tails[lo - 1]! : -1;
    tails[lo] = at;
  });
  const out: [number, number][] = [];
  for (let at = tails.at(-1) ?? -1; at >= 0; at = before[at]!) out.push(pairs[at]!);
  return out.reverse();
}

interface Step {
  same: boolean;
  i: number;
  i2: number;
  j: number;
  j2: number;
}

/** Compares two stretches word by word (longest common subsequence); long ones that differ count as differing whole. */
function compare(a: Int32Array, i0: number, i1: number, b: Int32Array, j0: number, j1: number): Step[] {
  const n = i1 - i0;
  const m = j1 - j0;
  if (n <= 0 && m <= 0) return [];
  if (n <= 0 || m <= 0 || n * m > 250_000) return [{ same: false, i: i0, i2: i1, j: j0, j2: j1 }];
  const width = m + 1;
  const best = new Uint16Array((n + 1) * width);
  for (let i = n - 1; i >= 0; i--)
    for (let j = m - 1; j >= 0; j--)
      best[i * width + j] =
        a[i0 + i] === b[j0 + j] && b[j0 + j] !== 0
          ? best[(i + 1) * width + j + 1]! + 1
          : Math.max(best[(i + 1) * width + j]!, best[i * width + j + 1]!);
  const out: Step[] = [];
  const put = (same: boolean, i: number, i2: number, j: number, j2: number): void => {
    const last = out.at(-1);
    if (last?.same === same) {
      last.i2 = i2;
      last.j2 = j2;
    } else out.push({ same, i, i2, j, j2 });
  };
  let i = 0;
  let j = 0;
  while (i < n || j < m) {
    if (i < n && j < m && a[i0 + i] === b[j0 + j] && b[j0 + j] !== 0) put(true, i0 + i, i0 + ++i, j0 + j, j0 + ++j);
    else if (j >= m || (i < n && best[(i + 1) * width + j]! >= best[i * width + j + 1]!)) put(false, i0 + i, i0 + ++i, j0 + j, j0 + j);
    else put(false, i0 + i, i0 + i, j0 + j, j0 + ++j);
  }
  return out;
}

/**
 * Whether every clause of a license stands in the text word for word. Everything in a license grants, binds or disclaims
 * but what `FREE_PASSAGES` marks, so any word put in, left out or exchanged makes it another text. Somebody's name in the
 * place of the copyright holder, wordings in `VARIANTS` that mean the same, and addresses are no differences.
 */
function wholeAndPlain({ template, gaps }: Aligned, list: readonly Token[], text: string): boolean {
  const own = tokensOf(template);
  const free = freeOf(template);
  return gaps.every(([a, b, c, d]) => {
    // Titles before a license and instructions after it are read like any words around it.
    if (b <= template.from || a >= template.until) return true;
    const expected = own.slice(Math.max(a, template.from), Math.min(b, template.until)).filter((t) => !isMarker(t, template.text));
    const found = list.slice(c, d).filter((t) => !isMarker(t, text));
    const spared = own.slice(a, b).every((_, k) => a + k < template.from || a + k >= template.until || free[a + k] === 1);
    if (found.length === 0 && (expected.length === 0 || spared)) return true;
    if (isAddress(found, text)) return expected.length === 0 || isAddress(expected, template.text) || spared;
    const names =
      expected.some((t) => t.word === 'grantor' || t.word === 'contributors') && expected.every((t) => NAMELESS.includes(t.word));
    if (names && isName(found)) return true;
    const was = expected.map((t) => t.word).join(' ');
    const is = found.map((t) => t.word).join(' ');
    return was === is || VARIANTS.some((v) => v.some((x) => x === was) && v.some((x) => x === is));
  });
}

/** Whether a word is the letter or number of a list item. */
const isMarker = (t: Token, text: string): boolean =>
  t.end - t.start <= 4 && /^([b-zA-Z]|[ivx]{1,4}|\d{1,2})$/.test(text.slice(t.start, t.end)) && /^[.):]/.test(text.slice(t.end, t.end + 1));

/** Whether words could be somebody's name: few, and none that says anything. */
const isName = (words: readonly Token[]): boolean =>
  words.length <= LONGEST_NAME && words.every((t) => (!NO_NAME.has(t.word) || t.end - t.start === 1) && !/^\d{1,3}$/.test(t.word));

/** Whether words stand in one address of a page or of a mailbox. */
function isAddress(words: readonly Token[], text: string): boolean {
  if (words.length === 0) return false;
  const first = words[0]!;
  const last = words.at(-1)!;
  const between = text.slice(first.start, last.end);
  if (/\s/.test(between)) return false;
  const around =
    text.slice(Math.max(0, first.start - 12), first.start).match(/\S*$/)![0] +
    between +
    (/^\S*/.exec(text.slice(last.end, last.end + 80))?.[0] ?? '');
  return /(?:https?:\/\/|www\.|@)\S|[a-z0-9-]\.(?:com|org|net|edu|eu|io|pl|de|uk|jp|info)\b/i.test(around);
}

const freed = new WeakMap<Template, Uint8Array>();
/** Words of a template that neither grant nor bind, as marks. */
function freeOf(template: Template): Uint8Array {
  let marks = freed.get(template);
  if (!marks) {
    const list = tokensOf(template);
    freed.set(template, (marks = new Uint8Array(list.length)));
    for (const { ids, pattern } of FREE_PASSAGES) {
      if (!ids.test(template.spdxId)) continue;
      for (const match of template.text.matchAll(pattern))
        list.forEach((t, i) => {
          if (t.start >= match.index && t.end <= match.index + match[0].length) marks![i] = 1;
        });
    }
  }
  return marks;
}

function describe(
  { template, score, gaps, from, until, outerFrom, outerUntil, asides }: Aligned,
  text: string,
  list: readonly Token[],
): Recognition {
  const own = tokensOf(template);
  const piece = (source: string, part: readonly Token[]): string =>
    part.length === 0 ? '' : source.slice(part[0]!.start, part.at(-1)!.end).replace(/\s+/g, ' ').slice(0, 600);
  const names = reservedNames(text);
  const around = text.slice(0, list[outerFrom]?.start ?? 0) + text.slice(list[outerUntil - 1]?.end ?? 0);
  const spdxId = preciseId(template.spdxId, around, text);
  const known = openLicense(spdxId);
  return {
    spdxId: known?.spdxId ?? spdxId,
    name: known?.name ?? spdxId,
    score: Math.min(1, score),
    start: list[from]?.start ?? 0,
    end: list[until - 1]?.end ?? 0,
    asides: stretches(asides).map(([a, b]) => ({ start: list[a]!.start, end: list[b]!.end })),
    reservedNames: names,
    differences: gaps.slice(0, 60).map(([a, b, c, d]) => ({
      expected: piece(template.text, own.slice(a, b)),
      found: piece(text, list.slice(c, d)),
      start: list[c]?.start ?? text.length,
      end: d > c ? list[d - 1]!.end : (list[c]?.start ?? text.length),
    })),
  };
}

/** Runs of numbers that follow each other, as first and last. */
function stretches(numbers: readonly number[]): [number, number][] {
  const out: [number, number][] = [];
  for (const n of numbers) {
    const last = out.at(-1);
    if (last?.[1] === n - 1) last[1] = n;
    else out.push([n, n]);
  }
  return out;
}

/** Which of the identifiers that share a text is meant, by what stands around it. */
function preciseId(spdxId: string, around: string, text: string): string {
  const gnu = /^((?:A|L)?GPL-\d\.\d)(?:-only|-or-later|\+)?$/.exec(spdxId);
  if (!gnu) return spdxId;
  const id = /any\s+later\s+version/i.test(around) ? `${gnu[1]}-or-later` : `${gnu[1]}-only`;
  return FONT_EXCEPTION.test(text) ? `${id} WITH Font-exception-2.0` : id;
}

/** The sentence of the exception for documents. Source: SPDX License List, Font-exception-2.0. */
export const FONT_EXCEPTION =
  /this\s+font\s+does\s+not\s+by\s+itself\s+cause\s+the\s+resulting\s+document\s+to\s+be\s+covered\s+by\s+the\s+GNU\s+General\s+Public\s+License/i;

/** Names that a changed version may not carry, from a copyright line. Source: OFL 1.1, definitions and section 3. */
export function reservedNames(text: string): string[] {
  const names = new Set<string>();
  for (const match of text.matchAll(/with\s+(?:the\s+)?Reserved\s+Font\s+Names?:?\s+([^\n]{1,200})/gi)) {
    const rest = match[1]!;
    const quoted = [...rest.matchAll(/["'“‘”]([^"'“”‘’]{1,60})["'”’]/g)].map((m) => m[1]!.trim());
    const found = quoted.length > 0 ? quoted : rest.split(/\.\s|\.$|\bCopyright\b|\(c\)/i)[0]!.split(/,| and /);
    for (const name of found) {
      const clean = name.trim().replace(/[.,;]+$/, '');
      // The license text itself speaks of <Reserved Font Name> in its pattern line.
      if (clean && !/reserved font name|^<|\.\.\./i.test(clean)) names.add(clean);
    }
  }
  return [...names];
}
