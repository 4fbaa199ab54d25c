import {
  CREATIVE_COMMONS,
  FROM_ELSEWHERE,
  GNU,
  GNU_VERSION,
  NAMED_LICENSES,
  OTHER_THINGS,
  PUTS_UNDER,
  STANDARD_WORDS,
  TAKES_BACK,
  THE_FONT,
  UNPLAIN,
} from './data/mention-words.js';
import { openLicense } from './data/open-licenses.js';
import { FONT_EXCEPTION, reservedNames, withoutNotices } from './recognise.js';
import { sentencesOf, type Sentence } from './sentences.js';

/**
 * A license that a text names without holding its words. It is a hint and nothing more: only where the sentence plainly
 * puts the font under the license, and nothing around it takes that back, may it be offered as an answer, which a person
 * then confirms.
 */
export interface Mention {
  /** Null where the text does not say which version. */
  spdxId: string | null;
  name: string;
  /** The sentence that names it, and where it begins in the text, in UTF-16 units. */
  sentence: string;
  start: number;
  /** Whether the sentence puts the font under the license and nothing in the text takes that back. */
  grants: boolean;
  /** Why it does not, in one sentence; null where it does. */
  doubt: string | null;
  reservedNames: string[];
}

interface Named {
  spdxId: string | null;
  name: string;
  /** Where the name begins in the sentence. */
  at: number;
}

/** Which licenses a sentence names, each once; the more exact of two names at one place. */
function namedIn(sentence: string, exception: boolean): Named[] {
  const out: Named[] = [];
  const gnu = GNU.exec(sentence);
  if (gnu) {
    const kind =
      /affero/i.test(gnu[1] ?? '') || gnu[2]?.toUpperCase() === 'A' ? 'AGPL' : gnu[1] || gnu[2]?.toUpperCase() === 'L' ? 'LGPL' : 'GPL';
    const version = GNU_VERSION.exec(sentence.slice(gnu.index));
    const number = gnu[3] ?? version?.[1] ?? version?.[2] ?? version?.[3] ?? null;
    const later = gnu[4] === '+' || /any later|or later|or newer|or above|\dv?\+/i.test(sentence.slice(gnu.index));
    const long = {
      AGPL: 'GNU Affero General Public License',
      LGPL: 'GNU Lesser General Public License',
      GPL: 'GNU General Public License',
    }[kind];
    const full = number === null ? null : number.includes('.') ? number : `${number}.0`;
    const id =
      full === null
        ? null
        : `${kind}-${full}-${later ? 'or-later' : 'only'}${exception && kind === 'GPL' ? ' WITH Font-exception-2.0' : ''}`;
    out.push({
      spdxId: id,
      name: (id && openLicense(id)?.name) ?? `${long}${number === null ? '' : ` ${number}${later ? ' or later' : ''}`}`,
      at: gnu.index,
    });
  }
  const cc = CREATIVE_COMMONS.exec(sentence);
  if (cc) {
    const long = (cc[5] ?? '').toLowerCase();
    const parts = (
      cc[1] ??
      cc[3] ??
      `by${/non/.test(long) ? '-nc' : ''}${/deriv/.test(long) ? '-nd' : ''}${/share/.test(long) ? '-sa' : ''}`
    )
      .toUpperCase()
      .replace(/ /g, '-');
    const number = cc[2] ?? cc[4] ?? cc[6] ?? null;
    const id = number === null ? null : `CC-${parts}-${number}`;
    out.push({
      spdxId: id,
      name: (id && openLicense(id)?.name) ?? `Creative Commons ${parts}${number === null ? '' : ` ${number}`}`,
      at: cc.index,
    });
  }
  for (const { pattern, spdxId, name } of NAMED_LICENSES) {
    const match = pattern.exec(sentence);
    // The general name stands within the exact one.
    if (match && !out.some((o) => spdxId === null && o.name.startsWith(name))) out.push({ spdxId, name, at: match.index });
  }
  return out;
}

/** A sentence without the words that every license has. */
function plain(sentence: string): string {
  if (tooLong(sentence)) return sentence;
  return STANDARD_WORDS.reduce((t, p) => t.replace(p, ' '), sentence);
}

/**
 * Reads which licenses a text names.
 * @param fields further texts that may take back what this one grants, such as the font's copyright line
 */
export function readMentions(text: string, fields: readonly string[] = []): Mention[] {
  const sentences = sentencesOf(withoutNotices(text));
  const exception = FONT_EXCEPTION.test(text);
  const back = [...sentences, ...fields.flatMap((f) => sentencesOf(withoutNotices(f)))].find(takesBack);
  const out = new Map<string, Mention>();
  // Asked once: for each name that a text mentions, its time would grow with the square of the text.
  const reserved = reservedNames(text);
  for (const { text: sentence, start } of sentences) {
    const rest = tooLong(sentence) ? '' : plain(sentence);
    for (const named of namedIn(sentence, exception)) {
      const before = tooLong(sentence) ? '' : sentence.slice(0, named.at);
      const puts = PUTS_UNDER.test(before);
      const doubt =
        tooLong(sentence) || UNPLAIN.test(rest)
          ? `“${short(sentence)}” does not plainly put the font under it.`
          : !puts
            ? 'It is named, and no sentence puts the font under it.'
            : !aboutTheFont(before)
              ? `“${short(sentence)}” speaks of something else than the font.`
              : back
                ? `“${short(back.text)}” stands beside it.`
                : named.spdxId === null
                  ? 'Which version of it is meant is not said.'
                  : null;
      const key = named.spdxId ?? named.name;
      const mention: Mention = {
        spdxId: named.spdxId,
        name: named.name,
        sentence: sentence.slice(0, 600),
        start,
        grants: doubt === null,
        doubt,
        reservedNames: reserved,
      };
      const known = out.get(key);
      // What is denied in one sentence is not granted by another.
      if (!known) out.set(key, mention);
      else if (known.grants && doubt !== null && (tooLong(sentence) || UNPLAIN.test(rest))) out.set(key, mention);
      else if (!known.grants && mention.grants && known.sentence.length < 600 && !UNPLAIN.test(plain(known.sentence)))
        out.set(key, mention);
    }
  }
  // "OFL" beside "OFL 1.1" is the same license said twice.
  const all = [...out.values()].filter(
    (m) => m.spdxId !== null || ![...out.values()].some((o) => o.spdxId !== null && o.name.startsWith(m.name)),
  );
  const granting = all.filter((m) => m.grants);
  return granting.length < 2
    ? all
    : all.map((m) =>
        m.grants
          ? {
              ...m,
              grants: false,
              doubt: `The text also names the ${granting.find((g) => g !== m)!.name}, and not which of the two counts for this font.`,
            }
          : m,
      );
}

/** Words that stand in every text of a kind and say nothing of their own. */
export const withoutStandardWords = plain;

/** Whether a sentence takes back, narrows or makes doubtful what another grants. */
export function takesBack(sentence: Sentence): boolean {
  return tooLong(sentence.text) || TAKES_BACK.test(plain(sentence.text));
}

/** No sentence of a license is this long; what is, is not read as one, and so grants nothing. */
const tooLong = (sentence: string): boolean => sentence.length > 4000;

/** Words that may stand for the font where a sentence does not name it. */
const STANDS_FOR_IT = new Set(
  'this it these they which all both is are be been has have now hereby also may can you and or the software work file files typeface'.split(
    ' ',
  ),
);

/** Whether what is put under a license is the font and nothing but it, by the words before its name. */
function aboutTheFont(before: string): boolean {
  const verb = PUTS_UNDER.exec(before);
  const subject = before.slice(0, verb?.index ?? before.length).replace(/\bthis program is free software\b/i, 'this is free software');
  if (FROM_ELSEWHERE.test(before) || OTHER_THINGS.test(subject)) return false;
  if (THE_FONT.test(subject) || /\bis free software\b/i.test(subject)) return true;
  return (subject.toLowerCase().match(/\p{L}+/gu) ?? []).every((word) => STANDS_FOR_IT.has(word));
}

const short = (sentence: string): string => (sentence.length > 160 ? `${sentence.slice(0, 157)}…` : sentence);

/**
 * What a font file says of its license: name ID 13, with the copyright line (0) and the address (14) beside it.
 * Source: OpenType specification, name table.
 */
export function readFileMentions(file: { license: string | null; licenseUrl: string | null; copyright: string | null }): Mention[] {
  const found = readMentions(file.license ?? '', [file.copyright ?? '']);
  for (const text of [file.licenseUrl, file.copyright])
    for (const m of readMentions(text ?? '', [file.license ?? '']))
      if (!found.some((f) => f.name === m.name || f.name.startsWith(m.name))) found.push(m);
  const names = reservedNames(file.copyright ?? '');
  return found.map((m) => ({ ...m, reservedNames: [...new Set([...m.reservedNames, ...names])] }));
}
