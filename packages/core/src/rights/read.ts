import { aroundLicenses, readLicenses, type LicenseIndex, type LicenseReading } from './recognise.js';
import { readTerms, type TermsReading } from './terms.js';

/** Everything that is read out of a text of terms. */
export interface TextReading extends LicenseReading {
  /**
   * What its own words seem to say. Beside a known license only what narrows it counts ("free for personal use only"
   * above an open license); null where nothing does.
   */
  reading: TermsReading | null;
}

/** Reads known licenses and free-form terms out of one text. */
export function readText(text: string, index: LicenseIndex): TextReading {
  const known = readLicenses(text, index);
  if (known.recognised.length === 0) return { ...known, reading: readTerms(text) };
  const around = readTerms(aroundLicenses(text, known.recognised));
  const suggestions = around.suggestions.filter((s) => s.answer !== 'yes');
  return { ...known, reading: suggestions.length > 0 ? { ...around, suggestions } : null };
}
