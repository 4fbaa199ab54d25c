/**
 * Syllables whose pieces must melt together for a script to be readable: conjuncts, subjoined forms, reph. A face in
 * which one of them comes out as the plain glyphs of its characters cannot write the script, whatever its tables claim.
 * Source: the syllable structures of the Unicode Standard, chapters 12, 13, 16 and 17, and the OpenType script development
 * specifications.
 */
export const MELTING: Readonly<Record<string, readonly string[]>> = {
  Deva: ['क्ष', 'र्क', 'क्र'],
  Beng: ['ক্ষ', 'র্ক', 'ক্র'],
  Guru: ['ਕ੍ਰ', 'ਕ੍ਹ'],
  Gujr: ['ક્ષ', 'ર્ક', 'ક્ર'],
  Orya: ['କ୍ଷ', 'ର୍କ'],
  // The conjunct க்ஷ is left out: many good faces of today set it with a visible virama.
  Taml: ['கு', 'கூ'],
  Telu: ['క్క', 'క్ష'],
  Knda: ['ಕ್ಕ', 'ರ್ಕ'],
  Mlym: ['ക്ക', 'ന്ത'],
  Sinh: ['ක්‍ය', 'ර්‍ක'],
  Khmr: ['ក្ក', 'ស្ត'],
  Mymr: ['က္က', 'မ္မ'],
  Java: ['ꦏ꧀ꦏ'],
  Bali: ['ᬓ᭄ᬓ'],
  Cakm: ['𑄇𑄳𑄇'],
};

/**
 * Syllables whose last mark stands above or below another one, and the scripts that cannot be read where the two run into each
 * other: tone marks over vowels, letters stacked under letters. Source: Unicode Standard, chapters 13 (Tibetan) and 16 (Thai,
 * Lao).
 */
export const STACKING: Readonly<Record<string, readonly string[]>> = {
  Thai: ['กี้', 'ที่'],
  Laoo: ['ກີ້', 'ທີ່'],
  Tibt: ['སྐུ', 'རྟ'],
};

/** Scripts whose letters change with their neighbors (Joining_Type of the Unicode Character Database). */
export const JOINING_SCRIPTS: readonly string[] = ['Arab', 'Syrc', 'Mong', 'Nkoo', 'Adlm', 'Mand', 'Rohg', 'Mani', 'Phlp', 'Sogd'];

/** Punctuation and figures that half of all good faces lack and nobody misses in running text. */
export const RARE: readonly string[] = ['′', '″', '‰', '†', '‡'];
