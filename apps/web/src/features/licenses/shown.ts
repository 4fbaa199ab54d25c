import type { KnownText, Mention, TermsReading } from '@orderly-glyph/schema';

/** A text of terms and what was made of it. */
export interface ShownText {
  name: string;
  text: string | null;
  unread: string | null;
  reading: TermsReading | null;
  recognised: KnownText[];
  near: KnownText | null;
  mentions: Mention[];
  doubt: string | null;
  /** What words around a known license take back of it. */
  narrowing: { sentence: string }[];
}
