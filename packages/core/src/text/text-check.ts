/** A character of a text that a face lacks. */
export interface MissingCharacter {
  codePoint: number;
  count: number;
}

/**
 * What a face can set, as shaping showed it: the one answer to whether it writes a text, for languages, checks of a text,
 * live lines, the filter and the command line.
 */
export interface Writes {
  /** Whether a single character comes out, from a glyph of its own or from its parts. */
  has(codePoint: number): boolean;
  /** Whether a letter with marks that have no character together comes out, each mark at its anchor. In doubt it does not. */
  sets(cluster: string): boolean;
}

/** Whether runs of code points, [first, last, ...] in order, hold one. */
export function inRuns(runs: readonly number[], codePoint: number): boolean {
  let low = 0;
  let high = runs.length / 2 - 1;
  while (low <= high) {
    const middle = (low + high) >> 1;
    if (codePoint < runs[2 * middle]!) high = middle - 1;
    else if (codePoint > runs[2 * middle + 1]!) low = middle + 1;
    else return true;
  }
  return false;
}

/**
 * What a face can set, out of what was kept of it.
 * @param runs code points as [first, last, ...]
 * @param loose letters with marks, as `Coverage.writes` lists them
 */
export function writesOf(runs: readonly number[], loose: readonly string[]): Writes {
  const known = new Set(loose);
  return {
    has: (codePoint) => inRuns(runs, codePoint),
    sets: (cluster) => known.has(cluster),
  };
}

/** Never drawn: ignorable characters, controls, and the separators of lines and paragraphs, which end a line. */
const IGNORABLE = /^[\p{Default_Ignorable_Code_Point}\p{Cc}\p{Zl}\p{Zp}]$/u;
/** A hyphen at which no line is broken looks like any other, and shapers take that where it is missing. */
const NO_BREAK_HYPHEN = '\u2011';
const SPACE = /^\p{Zs}$/u;
/** Letters whose marks must stand at anchors; in other scripts the shaping of the whole script was tried. */
const LOOSE = /^[\p{Script=Latin}\p{Script=Greek}\p{Script=Cyrillic}][\p{Script=Inherited}]+$/u;

/** Whether nothing needs to be drawn for a character, or a plain space will do. */
const needsNothing = (character: string, writes: Writes): boolean =>
  IGNORABLE.test(character) || (SPACE.test(character) && writes.has(0x20)) || (character === NO_BREAK_HYPHEN && writes.has(0x2010));

/** A text in pieces that come out or do not, in order: single characters, and letters with the marks on them. */
export function* piecesOf(text: string, writes: Writes): Generator<{ text: string; missing: number[] }> {
  for (const [piece] of text.normalize('NFC').matchAll(/\P{M}\p{M}*|\p{M}/gu)) {
    const lacking = [...piece].filter((c) => !writes.has(c.codePointAt(0)!) && !needsNothing(c, writes));
    const marks =
      lacking.length === 0 && LOOSE.test(piece) && !writes.sets(piece) ? [...piece].slice(1).filter((c) => !IGNORABLE.test(c)) : [];
    yield { text: piece, missing: [...lacking, ...marks].map((c) => c.codePointAt(0)!) };
  }
}

/** What of a text a face lacks, in order of first appearance. Marks that would not stand on their letter are lacking. */
export function missingFrom(text: string, writes: Writes): MissingCharacter[] {
  const counts = new Map<number, number>();
  for (const { missing } of piecesOf(text, writes)) for (const c of missing) counts.set(c, (counts.get(c) ?? 0) + 1);
  return [...counts].map(([codePoint, count]) => ({ codePoint, count }));
}

/** The smallest set of faces that together have every character that any of them has, by greedy choice. */
export function smallestSet(wanted: readonly number[], faces: readonly { id: string; has(codePoint: number): boolean }[]): string[] {
  let left = new Set(wanted.filter((c) => faces.some((f) => f.has(c))));
  const chosen: string[] = [];
  while (left.size > 0) {
    const best = faces
      .filter((f) => !chosen.includes(f.id))
      .map((f) => ({ f, gain: [...left].filter((c) => f.has(c)).length }))
      .sort((a, b) => b.gain - a.gain)[0]!;
    chosen.push(best.f.id);
    left = new Set([...left].filter((c) => !best.f.has(c)));
  }
  return chosen;
}

/** Something in a text that looks right and is not, with what was probably meant. Offsets in UTF-16 units. */
export interface Suspicion {
  kind: 'mixed-scripts' | 'invisible' | 'apostrophe' | 'decomposed' | 'sharp-s';
  start: number;
  end: number;
  text: string;
  message: string;
  suggestion: string | null;
}

/** Letters that look alike in Latin and Cyrillic. Source: Unicode confusables, the pairs that share a shape in most faces. */
const CYRILLIC_AS_LATIN: Readonly<Record<string, string>> = {
  а: 'a',
  е: 'e',
  о: 'o',
  р: 'p',
  с: 'c',
  у: 'y',
  х: 'x',
  і: 'i',
  ј: 'j',
  ѕ: 's',
  А: 'A',
  В: 'B',
  Е: 'E',
  К: 'K',
  М: 'M',
  Н: 'H',
  О: 'O',
  Р: 'P',
  С: 'C',
  Т: 'T',
  Х: 'X',
  І: 'I',
};
const LATIN_AS_CYRILLIC: Readonly<Record<string, string>> = Object.fromEntries(Object.entries(CYRILLIC_AS_LATIN).map(([c, l]) => [l, c]));

/** Greek letters that pass for Latin ones. Source: Unicode confusables, the pairs that share a shape in most faces. */
const GREEK_AS_LATIN: Readonly<Record<string, string>> = {
  β: 'ß',
  ο: 'o',
  ν: 'v',
  ι: 'i',
  κ: 'k',
  ρ: 'p',
  υ: 'u',
  Α: 'A',
  Β: 'B',
  Ε: 'E',
  Ζ: 'Z',
  Η: 'H',
  Ι: 'I',
  Κ: 'K',
  Μ: 'M',
  Ν: 'N',
  Ο: 'O',
  Ρ: 'P',
  Τ: 'T',
  Υ: 'Y',
  Χ: 'X',
};

/**
 * Stems that standard German writes with ß after a long vowel or diphthong, and Switzerland with ss; only those that mean
 * nothing else with ss. Source: the official German spelling rules (Amtliche Regelung, section 25), the list from memory.
 */
const SHARP_S =
  /(str|gr)(a|o|ö|ü)ss(?=e|er|en|em|es|te|ten|$)|(wei|hei|flei|drei)ss(?=ig|e|er|en|em|es|$)|f(u|ü)ss(?=e|en|es|$)|s(ü)ss(?=e|er|en|em|es|$)|(gie|schlie|genie|flie)ss(?=en|t|e|$)|ausser(?=\p{L}*)|strauss(?=e|$)/iu;

const INVISIBLE: Readonly<Record<string, string>> = {
  '\u200b': 'zero-width space',
  '\u2060': 'word joiner',
  '\ufeff': 'byte order mark',
  '\u00ad': 'soft hyphen',
  '\u180e': 'Mongolian vowel separator',
  '\u202a': 'direction control',
  '\u202b': 'direction control',
  '\u202c': 'direction control',
  '\u202d': 'direction control',
  '\u202e': 'direction control',
};

/** Points out mixed scripts in one word, invisible characters, wrong apostrophes, decomposed accents and a missing ß or ẞ. */
export function suspicions(text: string): Suspicion[] {
  const out: Suspicion[] = [];
  // Common words tell German from its neighbors well enough for a hint that can be passed over.
  const german =
    (text.match(/(?<!\p{L})(und|der|die|das|mit|für|nicht|auch|aus|bei|zum|zur|von|im|ist|ein|eine)(?!\p{L})/giu) ?? []).length >= 2;
  for (const match of text.matchAll(/[\p{L}\p{M}]+/gu)) {
    const word = match[0];
    const latin = (word.match(/\p{Script=Latin}/gu) ?? []).length;
    const cyrillic = (word.match(/\p{Script=Cyrillic}/gu) ?? []).length;
    const greek = (word.match(/\p{Script=Greek}/gu) ?? []).length;
    if (latin > 0 && greek > 0 && cyrillic === 0) {
      const suggestion = [...word].map((c) => GREEK_AS_LATIN[c] ?? c).join('');
      out.push({
        kind: word.includes('β') ? 'sharp-s' : 'mixed-scripts',
        start: match.index,
        end: match.index + word.length,
        text: word,
        message: word.includes('β')
          ? 'A Greek beta stands where German writes ß; they look alike and are not.'
          : 'Latin and Greek letters stand in one word; they look alike and are not.',
        suggestion: suggestion === word || /\p{Script=Greek}/u.test(suggestion) ? null : suggestion,
      });
    } else if (/^\p{Lu}+ß\p{Lu}*$/u.test(word))
      out.push({
        kind: 'sharp-s',
        start: match.index,
        end: match.index + word.length,
        text: word,
        message: 'A small ß among capitals; the capital is ẞ, or SS where the face lacks it.',
        suggestion: word.replaceAll('ß', 'ẞ'),
      });
    else if (german && SHARP_S.test(word) && !/ß/.test(word)) {
      const suggestion = word.replace(SHARP_S, (part) => part.replace(/ss/, 'ß').replace(/SS/, 'ẞ'));
      out.push({
        kind: 'sharp-s',
        start: match.index,
        end: match.index + word.length,
        text: word,
        message: 'Standard German writes ß here; Switzerland writes ss.',
        suggestion,
      });
    } else if (latin > 0 && cyrillic > 0) {
      const table = latin >= cyrillic ? CYRILLIC_AS_LATIN : LATIN_AS_CYRILLIC;
      const suggestion = [...word].map((c) => table[c] ?? c).join('');
      out.push({
        kind: 'mixed-scripts',
        start: match.index,
        end: match.index + word.length,
        text: word,
        message: 'Latin and Cyrillic letters stand in one word; they look alike and are not.',
        suggestion: suggestion === word ? null : suggestion,
      });
    } else if (word !== word.normalize('NFC'))
      out.push({
        kind: 'decomposed',
        start: match.index,
        end: match.index + word.length,
        text: word,
        message: 'An accent stands apart from its letter; some programs set it beside instead of above.',
        suggestion: word.normalize('NFC'),
      });
  }
  for (const match of text.matchAll(/[\u200b\u2060\ufeff\u00ad\u180e\u202a-\u202e]/g))
    out.push({
      kind: 'invisible',
      start: match.index,
      end: match.index + 1,
      text: match[0],
      message: `An invisible character: ${INVISIBLE[match[0]]}.`,
      suggestion: '',
    });
  for (const match of text.matchAll(/(?<=\p{L})['`´](?=\p{L})/gu))
    out.push({
      kind: 'apostrophe',
      start: match.index,
      end: match.index + 1,
      text: match[0],
      message: 'A typewriter apostrophe between letters; print uses the curved one.',
      suggestion: '’',
    });
  return out.sort((a, b) => a.start - b.start);
}
