import { findingsOf, type TextFindings } from '@orderly-glyph/core';
import type { DocumentKind } from '@orderly-glyph/node';
import { type Compute, ComputeError } from '../../platform/compute/pool.js';
import { type Sorted, textKind } from '../../platform/compute/work/classify.js';
import type { CompanionKind, CompanionRow } from './rows.js';

/** What a companion is and says, as its row keeps it. */
export type CompanionReading = Pick<CompanionRow, 'kind' | 'content' | 'recognition' | 'unread' | 'findings'>;

const KIND_OF: Readonly<Record<DocumentKind, CompanionKind>> = {
  text: 'other',
  html: 'other',
  mail: 'other',
  rtf: 'document',
  pdf: 'document',
  docx: 'document',
  office: 'document',
  'old-office': 'document',
};

/**
 * Takes the text out of a companion and reads what it says of rights. A text that cannot be read is kept with the reason.
 * @param given its bytes, or the path of a file that holds them
 * @throws ComputeError when reading it had to be given up
 */
export async function readCompanion(
  compute: Compute,
  given: Uint8Array | string,
  path: string,
  sorted: Extract<Sorted, { as: 'companion' | 'document' }>,
): Promise<CompanionReading> {
  const unreadable = (kind: CompanionKind, unread: string | null): CompanionReading => ({
    kind,
    content: null,
    recognition: null,
    findings: null,
    unread,
  });
  if (sorted.as === 'companion')
    return unreadable(
      sorted.kind,
      sorted.kind === 'picture'
        ? 'It is kept; what a picture shows is not read. If it is a receipt or terms, enter what matters yourself.'
        : null,
    );
  const plain = KIND_OF[sorted.kind];
  try {
    const { text, unread } = await compute.run('readDocument', [given, sorted.kind]);
    return text === null ? unreadable(plain, unread) : await judgeText(compute, text, path, plain);
  } catch (error) {
    if (!(error instanceof ComputeError) || error.gaveUp) throw error;
    console.error(`Reading ${path} failed:`, error.failure.message);
    return unreadable(plain, 'It is kept, and could not be read: the document is damaged or of an unusual make.');
  }
}

/** What a text says, whatever it is called. Also run anew over texts that were read by an older version. */
export async function judgeText(compute: Compute, text: string, path: string, plain: CompanionKind = 'other'): Promise<CompanionReading> {
  const told = textKind(text, path);
  if (told.kind === 'picture') return { kind: 'picture', content: text, recognition: null, findings: null, unread: null };
  const reading = await compute.run('recognise', [text]);
  const [first, ...others] = reading.recognised.map((r) => ({ ...r, differences: [], asides: [] }));
  const findings: TextFindings = findingsOf(reading, told);
  return {
    kind: first || findings.terms ? 'terms' : told.kind === 'other' ? plain : told.kind,
    content: text,
    recognition: first ? { ...first, ...(others.length > 0 ? { others } : {}) } : null,
    findings,
    unread: null,
  };
}
