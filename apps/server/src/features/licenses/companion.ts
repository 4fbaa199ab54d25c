import { COMPANION_KIND, judgeText as judge, type Sorted } from '@orderly-glyph/node';
import { type Compute, ComputeError } from '../../platform/compute/pool.js';
import type { CompanionKind, CompanionRow } from './rows.js';

/** What a companion is and says, as its row keeps it. */
export type CompanionReading = Pick<CompanionRow, 'kind' | 'content' | 'recognition' | 'unread' | 'findings'>;

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
  const plain = COMPANION_KIND[sorted.kind];
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
  const { kind, reading, findings } = await judge(text, path, plain, (t) => compute.run('recognise', [t]));
  const [first, ...others] = (reading?.recognised ?? []).map((r) => ({ ...r, differences: [], asides: [] }));
  return {
    kind,
    content: text,
    recognition: first ? { ...first, ...(others.length > 0 ? { others } : {}) } : null,
    findings,
    unread: null,
  };
}
