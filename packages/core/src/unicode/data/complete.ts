/** The complete writing of a language beside its usual one: what dictionaries, schoolbooks, verse or scripture add. */
export interface CompleteWriting {
  tags: readonly string[];
  /** What it adds, as in "with vowel signs". */
  what: string;
  /** Letters that must come out for it, each a character or one with its marks. */
  letters: readonly string[];
  source: string;
}

const each = (bases: string, marks: string): string[] => [...bases].flatMap((b) => [...marks].map((m) => b + m));

export const COMPLETE_WRITING: readonly CompleteWriting[] = [
  {
    tags: ['ar', 'fa', 'ur'],
    what: 'vowel signs',
    letters: [...each('ب', '\u064b\u064c\u064d\u064e\u064f\u0650\u0651\u0652'), 'بَّ', 'بُّ', 'بِّ'],
    source: 'Unicode Standard 17.0, section 9.2, Arabic: harakat, tanwin, shadda and sukun',
  },
  {
    tags: ['he'],
    what: 'points',
    letters: [...each('ב', '\u05b0\u05b1\u05b2\u05b3\u05b4\u05b5\u05b6\u05b7\u05b8\u05b9\u05bb\u05bc'), 'שׁ', 'שׂ'],
    source: 'Unicode Standard 17.0, section 9.1, Hebrew: vowels and dagesh, shin and sin dots',
  },
  {
    tags: ['ru', 'uk', 'be', 'bg'],
    what: 'stress marks',
    letters: each('аеиоуыэюяіїєАЕИОУЫЭЮЯІЇЄ', '\u0301'),
    source: 'Unicode Standard 17.0, section 7.4, Cyrillic; which vowels: common practice of dictionaries',
  },
  {
    tags: ['lt'],
    what: 'accent marks',
    letters: [...each('aąeęėiįouųū', '\u0300\u0301\u0303'), ...each('lmnr', '\u0303')].map((c) => c.normalize('NFC')),
    source: 'common practice of Lithuanian dictionaries: grave, acute and circumflex (written as a tilde)',
  },
];

/** The letters of polytonic Greek stand in the list of its own tag. */
export const POLYTONIC_OF: Readonly<Record<string, { tag: string; what: string }>> = {
  el: { tag: 'el-polyton', what: 'breathings and all accents' },
};
