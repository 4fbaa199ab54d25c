import type { Embedding } from '../face/index.js';
import { openLicense } from './data/open-licenses.js';
import { sayDay } from './day.js';
import { LIMITS, limitsOf, USE_WORDS, type Answer, type LicenseKind, type Limit, type Use } from './uses.js';

/** What is on record about a right. Dates are ISO days (YYYY-MM-DD). */
export interface LicenseRecord {
  id: string;
  name: string;
  kind: LicenseKind;
  spdxId: string | null;
  /** Whether a person looked at it and said it is so. */
  confirmed: boolean;
  uses: Partial<Record<Use, Answer>>;
  startsOn: string | null;
  endsOn: string | null;
  /** From this day on the end is near enough to be said. */
  noticeOn?: string | null;
  /** How much of a use it covers, in the units of `LIMITS`. */
  limits?: Partial<Record<Limit, number>>;
  /** How much of it is used, where that is kept with the license. */
  counters?: Counters;
  /** The sentence that an answer rests on, in the license's own words. */
  quotes?: Partial<Record<Use, string>>;
  /** Names that a changed version may not carry. */
  reservedNames?: readonly string[];
  /** What it asks in return, beside what its known text does. */
  duties?: readonly string[];
}

/** What the workspace counts: seats in use, page views last month, units sold. */
export type Counters = Partial<Record<Limit, number>>;

/** A name as it is compared: letters and figures alone. */
const bare = (name: string): string =>
  name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '');

/** How a file is changed. Another container holds the same font; a subset and another name do not. */
export type Change = 'container' | 'subset' | 'rename' | 'outlines';

export interface Circumstances {
  counters?: Counters;
  /** What is done to the file, where the use is changing it; left out, any change is meant. */
  change?: Change;
  /** The family name that a changed file gets, where it gets another. */
  newName?: string;
  /** The kind of place the face is to go to, with what it does about embedding permission. */
  place?: PlaceRules;
}

/** As much of a place's profile as matters here. */
export interface PlaceRules {
  name: string;
  embedding: { restricted: 'refused' | 'accepted'; bitmapOnly: 'refused' | 'accepted' };
}

export interface Verdict {
  use: Use;
  answer: Answer;
  /** Sentences, the deciding one first. */
  reasons: string[];
  licenseId: string | null;
  /** The license's own words, where we have them. */
  quote: string | null;
  /** Where in a known license these words stand; null for words of other sources. */
  clause: string | null;
  duties: string[];
  /** What would turn it to yes, in one sentence; null where it is yes. */
  remedy: string | null;
  /** Whether a limit is nearly reached. */
  attention: boolean;
}

const RANK: Readonly<Record<Answer, number>> = { yes: 0, ask: 1, no: 2 };
const FOREVER = '9999-12-31';

/** From this share of a limit on, a face asks for attention. */
export const ATTENTION = 0.8;

/** Uses that put the font file itself where others load it. */
const EMBEDS: readonly Use[] = ['website', 'online-store', 'design-tool', 'documents', 'app'];

/**
 * Whether a face may be put to a use on a day. Of several licenses the best answer counts, and among equal ones the one
 * that lasts longest. What the maker wrote into the file (OS/2, fsType) is held against the record: where they contradict
 * each other a yes becomes "ask first"; the bits are never changed. The rows of docs/verdicts.md are its decision table.
 */
export function verdict(
  use: Use,
  licenses: readonly LicenseRecord[],
  embedding: Embedding,
  today: string,
  { counters = {}, change, newName, place }: Circumstances = {},
): Verdict {
  const nothing = { use, licenseId: null, quote: null, clause: null, duties: [], attention: false };
  if (licenses.length === 0)
    return {
      ...nothing,
      answer: 'ask',
      reasons: ['No license is on record for this face. Find out what its terms allow before you use it.'],
      remedy: 'Record the license it came with, and confirm that it allows this.',
    };
  return decide(licenses, (license) => judge(use, license, today, counters, change, newName), embedding, change, place);
}

/** The best of what each license answers, held against the file. `licenses` must not be empty. */
export function decide(
  licenses: readonly LicenseRecord[],
  judged: (license: LicenseRecord) => Verdict,
  embedding: Embedding,
  change?: Change,
  place?: PlaceRules,
): Verdict {
  let best: Verdict | null = null;
  let bestEnd = '';
  for (const license of licenses) {
    const found = judged(license);
    const end = license.endsOn ?? FOREVER;
    const order =
      best === null
        ? -1
        : RANK[found.answer] - RANK[best.answer] || Number(found.attention) - Number(best.attention) || (end > bestEnd ? -1 : 0);
    if (order < 0) {
      best = found;
      bestEnd = end;
    }
  }
  return best!.answer === 'yes' ? againstFile(best!, embedding, change, place) : best!;
}

/** Holds a yes against what the file says of itself. Source: OpenType specification, OS/2, fsType. */
function againstFile(granted: Verdict, embedding: Embedding, change: Change | undefined, place: PlaceRules | undefined): Verdict {
  const doubt = (reason: string, remedy: string): Verdict => ({
    ...granted,
    answer: 'ask',
    reasons: [reason, ...granted.reasons],
    remedy,
  });
  const other = 'Ask the maker for a file with the right embedding permission.';
  const served = EMBEDS.includes(granted.use);
  const minds = (rule: 'restricted' | 'bitmapOnly'): string =>
    place?.embedding[rule] === 'refused' ? ` ${place.name} refuses such files.` : '';
  if (served || place) {
    if (embedding.level === 'restricted' && (served || minds('restricted')))
      return doubt(`The font file itself forbids embedding although the license allows this use.${minds('restricted')} ${other}`, other);
    if (embedding.bitmapOnly && (served || minds('bitmapOnly')))
      return doubt(
        `The font file allows only bitmaps of itself to be embedded, although the license allows this use.${minds('bitmapOnly')} ${other}`,
        other,
      );
  }
  if (granted.use === 'changing' && embedding.noSubsetting && (change === undefined || change === 'subset'))
    return doubt(
      'The font file forbids leaving characters out (fsType, no subsetting) although the license allows changes. Other changes are covered.',
      'Keep all characters, or ask the maker for a file that may be cut down.',
    );
  return granted;
}

/** 12345 as "12,345"; the built-in formatting takes far longer, and tables need it often. */
const grouped = (n: number): string => String(n).replace(/\B(?=(\d{3})+$)/g, ',');

/** What one license answers. */
export function judge(
  use: Use,
  license: LicenseRecord,
  today: string,
  counters: Counters,
  change: Change | undefined,
  newName?: string,
): Verdict {
  const label = USE_WORDS[use].label.toLowerCase();
  const open = license.spdxId ? openLicense(license.spdxId) : null;
  const { name } = license;
  const known = open?.uses[use];
  const quote = license.quotes?.[use] ?? known?.quote ?? null;
  const base = {
    use,
    licenseId: license.id,
    quote,
    clause: known && quote === known.quote ? known.clause : null,
    duties: [...new Set([...(open?.duties ?? []), ...(license.duties ?? [])])],
    attention: false,
  };
  const no = (reason: string, remedy: string, words = quote): Verdict => ({
    ...base,
    quote: words,
    clause: words === quote ? base.clause : null,
    answer: 'no',
    reasons: [reason],
    remedy,
  });
  const ask = (reason: string, remedy: string): Verdict => ({ ...base, answer: 'ask', reasons: [reason], remedy });
  if (license.startsOn !== null && today < license.startsOn)
    return no(`“${name}” only begins on ${sayDay(license.startsOn)}.`, `Wait until ${sayDay(license.startsOn)}.`);
  if (license.endsOn !== null && today > license.endsOn)
    return no(`“${name}” ended on ${sayDay(license.endsOn)}.`, 'Renew it, or use another face.');
  const answer = license.uses[use];
  if (answer === undefined && license.kind === 'unknown')
    return ask('What this face may be used for is not known yet.', 'Find its terms and record what they allow.');
  if (answer === undefined || answer === 'ask')
    return ask(`“${name}” does not settle whether this covers: ${label}.`, 'Ask whoever granted it, and record the answer.');
  if (answer === 'no')
    return no(
      `“${name}” does not allow this: ${label}.`,
      'Get a license that covers it, or use another face.',
      license.quotes?.[use] ?? null,
    );
  if (!license.confirmed)
    return ask(`“${name}” seems to allow this: ${label}. Nobody has confirmed it yet.`, 'Read the terms and confirm the license.');
  const reasons = [`“${name}” allows this: ${label}.`];
  let attention = false;
  for (const key of limitsOf(use)) {
    const limit = license.limits?.[key];
    if (limit === undefined) continue;
    const used = license.counters?.[key] ?? counters[key];
    const { unit } = LIMITS[key];
    const amount = `${grouped(used ?? 0)} of ${grouped(limit)} ${unit}`;
    if (used !== undefined && used > limit) return no(`The limit of “${name}” is passed: ${amount}.`, 'Extend the license, or use less.');
    const near = used !== undefined && used >= limit * ATTENTION;
    attention ||= near;
    reasons.push(used === undefined ? `It covers ${grouped(limit)} ${unit}.` : near ? `Nearly used up: ${amount}.` : `${amount}.`);
  }
  if (license.endsOn !== null && license.noticeOn && today >= license.noticeOn) {
    attention = true;
    reasons.push(`It ends on ${sayDay(license.endsOn)}.`);
  }
  // OFL 1.1, section 3: a modified version may not use a reserved name. Another container with the same tables is no
  // modification; leaving characters out is one. Source: SIL's OFL FAQ on web fonts and
  // reserved names; what it says is from memory.
  const reserved = license.reservedNames ?? [];
  if (use !== 'changing' || reserved.length === 0) return { ...base, answer: 'yes', reasons, remedy: null, attention };
  const said = reserved.map((r) => `“${r}”`);
  const held = newName === undefined ? undefined : reserved.find((r) => bare(newName).includes(bare(r)));
  if (change === 'container')
    reasons.push('Another container with the same tables, such as WOFF2, is no changed version; the reserved names stay.');
  else if (held !== undefined)
    return no(
      `The new name holds “${held}”, which is reserved and may not be part of the name of a changed file.`,
      'Give it another name.',
    );
  else if (newName !== undefined) reasons.push(`It gets another name, which holds none of those reserved: ${said.join(', ')}.`);
  else if (change === 'rename') reasons.push(`The new name must not hold ${said.join(' or ')}.`);
  else
    return {
      ...base,
      answer: 'ask',
      reasons: [`Allowed under another name: ${said.join(', ')} may not stay in the name of a changed file.`, ...reasons],
      remedy: 'Give the changed file another name. Another container alone, such as WOFF2, is no change.',
    };
  return { ...base, answer: 'yes', reasons, remedy: null, attention };
}
