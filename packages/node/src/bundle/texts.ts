import { findingsOf, type TextFindings, type TextReading } from '@orderly-glyph/core';
import type { DocumentKind } from '../documents.js';
import { textKind, type CompanionKind } from './classify.js';

/** What a companion counts as before its text was read. */
export const COMPANION_KIND: Readonly<Record<DocumentKind, CompanionKind>> = {
  text: 'other',
  html: 'other',
  mail: 'other',
  rtf: 'document',
  pdf: 'document',
  docx: 'document',
  office: 'document',
  'old-office': 'document',
};

/** What a text of a bundle is and says. */
export interface JudgedText {
  kind: CompanionKind;
  /** Null for a drawing, which is code and no terms. */
  reading: TextReading | null;
  findings: TextFindings | null;
}

/**
 * What a text says, whatever it is called.
 * @param path where it lies in its bundle
 * @param plain its kind where it says nothing of rights
 * @param recognise reads known licenses and its own words out of it
 * @throws what `recognise` throws
 */
export async function judgeText(
  text: string,
  path: string,
  plain: CompanionKind,
  recognise: (text: string) => TextReading | Promise<TextReading>,
): Promise<JudgedText> {
  const told = textKind(text, path);
  if (told.kind === 'picture') return { kind: 'picture', reading: null, findings: null };
  const reading = await recognise(text);
  const findings = findingsOf(reading, told);
  const isTerms = reading.recognised.length > 0 || findings.terms;
  return { kind: isTerms ? 'terms' : told.kind === 'other' ? plain : told.kind, reading, findings };
}
