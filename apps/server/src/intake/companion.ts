import type { DocumentKind } from '@orderly-glyph/node';
import { ComputeError, type Compute } from '../compute/pool.js';
import type { CompanionKind, CompanionRow } from '../db/entities.js';
import { textKind, type Sorted } from './classify.js';

/** What a companion is and says, as its row keeps it. */
export type CompanionReading = Pick<CompanionRow, 'kind' | 'content' | 'recognition' | 'unread'>;

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

/** Takes the text out of a companion and recognizes what it can; nothing about a companion makes an intake fail. */
export async function readCompanion(
  compute: Compute,
  bytes: Uint8Array,
  path: string,
  sorted: Extract<Sorted, { as: 'companion' | 'document' }>,
): Promise<CompanionReading> {
  if (sorted.as === 'companion')
    return {
      kind: sorted.kind,
      content: null,
      recognition: null,
      unread:
        sorted.kind === 'picture'
          ? 'It is kept; what a picture shows is not read. If it is a receipt or terms, enter what matters yourself.'
          : null,
    };
  const plain = KIND_OF[sorted.kind];
  try {
    const { text, unread } = await compute.run('readDocument', [bytes, sorted.kind]);
    if (text === null) return { kind: plain, content: null, recognition: null, unread };
    const kind = textKind(text, path);
    const { recognised } = kind === 'picture' ? { recognised: [] } : await compute.run('recognise', [text]);
    const [first, ...others] = recognised.map((r) => ({ ...r, differences: [] }));
    return {
      kind: first ? 'terms' : kind === 'other' ? plain : kind,
      content: text,
      recognition: first ? { ...first, ...(others.length > 0 ? { others } : {}) } : null,
      unread: null,
    };
  } catch (error) {
    if (!(error instanceof ComputeError)) throw error;
    console.error(`Reading ${path} failed:`, error.failure.message);
    return {
      kind: plain,
      content: null,
      recognition: null,
      unread: 'It is kept, and could not be read: reading it took too long or failed.',
    };
  }
}
