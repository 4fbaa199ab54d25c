import { BINDING, HOLDING, MILD, PLACES, RIGHTS, USING } from './data/beside-words.js';
import { bears, isKnown, WORD } from './wording.js';

/** Words that may stand in lower case in a line of a copyright notice. */
const NOTICE_SMALL =
  /^(?:and|others?|by|the|of|in|at|on|with|de|del|della|der|den|des|du|da|di|do|dos|la|le|les|von|van|zu|zum|ten|ter|et|y|e|und|og|och|ja|i|al|aka|a|an|for|from|project|projects|authors?|contributors?|team|fonts?|typefaces?|family|families|software|data|inc|ltd|llc|gmbh|co|corp|kg|ag|sa|srl|portions|digiti[sz]ed|copyright|c|reserved|names?|all|rights|glyphs?|its|their|his|her|jr|sr|st|based|are|is|this|latin|greek|cyrillic|arabic|hebrew|devanagari|original|outlines?|version|trademarks?)$/;
const NOTICE_BEGINS =
  /^[^\p{L}\d(©]*(?:(?:some |all )?(?:portions?|parts?|original work|modified work|digiti[sz]ed data|font data|data|glyphs?|outlines?|fonts?)\s+)?(?:are\s+|is\s+)?(?:copyright|copr\.?|©|\(c\)|(?:19|20)\d\d)/iu;
const NAMED_BODIES =
  /^(?:Companies|Academy|Company|Corporation|Corporate|University|Universität|Universidad|Institute|College|School|Foundation|Organi[sz]ation|Association|Society|Trust|Department|Government|Commission|Consultants|Agency|Client|Product|Systems?|Software|Type|Fonts?|Web|Site|Press|Print|Printing|Free|Mobile|Open|Reserved|Rights|All|Copyright|Names?|Project|Authors|Contributors|The|Digital|Media|Publishing|Publishers|Book|Books|Computer|Machines|Inc|Incorporated|Limited|Ltd|International|Desktop|Own)$/;

/** Whether a line says whose copyright it is and nothing else: years, names, addresses, reserved names. */
export function isNotice(line: string): boolean {
  // Several files, each with its line.
  const files = line.split(/(?:^|\s)[\w[\],.-]+\.(?:ttf|otf|ttc|woff2?):\s/);
  if (files.length > 1) return files.every((part) => part.trim() === '' || isNotice(part.trim()));
  if (line.length > 600 || !NOTICE_BEGINS.test(line)) return false;
  const rest = line
    .replace(
      /https?:\/\/[^\s)>]+|www\.[^\s)>]+|<[^>\s]+>|[^\s(<]+(?:@| at | AT )[\w.-]+|\(c\)|\b[\w-]+\.(?:com|org|net|de|edu|io|info|jp|pl|uk|fr|nl|ru)\b\S*/gi,
      ' ',
    )
    .replace(/(?:with|and)?\s*(?:no\s+)?reserved font (?:family )?names?(?: is| are)?/gi, ' ')
    .replace(/all rights reserved/gi, ' ')
    .replace(/\b(?:The )?\p{Lu}[\w ]{1,50} Project Authors\b/gu, ' ')
    .replace(/\b(?:original|modified) work\b/gi, ' ')
    .replace(/,? including subfamilies:(?= ["“])/gi, ' ')
    .replace(/["“'‘][^"”'’\n]{1,60}["”'’]/g, (m) => (/\p{Lu}/u.test(m) ? ' ' : m));
  // Names in lower case, before a mailbox.
  const named = line
    .trim()
    .replace(/^copyright:?/i, '')
    .trimStart()
    .replace(/^(?:©|\(c\))/i, '')
    .replace(/^[\s\d,–-]+/, '');
  const lower = /^([\p{L}.]+(?: [\p{L}.]+){0,3}) ?[<(][^\s@<(]+@[^\s>)]+[>)]$/u.exec(named);
  if (lower) return ![...lower[1]!.matchAll(WORD)].some((m) => bears(m[0].toLowerCase()));
  let before = false;
  for (const m of rest.matchAll(WORD)) {
    const w = m[0];
    if (
      /^\p{Ll}/u.test(w)
        ? !NOTICE_SMALL.test(w) && (isKnown(w) || bears(w))
        : (BINDING.test(w) && !MILD.test(w)) ||
          (!NAMED_BODIES.test(w) && (HOLDING.test(w) || USING.test(w) || (PLACES.test(w) && !before) || (RIGHTS.test(w) && w !== 'Law')))
    )
      return false;
    if (/^\p{Lu}/u.test(w)) before = true;
  }
  // A sentence that goes on after the names says more.
  return !/[.;:]\s+\p{Lu}\p{Ll}+ \p{Ll}+ \p{Ll}+/u.test(rest);
}

/** A text without copyright lines that say nothing else. */
export const withoutStrictNotices = (text: string): string =>
  text.replace(/[^\n]+/g, (line) => (isNotice(line) ? ' '.repeat(line.length) : line));

/** Names that the text itself tells: of copyright lines, addresses, reserved names. */
export function namesOf(text: string): Set<string> {
  const out = new Set<string>();
  const add = (w: string): void => {
    if (w.length > 1 && !bears(w.toLowerCase())) out.add(w.toLowerCase());
  };
  for (const line of text.split('\n')) if (isNotice(line)) for (const m of line.matchAll(WORD)) if (/^\p{Lu}/u.test(m[0])) add(m[0]);
  for (const m of text.matchAll(/(?:https?:\/\/|www\.)[^\s)>]+/g)) for (const w of m[0].matchAll(/[a-z]{3,}/gi)) add(w[0]);
  return out;
}
