import { readBeside } from './beside.js';
import { DENIES } from './data/mention-words.js';
import { openLicense } from './data/open-licenses.js';
import { readMentions, withoutStandardWords, type Mention } from './mentions.js';
import { aroundLicenses, readLicenses, withoutNotices, type LicenseIndex, type LicenseReading, type Recognition } from './recognise.js';
import { sentencesOf, type Sentence } from './sentences.js';
import { readNarrowing, type Narrowing } from './narrowing.js';
import { readTerms, type TermsReading } from './terms.js';
import { USES, type Answer, type Use } from './uses.js';

/** Everything that is read out of a text of terms. */
export interface TextReading extends LicenseReading {
  /** What its own words say; beside a known license those around it, and null where nothing of them narrows it. */
  reading: TermsReading | null;
  /**
   * What its own words take back or deny, beside a known license those around it ("free for personal use only" above an open
   * license).
   */
  narrowing: Narrowing[];
  /**
   * Sentences that are not recognized as harmless, at most 60: beside a known license those around it, of any other text those of
   * the whole, since it may lie beside one. Each leaves every use of the license open until a person says that it changes nothing.
   */
  beside: Sentence[];
  /** Licenses that the words around name, without those whose text is there. */
  mentions: Mention[];
  /** The sentence beside a known license that says it does not apply; null where none does. */
  doubt: string | null;
}

/** Reads known licenses, mentions of others and free-form terms out of one text. */
export function readText(text: string, index: LicenseIndex): TextReading {
  const known = readLicenses(text, index);
  if (known.recognised.length === 0) {
    const { near } = known;
    // A text that calls itself by a license's name and is not its text says something else.
    const twisted = (m: Mention): Mention =>
      near && (near.spdxId === m.spdxId || near.name.startsWith(m.name))
        ? { ...m, grants: false, doubt: `What stands there resembles the ${near.name} and is not its text.` }
        : m;
    return {
      ...known,
      reading: readTerms(text),
      narrowing: readNarrowing(text),
      beside: [],
      mentions: readMentions(text).map(twisted),
      doubt: null,
    };
  }
  const around = aroundLicenses(text, known.recognised);
  const beside = readBeside(
    around,
    known.recognised.map((r) => r.spdxId),
  );
  const narrowing = readNarrowing(around);
  // What is not known to be harmless leaves every use open.
  const [first] = beside;
  if (first)
    for (const use of USES) if (!narrowing.some((n) => n.use === use)) narrowing.push({ use, sentence: first.text, start: first.start });
  for (const { sentence, start } of narrowing)
    if (!beside.some((b) => b.text === sentence || b.start === start)) beside.push({ text: sentence, start });
  const terms = narrowing.length > 0 ? readTerms(around) : null;
  const doubt = sentencesOf(withoutNotices(around)).find((s) => DENIES.test(withoutStandardWords(s.text)))?.text ?? null;
  return {
    ...known,
    reading: terms && { ...terms, suggestions: terms.suggestions.filter((s) => s.answer !== 'yes') },
    narrowing,
    beside,
    mentions: readMentions(around)
      .filter((m) => !known.recognised.some((r) => r.spdxId === m.spdxId || r.name.startsWith(m.name)))
      .map((m) => ({ ...m, grants: false, doubt: m.doubt ?? `The text of the ${known.recognised[0]!.name} stands in the same file.` })),
    doubt: doubt?.slice(0, 600) ?? null,
  };
}

/**
 * The answers that a recognized license or a mention offers for a person to confirm, each with its sentence: none where
 * it is denied, only mentioned, or where we do not know its uses, and none for uses that words around it narrow.
 */
export function offeredAnswers(
  found: Pick<Recognition, 'spdxId'> | Mention,
  { doubt = null, narrowed = [] }: { doubt?: string | null; narrowed?: readonly Use[] } = {},
): Partial<Record<Use, { answer: Answer; quote: string }>> {
  const license = found.spdxId === null ? null : openLicense(found.spdxId);
  if (!license || doubt !== null || ('grants' in found && !found.grants)) return {};
  return Object.fromEntries(Object.entries(license.uses).filter(([use]) => !narrowed.includes(use as Use)));
}
