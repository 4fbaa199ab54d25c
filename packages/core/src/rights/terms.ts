import {
  ALLOWS,
  AMOUNTS,
  ASKS_LEAVE,
  ASKS_OTHERWISE,
  COMMERCE,
  CROSSES,
  DENIALS,
  GENERAL,
  HARMLESS,
  KNOWN_WORDS,
  MONEY,
  NUMBER_WORDS,
  OBLIGES,
  OTHER_LICENSE,
  OTHER_OBJECT,
  PERSONAL,
  PLAINLY,
  PLAIN_USES,
  POINTS_BACK,
  SAYS_NO,
  SAYS_YES,
  SMALL_TALK,
  TITLES,
  TURNS,
  USE_WORDS_IN_TERMS,
} from './data/terms-words.js';
import { unitsOf, type Unit } from './units.js';
import { LIMITS, USES, type Answer, type Limit, type Use } from './uses.js';

/** A sentence of somebody's terms, with what it stands under. */
export interface TermsPassage {
  /** As it stands, white space made single. */
  sentence: string;
  /** Where it begins in the text, in UTF-16 units. */
  start: number;
  /** The heading, the introduction of its list or the question it belongs to. */
  context: string | null;
}

/**
 * What a text says so plainly of a use that a person only has to confirm it: every passage on the use agrees, and nothing
 * anywhere conditions, limits or turns it. A suggestion is never a verdict.
 */
export interface TermsSuggestion {
  use: Use;
  answer: Answer;
  /** How much of the use it covers, in the units of `LIMITS`. */
  limit: number | null;
  /** The sentence as it stands, and where it begins. */
  sentence: string;
  start: number;
}

/** A number with its unit. */
export interface TermsLimit {
  /** The field it fits; null where the application keeps none for it. */
  limit: Limit | null;
  amount: number;
  /** In words: "seats", "page views", "months", or a currency. */
  unit: string;
  sentence: string;
  start: number;
}

export interface TermsReading {
  /** For each use that the text speaks of, in the order of `USES`, every sentence that bears on it. */
  passages: { use: Use; sentences: TermsPassage[] }[];
  /** What stands above all uses: who may, since when, how long, for what at all, and exceptions of everything. */
  general: TermsPassage[];
  /** What the program could not place. */
  also: TermsPassage[];
  suggestions: TermsSuggestion[];
  /** Numbers with their units, each once; where a text gives two for one field, neither fits it. */
  limits: TermsLimit[];
  /** Sentences that ask something in return: a credit, the license text, keeping the name. */
  duties: { sentence: string; start: number }[];
  /** Whether the text is English, the only language whose terms are read; false also for a text of a few words. */
  english: boolean;
}

/** Frequent words of English. In terms they make up about a third of all words; in other languages hardly any. */
const FREQUENT = new Set('the of and to you may not is for in or this use any with by your are as be on that it if from'.split(' '));

function isEnglish(text: string): boolean {
  const words =
    text
      .slice(0, 20_000)
      .toLowerCase()
      .match(/\p{L}+/gu) ?? [];
  return words.length > 0 && words.filter((w) => FREQUENT.has(w)).length >= words.length * 0.12;
}

/** More of a sentence than this is not looked at for a direction; it is shown. */
const LONGEST = 600;

const usesIn = (text: string | null): Use[] =>
  text === null ? [] : USE_WORDS_IN_TERMS.filter(({ pattern }) => pattern.test(text)).flatMap(({ uses }) => uses);
/** Uses named by words of their own, not by "commercial" or "any". */
const ownUsesIn = (text: string): Use[] =>
  USE_WORDS_IN_TERMS.slice(1)
    .filter(({ pattern }) => pattern.test(text))
    .flatMap(({ uses }) => uses);

/** Whether a unit or its question names a use by a word of its own. */
const names = (use: Use, unit: Unit): boolean => isPlainly(use, unit.text) || isPlainly(use, unit.question ?? '');
const isPlainly = (use: Use, text: string): boolean => PLAIN_USES[use].some((p) => p.test(text));

/** How often a clause denies. */
const denials = (text: string): number => (text.replace(HARMLESS, ' ').match(DENIALS) ?? []).length;

/** The direction of words that neither turn nor take back; null where they have none or two. */
function plainDirection(text: string): 'yes' | 'no' | null {
  const denied = denials(text);
  if (denied > 1) return null;
  if (denied === 1) return 'no';
  return ALLOWS.test(text) ? 'yes' : null;
}

/** Whether something in the words narrows, conditions or turns what they say. */
function isHeld(text: string): boolean {
  if (/^thank/i.test(text) && text.length < 80) return false;
  const plain = PERSONAL.test(text) && COMMERCE.test(text) ? text.replace(new RegExp(PERSONAL.source, 'gi'), ' ') : text;
  return TURNS.test(plain.replace(HARMLESS, ' ')) || OTHER_LICENSE.test(plain);
}
/** The same, or they speak of something else than the font file. */
const isTurned = (text: string): boolean => isHeld(text) || OTHER_OBJECT.test(text);

/** Clauses whose direction can differ: at semicolons, and where a denial follows an allowance after a comma. */
function clausesOf(sentence: string): string[] {
  const out: string[] = [];
  for (const part of sentence.split(/;\s|\s[–—]\s/)) {
    let rest = part;
    for (;;) {
      const comma = /,\s/g;
      let cut = -1;
      for (let m = comma.exec(rest); m; m = comma.exec(rest))
        if (denials(rest.slice(0, m.index)) === 0 && ALLOWS.test(rest.slice(0, m.index)) && denials(rest.slice(m.index)) > 0) {
          cut = m.index;
          break;
        }
      if (cut < 0) break;
      out.push(rest.slice(0, cut));
      rest = rest.slice(cut + 2);
    }
    out.push(rest);
  }
  return out;
}

/** Whether every word of a sentence is one that plain sentences about uses are made of. */
function isReadWhole(text: string): boolean {
  const words = text
    .replace(HARMLESS, ' ')
    .toLowerCase()
    .match(/[\p{L}][\p{L}’'-]*/gu);
  return (words ?? []).every((w) => KNOWN_WORDS.has(w) || KNOWN_WORDS.has(w.replace(/’/g, "'")));
}

/** What a unit says of a use it names, when it says it plainly; null when a person has to read it. */
function directionFor(unit: Unit, use: Use): 'yes' | 'no' | null {
  const said = directionOfWords(unit, use);
  // "0 apps", "1.5 computers" and "10,00 copies" allow something, and nobody knows what.
  return said === 'yes' && hasUnreadNumber(`${unit.question ?? ''} ${unit.text}`) ? null : said;
}

/** The direction by the words alone. */
function directionOfWords(unit: Unit, use: Use): 'yes' | 'no' | null {
  const { mark, cells } = unit;
  // A question that nothing answers says nothing.
  if (/\?["'”’)]?$/.test(unit.text)) return null;
  const [text, heading, question] = [putPlainly(unit.text), unit.heading && putPlainly(unit.heading), unit.question];
  // What a question calls "my website" is the asker's.
  // What a question calls "my" is the asker's.
  if (![text, question?.replace(/\bmy\b/gi, 'your') ?? '', heading ?? ''].every(isReadWhole)) return null;
  if (text.length > LONGEST || isTurned(text) || isHeld(question ?? '') || isTurned(heading ?? '')) return null;
  if (question !== null) {
    // "Is anything forbidden? Yes, ..." has to be thought about.
    if (ASKS_OTHERWISE.test(question) || !ASKS_LEAVE.test(question) || !isPlainly(use, question)) return null;
    const no = SAYS_NO.test(text);
    return no === SAYS_YES.test(text) ? null : no ? 'no' : denials(text) === 0 ? 'yes' : null;
  }
  if (!isPlainly(use, text)) return null;
  // "You may print and not sell it": what is denied may be something else.
  if (ALLOWS.test(text) && /\b(and|but|yet) (also )?((do|may|can|must) )?(not|never|no|nothing)\b/i.test(text)) return null;
  // "Print: yes, web: no": which answer is whose is for a person to see.
  if (cells === null && ((text.match(/:\s/g) ?? []).length > 1 || (/\b(yes|ok|okay)\b/i.test(text) && /\bno\b/i.test(text)))) return null;
  if (mark !== null) return denials(text) === 0 && heading === null ? mark : null;
  if (cells !== null) {
    const [, said = ''] = cells;
    if (cells.length !== 2 || heading === null) return null;
    return /^(yes|allowed|included|ok)$/i.test(said) ? 'yes' : /^(no|not allowed|not included|none)$/i.test(said) ? 'no' : null;
  }
  if (heading !== null) {
    const under = plainDirection(heading);
    // An item that has a direction of its own may mean either.
    return under !== null && denials(text) === 0 ? under : null;
  }
  // "Print: yes." and "Not included: web, app."
  const colon = /^([^:]{2,60}):\s(.{1,200})$/.exec(text);
  if (colon) {
    const [before, after] = [plainDirection(colon[1]!), plainDirection(colon[2]!)];
    return before !== null && after !== null && before !== after ? null : (after ?? before);
  }
  const directions = clausesOf(text)
    .filter((clause) => isPlainly(use, clause))
    .map(plainDirection);
  return directions.length > 0 && directions.every((d) => d === directions[0]) ? directions[0]! : null;
}

/** Whether a sentence that may be about a use keeps an answer from being plain. */
function speaksAgainst({ text, heading, question, mark }: Unit, answer: Answer): boolean {
  if (isHeld(text) || isHeld(heading ?? '') || question !== null) return true;
  const above = mark ?? (heading !== null && isReadWhole(putPlainly(heading)) ? plainDirection(putPlainly(heading)) : null);
  if (above !== null && denials(text) === 0) return above !== answer;
  if (!isReadWhole(putPlainly(text))) return true;
  const loose = plainDirection(putPlainly(text));
  return loose === null ? denials(text) > 0 : loose !== answer;
}

/** Whether a limit is one of a use; views of a shop are counted like those of any website. */
const bounds = (limit: Limit, use: Use): boolean => LIMITS[limit].use === use || (use === 'online-store' && limit === 'website');

const putPlainly = (text: string): string => PLAINLY.reduce((t, [from, to]) => t.replace(from, to), text);

const passageOf = ({ text, start, heading, question }: Unit): TermsPassage => ({ sentence: text, start, context: question ?? heading });

/** Units of a text by what they bear on. */
interface Placed {
  byUse: Map<Use, { unit: Unit; direction: 'yes' | 'no' | null }[]>;
  general: TermsPassage[];
  also: TermsPassage[];
  duties: TermsReading['duties'];
  /** Whether something anywhere keeps a yes, or any answer, from being plain. */
  yesHeld: boolean;
  allHeld: boolean;
}

function place(units: readonly Unit[]): Placed {
  const placed: Placed = { byUse: new Map(), general: [], also: [], duties: [], yesHeld: false, allHeld: false };
  const introduces = new Set(units.flatMap((u) => u.heading ?? []));
  /** What the unit before named, and whether it spoke of something else than the font. */
  let before: Use[] = [];
  let otherBefore = false;
  for (const unit of units) {
    const { heading, question, text } = unit;
    if (OBLIGES.some((p) => p.test(text.slice(0, LONGEST)))) placed.duties.push({ sentence: text, start: unit.start });
    const isAbove = GENERAL.test(text);
    if (unit.isHeading && introduces.has(text)) {
      // It is shown with every item below it; above all uses only what holds for everything.
      if (isAbove) {
        placed.general.push(passageOf(unit));
        placed.yesHeld = true;
      }
      continue;
    }
    const standsAlone = question === null && heading === null;
    const pointsBack = standsAlone && POINTS_BACK.test(text);
    const named = [...new Set([...usesIn(text), ...usesIn(question), ...usesIn(heading)])];
    // "With this one you can't": what it is about stands in the sentence before.
    const follows = pointsBack && ownUsesIn(text).length === 0 && (denials(text) > 0 || isTurned(text) || ALLOWS.test(text));
    const uses = follows ? [...new Set([...named, ...before])] : named;
    // "You may print it", after a sentence about a readme, is about the readme.
    const elsewhere = otherBefore && pointsBack;
    for (const use of uses) {
      const list = placed.byUse.get(use) ?? [];
      list.push({ unit, direction: elsewhere ? null : directionFor(unit, use) });
      placed.byUse.set(use, list);
    }
    const hasOwnUses = ownUsesIn(`${text} ${question ?? ''} ${heading ?? ''}`).length > 0;
    const turned = isHeld(text) || isHeld(heading ?? '');
    const crosses = CROSSES.test(text);
    const small = SMALL_TALK.test(text) && !isAbove;
    if (isAbove || crosses || (turned && !hasOwnUses)) placed.general.push(passageOf(unit));
    else if (uses.length === 0 && !small) placed.also.push(passageOf(unit));
    // An item below a plain heading speaks of itself alone; any other sentence that was not read whole may speak of everything.
    const above = heading && putPlainly(heading);
    const isItem = unit.mark !== null || (above !== null && isReadWhole(above) && plainDirection(above) !== null);
    const unread = !isItem && !isReadWhole(putPlainly(text));
    if (isAbove || (!hasOwnUses && !small && (turned || unread))) placed.yesHeld = true;
    if (crosses) placed.allHeld = true;
    before = named.length > 0 ? named : before;
    otherBefore = OTHER_OBJECT.test(text);
  }
  return placed;
}

/** The answer of a use where every sentence on it agrees and nothing is left to think about; null otherwise. */
function suggestionFor(use: Use, { byUse, yesHeld, allHeld }: Placed, limits: readonly TermsLimit[]): TermsSuggestion | null {
  const found = byUse.get(use) ?? [];
  const plainly = found.filter(({ unit }) => names(use, unit));
  const [first] = plainly;
  if (!first || first.direction === null || plainly.some((f) => f.direction !== first.direction)) return null;
  const answer = first.direction;
  // What only may be about it must not speak against it.
  if (found.some((f) => !names(use, f.unit) && speaksAgainst(f.unit, answer))) return null;
  if (allHeld || (answer === 'yes' && yesHeld)) return null;
  const within = limits.find((l) => l.limit !== null && bounds(l.limit, use) && found.some((f) => f.unit.start === l.start));
  return {
    use,
    answer,
    limit: answer === 'yes' ? (within?.amount ?? null) : null,
    sentence: first.unit.text,
    start: first.unit.start,
  };
}

/**
 * Reads free-form terms in English: for every use the sentences that bear on it, what stands above all uses, and what could
 * not be placed, so that whoever reads only what is shown misses nothing; and suggestions where nothing is left to think about.
 * Takes time linear in the length of the text.
 */
export function readTerms(text: string): TermsReading {
  const units = unitsOf(text);
  const placed = place(units);
  const limits = limitsIn(units);
  return {
    passages: USES.flatMap((use) => {
      const found = placed.byUse.get(use);
      return found ? [{ use, sentences: found.map((f) => passageOf(f.unit)) }] : [];
    }),
    general: placed.general,
    also: placed.also,
    suggestions: USES.flatMap((use) => suggestionFor(use, placed, limits) ?? []),
    limits: limits.filter((l) => l.limit === null || limits.every((x) => x.limit !== l.limit || x.amount === l.amount)),
    duties: placed.duties,
    english: isEnglish(text),
  };
}

/** A count as `countsIn` leaves it, or in words. */
const numberOf = (raw: string): number => NUMBER_WORDS[raw.toLowerCase().trim()] ?? Number(raw);

/** Whatever looks like a number, with the marks, signs and words of size that belong to it. */
const NUMERAL =
  /(?:[<>≤≥≈~±]\s?|(?<![\p{L}\p{N}])[-−](?=\d))?(?<![\p{L}\d])(?:\d(?:[\d.,’'/½¼¾⅓⅔×%+–-]|x(?=\d)|[ \u00a0](?=\d{3}(?!\d)))*|[½¼¾⅓⅔])(?:\s?(?:k|m|million|thousand)\b)?/giu;
/** Stands for a number that cannot be a count, or that can be read in two ways. */
const UNCLEAR = '#';
/** A text with each count written as digits alone, and `UNCLEAR` in the place of zero, fractions, ranges and odd marks. */
const countsIn = (text: string): string =>
  text.replace(NUMERAL, (raw) => {
    // A full stop, comma or dash behind it belongs to the sentence.
    let end = raw.length;
    while (end > 0 && ".,’'–-".includes(raw[end - 1]!)) end--;
    const [body, tail] = [raw.slice(0, end), raw.slice(end)];
    const [, digits, scale = ''] = /^(.*?)\s?(k|m|million|thousand)?$/is.exec(body)!;
    const times = /^(k|thousand)$/i.test(scale) ? 1000 : scale ? 1_000_000 : 1;
    const grouped = /^\d{1,3}(?:([ ,.’'\u00a0])\d{3})(?:\1\d{3})*(?:(?!\1)[.,]0+)?$/.exec(digits!);
    const whole = grouped ? digits!.replace(/[.,]0+$/, (zeros) => (zeros[0] === grouped[1] ? zeros : '')).replace(/\D/g, '') : digits!;
    const plain = /^\d+$/.test(whole) ? Number(whole) : times > 1 && /^\d+[.,]\d{1,2}$/.test(whole) ? Number(whole.replace(',', '.')) : NaN;
    const amount = Math.round(plain * times * 100) / 100;
    return (Number.isInteger(amount) && amount > 0 ? String(amount) : UNCLEAR) + tail;
  });
/** Numbers in words, as the ends of ranges have them. */
const ANY_NUMBER = '(?:\\d|#|\\b(?:one|two|three|four|five|six|seven|eight|nine|ten|twelve|fifteen|twenty|fifty|hundred|thousand))';
/** Before a count that is the end of a range, a share, or where something else begins. */
const NO_COUNT = [
  new RegExp(`${ANY_NUMBER}(?: or| to| and|-| [–-])\\s?$`, 'i'),
  new RegExp(`(?:${ANY_NUMBER}|percent|half|quarter|third) of(?: the)?\\s$`, 'i'),
  /(?<!no |not )\bmore than\s$/i,
  /\b(over|beyond|above|every|each|per|second|between)\s$/i,
];
/** Before a count comes nothing that makes it less or more, and behind it nothing that makes it the beginning of a range. */
const isCount = (text: string, match: RegExpMatchArray): boolean =>
  !NO_COUNT.some((p) => p.test(text.slice(0, match.index))) &&
  !/^\s?(?:or|to|-|–)\s?(?:\d|#)/.test(text.slice(match.index! + match[0].length));
/** Whether a sentence has a number that is read neither as an amount of something nor as a sum of money. */
function hasUnreadNumber(raw: string): boolean {
  let text = countsIn(raw);
  for (const pattern of [...AMOUNTS.flatMap((a) => a.patterns), TITLES])
    text = text.replace(pattern, (...found) => {
      const match = Object.assign(found.slice(0, -2) as string[], { index: found.at(-2) as number }) as RegExpMatchArray;
      return isCount(found.at(-1) as string, match) ? ' ' : match[0];
    });
  return /[\d#]/.test(text);
}

const HAS_NUMBER = /\d|\b(one|single|two|three|four|five|six|seven|eight|nine|ten|twelve|fifteen|twenty|fifty|hundred|thousand)\b/i;

/** Numbers with their units in all units of a text, each once. */
function limitsIn(units: readonly Unit[]): TermsLimit[] {
  const out: TermsLimit[] = [];
  const add = (unit: Unit, limit: Limit | null, name: string, amount: number): void => {
    if (Number.isFinite(amount) && amount > 0 && !out.some((l) => l.limit === limit && l.unit === name && l.amount === amount))
      out.push({ limit, amount, unit: name, sentence: unit.text, start: unit.start });
  };
  for (const unit of units) {
    if (unit.text.length > LONGEST || !HAS_NUMBER.test(unit.text)) continue;
    // "More than 500" says where something else begins, not how much is covered.
    const raw = `${unit.question ? `${unit.question} ` : ''}${unit.text}`;
    const text = countsIn(raw);
    const isAmount = (match: RegExpMatchArray): boolean => isCount(text, match);
    for (const { limit, unit: name, patterns } of AMOUNTS)
      for (const pattern of patterns)
        for (const match of text.matchAll(pattern)) if (isAmount(match)) add(unit, limit, name, numberOf(match[1]!));
    const kinds = [
      ...(/\b(apps?|applications?|games?)\b/i.test(text) ? (['app'] as const) : []),
      ...(/\b(e-?books?|e-?pubs?|publications?)\b/i.test(text) ? (['documents'] as const) : []),
    ];
    const kind = kinds.length === 1 ? kinds[0]! : null;
    if (kind) for (const match of text.matchAll(TITLES)) if (isAmount(match)) add(unit, kind, 'titles', numberOf(match[1]!));
    for (const m of raw.matchAll(MONEY))
      add(unit, null, (m[1] ?? m[4] ?? m[6] ?? '').toLowerCase(), Number((m[2] ?? m[3] ?? m[5]!).replace(',', '.')));
  }
  return out;
}
