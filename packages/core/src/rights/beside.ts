import {
  ABOUT_FONTS,
  BINDING,
  CHANGES,
  CREDITS,
  HEADINGS,
  HOLDING,
  LABELS,
  MILD,
  OTHER_PARTS,
  PLACES,
  POINTING,
  POINTING_PHRASES,
  RIGHTS,
  SCOPE,
  TECHNICAL,
  TECHNIQUE,
  TITLES,
  TURNING,
  USING,
} from './data/beside-words.js';
import { readMentions } from './mentions.js';
import { isNotice, namesOf, withoutStrictNotices } from './notices.js';
import { LABEL, withoutPackaging } from './packaging.js';
import { sentencesOf, type Sentence } from './sentences.js';
import { bears, gathered, isCore, isKnown, sentenceKey, WORD } from './wording.js';

/** Names of bodies, within which these words say nothing of their own. */
const BODIES =
  /^(?:Academy|University|College|School|Institute|Institution|Company|Corporation|Church|Government|Foundation|Association|Organi[sz]ation|Agency|Press|Museum|Library)$/;
const named = (w: string, names: ReadonlySet<string>): boolean =>
  names.has(w) || (w.includes('-') && w.split('-').every((p) => p.length < 2 || names.has(p) || isKnown(p)));

const PACKAGE = /^(?:fonts|ttf|otf|tex|latex|texlive|lib|python3?|gir)-/;
const MONTH =
  /^(?:jan|feb|mar|apr|may|jun|jul|aug|sep|sept|oct|nov|dec|january|february|march|april|june|july|august|september|october|november|december|mon|tue|wed|thu|fri|sat|sun|monday|tuesday|wednesday|thursday|friday|saturday|sunday)$/;
/** Addresses that speak of terms or of buying, and those of open licenses or of the file of a project that holds its own. */
const TERMS_ADDRESS = /licen[cs]|eula|terms|commerc|personal|trial|\bbuy|purchas|pric(?:e|ing)/i;
const LICENSE_ADDRESS =
  /scripts\.sil\.org|openfontlicense|creativecommons\.org\/(?:licenses\/by(?:-sa)?\/|publicdomain)|gnu\.org|opensource\.org|apache\.org|latex-project\.org|gust\.org|spdx\.org|\/(?:OFL|LICEN[CS]E|COPYING)(?:\.(?:txt|md))?[.,]?$/i;
/** Sums of money and shares. */
const AMOUNT = /[$€£¥]\s?\d|\d\s?[$€£¥%]|\b(?:EUR|USD|GBP|CHF)\s?\d|\d\s?(?:EUR|USD|GBP|CHF|JPY|PLN|SEK|DKK|NOK|CZK)\b/;
/** Marks that stand for yes and no. */
const MARKS = /[✓✔✗✘☐☑☒×✕✖❌✅]/u;

/**
 * Why a sentence beside an open license is not recognized as harmless; null where it is. What is harmless: copyright lines, titles,
 * lists of versions and changes, thanks, addresses, sentences that point to the license itself, hints on installing and building,
 * descriptions of letters, all in words that were gathered from what comes with fonts. Anything else may narrow it.
 * @param names names that the fonts and their makers bear, in lower case
 * @param own SPDX identifiers of the licenses whose text stands there
 */
export function judgeSentence(sentence: string, names: ReadonlySet<string>, own: readonly string[]): string | null {
  sentence = sentence.replace(/^(?:Comment|License-Grant|Remarks?|Note):\s*/, '');
  if (MARKS.test(sentence)) return 'mark';
  if (sentence.length > 3000) return 'long';
  if (LABEL.test(sentence.replace(/^:?\s*(?:License:)?\s*/i, '')) && /[a-z]/i.test(sentence)) return null;
  if (gathered().sentences.has(sentenceKey(sentence))) return null;
  // An address of terms is terms, but for those of open licenses and of files that hold a license.
  const terms = (sentence.match(/(?:https?:\/\/|www\.)[^\s)>\]]+/g) ?? []).find((a) => TERMS_ADDRESS.test(a) && !LICENSE_ADDRESS.test(a));
  if (terms) return `address ${terms}`;
  if (isTitle(sentence, own)) return null;
  if (FORMS.some((f) => f.test(sentence))) return null;
  if (/^["“'‘,\s]*(?:and |or )?with (?:the )?reserved font (?:family )?names?/i.test(sentence) && isNotice(`Copyright 2000 A ${sentence}`))
    return null;
  if (
    isNotice(
      sentence.replace(
        /^(?:this font(?: software)?|the fonts?|fonts?|[\p{Lu}][\w-]*(?: [\p{Lu}\d][\w-]*){0,4}) (?:is|are) (?=copyright|©|\(c\))/iu,
        '',
      ),
    )
  )
    return null;
  // Code, addresses, file names and numbers say nothing.
  const plain = sentence
    .replace(/https?:\/\/\S+|www\.\S+|[^\s@]+@\S+|ftp:\/\/\S+/g, ' ')
    .replace(/`[^`\n]*`|<[^>\n]{1,80}>/g, ' ')
    .replace(/\b(?:its|their|his|her|my|our) own\b(?! (?:use|purpose|project|work))/gi, ' ')
    .replace(
      /\bfree(?:ly)?[- ](?=(?:and[- ]open|open|licensed|unicode|opentype|truetype|fonts?|software|typefaces?|alternative|outline|implementation|clone|version|ucs|download)\b)/gi,
      ' ',
    )
    .replace(
      /\\[a-zA-Z@]+|\S*[_\\{}[\]=/]\S*|\S+\.(?:ttf|otf|txt|sfd|md|sty|tex|pdf|fd|tfm|pfb|afm|vf|map|enc|zip|html|py|sh|woff2?|glyphs|ufo|svg)\b/g,
      ' ',
    );
  let holding = '';
  let rights = '';
  let using = '';
  let places = '';
  let strong = '';
  let unknown = 0;
  let strange = 0;
  let first = '';
  let count = 0;
  // What is spoken of.
  let technical = false;
  let labels = true;
  let technique = 0;
  let letters = 0;
  let about = false;
  let namesSeen = 0;
  let anyName = false;
  let scope = false;
  let previous = '';
  let addressed = false;
  for (const m of plain.matchAll(WORD)) {
    const raw = m[0].replace(/’/g, "'");
    const w = raw.toLowerCase();
    count++;
    // A name that the fonts bear is one, whatever else the word means.
    if (ABOUT_FONTS.test(w)) about = true;
    if (names.has(w) && /^\p{Lu}/u.test(raw)) {
      namesSeen++;
      anyName = true;
      continue;
    }
    // Words that are written together hold back as each of them does.
    const held = raw.split(/-|(?<=\p{Ll})(?=\p{Lu})/u).find((part) => part.length > 2 && HOLDING.test(part));
    if (held) holding ||= held.toLowerCase();
    if (MONTH.test(w) || /^\p{Lu}$/u.test(raw)) namesSeen++;
    if (MONTH.test(w)) anyName = true;
    if (PACKAGE.test(w) || MONTH.test(w) || /\p{Ll}\p{Lu}/u.test(raw)) continue;
    const after = /^\s*(\p{L}+)/u.exec(plain.slice(m.index + raw.length))?.[1] ?? '';
    const isBody =
      count > 1 &&
      BODIES.test(raw) &&
      [previous, after].some((x) => /^\p{Lu}\p{Ll}/u.test(x) && !BINDING.test(x) && !USING.test(x) && !HOLDING.test(x));
    previous = raw;
    if (isBody) continue;
    if (TECHNIQUE.test(w)) technique++;
    if (SCOPE.test(w)) scope = true;
    if (TECHNICAL.test(w)) {
      technical = true;
      letters++;
    }
    if (/^(?:you|your|licensee|recipient|user|users)$/.test(w)) addressed = true;
    if (HOLDING.test(w)) holding ||= w;
    if (RIGHTS.test(w)) rights ||= w;
    if (USING.test(w)) using ||= w;
    if (PLACES.test(w)) places ||= w;
    if ((USING.test(w) || PLACES.test(w)) && !LABELS.test(w)) labels = false;
    if (BINDING.test(w)) {
      if (!MILD.test(w)) strong ||= w;
      continue;
    }
    if (bears(w) || isCore(w) || named(w, names) || raw.length === 1) continue;
    if (isKnown(w)) continue;
    strange++;
    // Capitals within a sentence are names.
    if (/^\p{Lu}/u.test(raw) && (count > 1 || /^\p{Lu}+$/u.test(raw))) {
      first ||= `(${raw})`;
      continue;
    }
    unknown++;
    first ||= w;
  }
  if (AMOUNT.test(plain)) return 'amount';
  if (count === 0 || plain.trim().length === 1) return null;
  if (holding) return `holding ${holding}`;
  if (rights) return points(plain, names, own);
  if (HEADINGS.test(sentence)) return null;
  // Who denies or binds must speak of technique alone.
  if (strong && !((technique > 0 || letters > 1) && !addressed && !scope && !places && unknown === 0)) return `binding ${strong}`;
  if (strong && using && !/^(?:us|instal|includ|provid|work|mak|creat|read|view|appl|convert)/.test(using))
    return `binding ${strong} ${using}`;
  const list = CHANGES.test(sentence) || CREDITS.test(sentence);
  const sign = technical ? 2 : list || about ? 1 : 0;
  if (using && places && addressed) return `binding ${using} ${places}`;
  if (using && places && count < 8 && !technical && !labels) return `short ${using} ${places}`;
  if ((using || places) && count <= 4 && !labels) return `fragment ${using || places}`;
  if (scope && (count < 7 || sign === 0)) return 'scope';
  if (unknown > 0 && (count < 6 || unknown * 5 > count || ((using || places) && !(technical || (count >= 10 && unknown * 8 <= count)))))
    return `unknown ${first}`;
  if (sign > 0 && !(sign === 1 && !list && using && count < 8)) return null;
  if (isDated(sentence) && !using && !places) return null;
  // An item of a list of makers: a name, and no word that is known.
  if (
    /^[-*•]\s+\p{Lu}[\p{L}.'’-]*(?: (?:de|la|von|van|di|da|der|al|el|bin|ben|\p{Lu}[\p{L}.'’-]*)){1,3}$/u.test(sentence) &&
    !using &&
    !places &&
    strange === count
  )
    return null;
  // Nothing but names and numbers, or plain prose.
  if (count === namesSeen && anyName) return null;
  if (count >= 9 && !scope && !using && !places) return null;
  return 'unsaid';
}

/** Whether a sentence says no more than which license stands there, or that something beside the fonts has one. */
function points(sentence: string, names: ReadonlySet<string>, own: readonly string[]): string | null {
  let text = sentence.replace(TITLES, ' ').replace(OTHER_LICENSES, ' ');
  for (const p of POINTING_PHRASES) text = text.replace(p, ' ');
  const other = OTHER_PARTS.test(text);
  const second = readMentions(sentence).find((m) =>
    m.spdxId === null ? !own.some((o) => isShort(m.name, o)) : !own.some((o) => stem(o) === stem(m.spdxId!)),
  );
  if (second && !other) return `second ${second.name}`;
  const turning = TURNING.exec(text);
  if (turning && !(other && !/\b(?:not|if|without|must|should|only)\b/i.test(text))) return `turning ${turning[0]}`;
  for (const m of text.matchAll(WORD)) {
    const w = m[0].toLowerCase();
    if (names.has(w) && /^\p{Lu}/u.test(m[0])) continue;
    if (HOLDING.test(w)) return `holding ${w}`;
    if (POINTING.test(w) || names.has(w) || m[0].length === 1) continue;
    if (/^\p{Lu}/u.test(m[0]) && (m.index > 0 || !isKnown(w)) && !bears(w)) continue;
    if (other && (isKnown(w) || MILD.test(w) || USING.test(w) || PLACES.test(w))) continue;
    if (isCore(w) && !BINDING.test(w)) continue;
    return `rights ${w}`;
  }
  return null;
}
const stem = (id: string): string => id.replace(/(?:-only|-or-later|\+)?(?: WITH .*)?$/, '').replace(/-(?:RFN|no-RFN)$/, '');
/** Whether a license that is named without its version may be the one that stands there. */
const isShort = (name: string, spdxId: string): boolean =>
  spdxId.startsWith('LicenseRef')
    ? /GUST/i.test(name)
    : /^OFL/.test(spdxId)
      ? /^(?:SIL )?Open Font/i.test(name)
      : name.includes(spdxId.replace(/-.*/, '')) ||
        (/^LPPL/.test(spdxId) && /^LaTeX Project/.test(name)) ||
        (/^[AL]?GPL/.test(spdxId) && /^GNU/.test(name)) ||
        (/^CC-/.test(spdxId) && /^Creative/.test(name));
/** Titles of other licenses, with their versions. */
const OTHER_LICENSES =
  /\b(?:(?:the )?(?:GNU )?(?:L|A)?GPL(?:[- ]?(?:v|version )?\d(?:\.\d)?\+?)?|GNU (?:Lesser |Affero |Library )?General Public Licen[cs]e|(?:LaTeX Project Public Licen[cs]e|LPPL)|MIT(?: Licen[cs]e)?|Apache(?: Licen[cs]e)?|BSD|Expat|Creative Commons(?: Attribution)?(?:[- ]Share[- ]?Alike)?|CC[- ](?:BY(?:-SA)?|0)|CC0|public domain|GUST Font Licen[cs]e|Bitstream Vera(?: Licen[cs]e)?|ISC|zlib|WTFPL)\b/gi;

/** Whether a sentence is the title of a license that stands there, or what is left of one. */
function isTitle(sentence: string, own: readonly string[]): boolean {
  if (!/\p{L}{2}/u.test(sentence)) return false;
  const named = sentence.replace(TITLES, ' ').replace(OTHER_LICENSES, ' ');
  if (
    /[\p{L}\p{N}]{2,}/u.test(
      named.replace(/\b(?:the|licen[cs]e|universal|international|unported|generic|version|v?\d+(?:\.\d+)*)\b/gi, ' '),
    )
  )
    return false;
  return readMentions(sentence).every((m) => own.some((o) => (m.spdxId === null ? isShort(m.name, o) : stem(o) === stem(m.spdxId))));
}

/** Sentences at most that are shown of one text. */
const MOST = 60;
/** A text of this many sentences that nearly all are known is a known list of questions, with its short answers. */
const LIST_OF_QUESTIONS = 40;

/**
 * What stands around the licenses of a text and is not recognized as harmless, in the order of the
 * text, at most 60 sentences.
 * @param around the text with the licenses blanked
 * @param own SPDX identifiers of the licenses whose text stands there
 */
export function readBeside(around: string, own: readonly string[]): Sentence[] {
  const text = withoutPackaging(around);
  const names = namesOf(text);
  // Initials end no sentence.
  const sentences = sentencesOf(withoutStrictNotices(text).replace(/(?<=(?:^|[\s(])\p{Lu})\.(?=\s)/gu, ' '));
  const { sentences: known } = gathered();
  const answers =
    sentences.length > LIST_OF_QUESTIONS && sentences.filter((s) => known.has(sentenceKey(s.text))).length > 0.8 * sentences.length;
  const out: Sentence[] = [];
  for (const sentence of sentences) {
    if (out.length >= MOST) break;
    if (answers && /^(?:yes|no|go ahead|please use it|certainly|of course|not by itself)[.!]?$/i.test(sentence.text)) continue;
    if (judgeSentence(sentence.text, names, own) !== null) out.push({ ...sentence, text: sentence.text.slice(0, 600) });
  }
  return out;
}

/** Whole sentences with names in them. */
const FORMS: readonly RegExp[] = [
  /^(?:it|this package|the (?:fonts?|sources?|upstream sources?)) (?:was|were) (?:originally |first )?(?:downloaded|obtained|taken|fetched) from:? ?['"<]?(?:https?|ftp):\/\/\S+$/i,
  /^this (?:package|work) was (?:originally )?(?:debiani[sz]ed|packaged(?: for debian)?) by [^.!?]{3,80}(?:\.\w[^.!?]{0,40}){0,4}? on [\w ,:+-]{6,50}\.?$/i,
  /^no modification of the license is permitted, only verbatim copy is allowed\.?$/i,
  /^(?:the )?(?:type ?1|bold|opentype|truetype|[\w ,]{3,40}) (?:fonts?|versions?|files) (?:was|were) (?:generated|created|converted) (?:by|using|with) \w+,? and (?:are |were )?re-?named in (?:compliance|accordance) (?:with|to) the reserved font name (?:provision|clause)(?: (?:of|in) the (?:ofl )?license)?\.?$/i,
  /^simply type ["'`]apt-get source["'`] to download them\.?$/i,
  /^(?:the )?(?:slanted|oblique|italic|bold|only) (?:variants|shapes|figure style)s?(?: supported)? (?:are not supported|is (?:proportional|tabular)-(?:lining|oldstyle))(?:; the (?:designed )?italic variants will be automatically substituted)?\.?$/i,
  /^the text of the creative commons public licenses is dedicated to the public domain under the cc0 public domain dedication\.?$/i,
  /^fonts are \(c\) bitstream \(see below\)\.?$/i,
  /^\p{Lu}[\w&-]*(?: \p{Lu}[\w&-]*){0,3},? (?:Inc|INC|Ltd|LLC|GmbH|Co)\.?,?$/u,
  /^dejavu changes are in public domain\.?$/i,
  /^for (?:more |further )?information,? (?:please )?(?:see|visit|go to):? <?https?:\/\/\S+$/i,
  /^\{project\} \(c\) \{year\} \{fullname\}$/i,
  /^\(?copied from ['"]?[\w./-]+['"]?\.?\)?$/i,
  /^["“'‘]?[\p{Lu}\d][\w .&-]{0,60}["”'’]? (?:is|are) either (?:a )?registered trade ?marks? or (?:a )?trade ?marks? of [\p{Lu}][\w .,&-]{0,60}?(?: in the united states and\/or other countries)?\.?$/iu,
  /^(?:[-*]\s*)?the [\w .()-]{3,60}?(?:fonts?|files|versions?|variants?|shapes|metrics) (?:\([^)]{1,60}\) )?(?:was|were) (?:obtained from|created (?:using|with|by)|generated (?:using|with|by)|converted (?:from|using|by|with)|taken from)(?: [\w-]+| https?:\S+| and|,| \([^)]{1,60}\)){0,6}[.:]?$/i,
  /^(?:[-*]\s*)?(?:see(?: also)?|join the project at|source|website|homepage|web|download(?:ed)? from|available (?:at|from)|hosted (?:at|on)|mirror|to contribute,? see|home ?page|url|ctan|repository|git|github)[:,]?\s*(?:\[[^\]]{1,80}\]\()?<?(?:https?:\/\/|www\.|ftp:)\S+\s*$/i,
  /^the current maintainer of this work is [\p{Lu}][\p{L}.'’ -]{1,60}\.?$/iu,
  /^(?:--|—)\s+[\p{L}.'’ -]{2,60}<[^\s@>]+@[^\s>]+>,?\s+[\w ,:+-]{10,50}$/u,
  /^[\w.+-]+ \(\S+\) \w+; urgency=\w+$/,
  /^(?:depends|breaks|replaces|provides|recommends|suggests|conflicts):/i,
  /^(?:[-*]\s*)?to contribute(?: to (?:the|this) (?:project|font)[\w ]{0,30})?,? (?:please )?(?:contact|write to|e-?mail|visit|see|fork) [^.!?]{0,40}(?:(?: at| on|,|:| \() ?\S+)?\)?\.?$/i,
  /^["“'‘]?[\p{Lu}\d][\w .&-]{0,60}["”'’]? (?:is|are) (?:an? |the )?(?:registered )?(?:trade ?marks?|reserved font names?)(?: or registered trade ?marks?)? (?:of|for) (?:this font software|[\p{Lu}][\w .,&-]{0,60}?)(?: in the united states and\/or other countries)?(?: and may be registered in certain jurisdictions)?\.?$/iu,
  /^copyright \(c\) <dates>, <(?:additional )?copyright holder> \(<url\|email>\)(?:, with reserved font name <(?:additional )?reserved font name>)?\.?$/i,
];

/** Names beside a date, a version, a mailbox or an address, as in logs and lists of makers. */
const NAMED = /^(?:\p{Lu}[\p{L}.'’-]*|v|ver|version|v\d[\w.]*|and|by|of|the|de|la|von|van|di|da|\d[\w.,:/+-]*|[^\s@]+@\S+|https?:\S+)?$/u;
const EDGES = new Set('-*+#=[]()<>"“”–—&,;:.|');
/** A part of a line without the punctuation around it. */
function bareOf(part: string): string {
  let [from, until] = [0, part.length];
  while (from < until && EDGES.has(part[from]!)) from++;
  while (until > from && EDGES.has(part[until - 1]!)) until--;
  return part.slice(from, until);
}
const isDated = (sentence: string): boolean => {
  const parts = sentence.split(' ').filter(Boolean);
  return parts.length <= 40 && parts.some((p) => /\d|@|https?:/.test(p)) && parts.every((p) => p.length < 120 && NAMED.test(bareOf(p)));
};
