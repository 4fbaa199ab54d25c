/** Where CLDR's main exemplar letters mislead, what we take instead. */
export interface Correction {
  tag: string;
  /** Code points as [first, last, ...]. */
  drop?: readonly number[];
  add?: readonly number[];
  reason: string;
  source: string;
}

/** Letters of Greek Extended that running polytonic text is made of: no marks of vowel length, no doubles of Greek and Coptic. */
const POLYTONIC = [
  ...[0x1f00, 0x1f15, 0x1f18, 0x1f1d, 0x1f20, 0x1f45, 0x1f48, 0x1f4d, 0x1f50, 0x1f57, 0x1f59, 0x1f59, 0x1f5b, 0x1f5b],
  ...[0x1f5d, 0x1f5d, 0x1f5f, 0x1f70, 0x1f72, 0x1f72, 0x1f74, 0x1f74, 0x1f76, 0x1f76, 0x1f78, 0x1f78, 0x1f7a, 0x1f7a, 0x1f7c, 0x1f7c],
  ...[0x1f80, 0x1faf, 0x1fb2, 0x1fb4, 0x1fb6, 0x1fb7, 0x1fba, 0x1fba, 0x1fbc, 0x1fbc, 0x1fc2, 0x1fc4, 0x1fc6, 0x1fc8, 0x1fca, 0x1fca],
  ...[0x1fcc, 0x1fcc, 0x1fd2, 0x1fd2, 0x1fd6, 0x1fd7, 0x1fda, 0x1fda, 0x1fe2, 0x1fe2, 0x1fe4, 0x1fe7, 0x1fea, 0x1fea, 0x1fec, 0x1fec],
  ...[0x1ff2, 0x1ff4, 0x1ff6, 0x1ff8, 0x1ffa, 0x1ffa, 0x1ffc, 0x1ffc],
];

export const CORRECTIONS: readonly Correction[] = [
  {
    tag: 'el-polyton',
    add: POLYTONIC,
    reason: 'Breathings, the circumflex, the grave and the iota subscript stand in every line of polytonic text.',
    source: 'Unicode Standard 17.0, section 7.2, Greek Extended',
  },
  {
    tag: 'chr',
    drop: [0x13f8, 0x13fd, 0xab70, 0xabbf],
    add: [0x13a0, 0x13f4],
    reason: 'Cherokee is commonly written without case, in the letters that Unicode now calls capitals.',
    source: 'Unicode Standard 17.0, section 20.1, Cherokee',
  },
  {
    tag: 'uk',
    drop: [0x2bc, 0x2bc],
    reason: 'The apostrophe is typed as U+2019 as well as U+02BC; whoever has one of them writes Ukrainian.',
    source: 'Unicode Standard 17.0, section 6.2, on apostrophes; common practice',
  },
  {
    tag: 'ar',
    drop: [0x670, 0x670],
    reason: 'The superscript alef stands in vocalized text; everyday Arabic goes without.',
    source: 'Unicode Standard 17.0, section 9.2, Arabic',
  },
  {
    tag: 'ug',
    drop: [0x647, 0x647],
    reason: 'It comes out of a sequence of CLDR; Uyghur writes h as U+06BE and e as U+06D5.',
    source: 'Unicode Standard 17.0, section 9.2, Arabic; common practice',
  },
];
