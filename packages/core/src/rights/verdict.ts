import type { Embedding } from '../face/index.js';
import { openLicense } from './data/open-licenses.js';
import { USE_WORDS, type Answer, type LicenseKind, type Use } from './uses.js';

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
}

export interface Verdict {
  use: Use;
  answer: Answer;
  /** Sentences, the deciding one first. */
  reasons: string[];
  licenseId: string | null;
  /** The license's own words, where we have them. */
  quote: string | null;
  duties: string[];
}

const worse = (a: Answer, b: Answer): Answer => (a === 'no' || b === 'no' ? 'no' : a === 'ask' || b === 'ask' ? 'ask' : 'yes');

/**
 * Whether a face may be put to a use on a day. Of several licenses the best answer counts. A file that forbids
 * embedding turns a yes for a website into "ask first": the maker's bits and the license contradict each other.
 */
export function verdict(use: Use, licenses: readonly LicenseRecord[], embedding: Embedding, today: string): Verdict {
  const label = USE_WORDS[use].label.toLowerCase();
  if (licenses.length === 0)
    return {
      use,
      answer: 'ask',
      reasons: ['No license is on record for this face. Find out what its terms allow before you use it.'],
      licenseId: null,
      quote: null,
      duties: [],
    };
  const rank = { yes: 0, ask: 1, no: 2 };
  const best = licenses.map((license) => judge(use, label, license, today)).sort((a, b) => rank[a.answer] - rank[b.answer])[0]!;
  if (use === 'website' && embedding.level === 'restricted')
    return {
      ...best,
      answer: worse(best.answer, 'ask'),
      reasons:
        best.answer === 'yes'
          ? [
              'The font file itself forbids embedding although the license allows this use. Ask the maker for a file with the right embedding permission.',
              ...best.reasons,
            ]
          : best.reasons,
    };
  return best;
}

function judge(use: Use, label: string, license: LicenseRecord, today: string): Verdict {
  const open = license.spdxId ? openLicense(license.spdxId) : null;
  const base = { use, licenseId: license.id, quote: open?.uses[use].quote ?? null, duties: [...(open?.duties ?? [])] };
  if (license.startsOn !== null && today < license.startsOn)
    return { ...base, answer: 'no', reasons: [`“${license.name}” only begins on ${license.startsOn}.`] };
  if (license.endsOn !== null && today > license.endsOn)
    return { ...base, answer: 'no', reasons: [`“${license.name}” ended on ${license.endsOn}.`] };
  if (license.kind === 'unknown') return { ...base, answer: 'ask', reasons: ['What this face may be used for is not known yet.'] };
  const answer = license.uses[use];
  if (answer === undefined || answer === 'ask')
    return { ...base, answer: 'ask', reasons: [`“${license.name}” does not settle whether this covers: ${label}.`] };
  if (answer === 'no') return { ...base, answer: 'no', quote: null, reasons: [`“${license.name}” does not allow this: ${label}.`] };
  if (!license.confirmed)
    return { ...base, answer: 'ask', reasons: [`“${license.name}” seems to allow this: ${label}. Nobody has confirmed it yet.`] };
  return { ...base, answer: 'yes', reasons: [`“${license.name}” allows this: ${label}.`] };
}
