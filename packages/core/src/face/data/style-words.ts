/**
 * Words of style names. Weights as usWeightClass and widths as usWidthClass of the OpenType specification (OS/2), with the
 * common names of CSS Fonts Level 4 (font-weight) and the usual other spellings. Keys are compared without spaces,
 * hyphens and case; of two that fit, the longer counts.
 */
export const WEIGHT_WORDS: Readonly<Record<string, number>> = {
  hairline: 100,
  thin: 100,
  extrathin: 100,
  ultrathin: 100,
  extralight: 200,
  ultralight: 200,
  light: 300,
  semilight: 350,
  demilight: 350,
  book: 400,
  regular: 400,
  normal: 400,
  roman: 400,
  plain: 400,
  medium: 500,
  semibold: 600,
  demibold: 600,
  demi: 600,
  bold: 700,
  extrabold: 800,
  ultrabold: 800,
  black: 900,
  heavy: 900,
  extrablack: 950,
  ultrablack: 950,
};

export const WIDTH_WORDS: Readonly<Record<string, number>> = {
  ultracondensed: 1,
  extracondensed: 2,
  ultracompressed: 1,
  extracompressed: 2,
  compressed: 2,
  condensed: 3,
  cond: 3,
  narrow: 3,
  semicondensed: 4,
  semicond: 4,
  seminarrow: 4,
  semiexpanded: 6,
  semiextended: 6,
  semiwide: 6,
  expanded: 7,
  extended: 7,
  wide: 7,
  extraexpanded: 8,
  extraextended: 8,
  extrawide: 8,
  ultraexpanded: 9,
  ultraextended: 9,
  ultrawide: 9,
};

export const SLOPE_WORDS: Readonly<Record<string, 'italic' | 'oblique'>> = {
  italic: 'italic',
  ital: 'italic',
  kursiv: 'italic',
  cursive: 'italic',
  oblique: 'oblique',
  slanted: 'oblique',
  inclined: 'oblique',
};

/** Sizes a face is drawn for, in words that makers use in style names; larger numbers stand for larger sizes. */
export const OPTICAL_WORDS: Readonly<Record<string, number>> = {
  micro: 1,
  caption: 2,
  smalltext: 3,
  smtext: 3,
  text: 4,
  deck: 5,
  subhead: 6,
  headline: 7,
  display: 8,
  titling: 9,
  banner: 10,
  poster: 10,
};
