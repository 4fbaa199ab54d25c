/** Names of features people switch. Source: OpenType Layout tag registry. */
const NAMES: Readonly<Record<string, string>> = {
  aalt: 'All alternates',
  afrc: 'Fractions one over the other',
  c2pc: 'Petite capitals from capitals',
  c2sc: 'Small capitals from capitals',
  calt: 'Contextual alternates',
  case: 'Forms for capitals',
  clig: 'Contextual ligatures',
  cpsp: 'Spacing of capitals',
  cswh: 'Contextual swashes',
  dlig: 'Discretionary ligatures',
  dnom: 'Denominators',
  expt: 'Expert forms',
  frac: 'Fractions',
  fwid: 'Full widths',
  hist: 'Historical forms',
  hlig: 'Historical ligatures',
  hwid: 'Half widths',
  jp78: 'JIS78 forms',
  jp83: 'JIS83 forms',
  jp90: 'JIS90 forms',
  kern: 'Kerning',
  liga: 'Ligatures',
  lnum: 'Lining figures',
  locl: 'Forms of a language',
  mgrk: 'Mathematical Greek',
  nalt: 'Notation forms',
  numr: 'Numerators',
  onum: 'Old-style figures',
  ordn: 'Ordinals',
  ornm: 'Ornaments',
  palt: 'Proportional widths',
  pcap: 'Petite capitals',
  pnum: 'Proportional figures',
  ruby: 'Ruby forms',
  salt: 'Stylistic alternates',
  sinf: 'Scientific inferiors',
  smcp: 'Small capitals',
  subs: 'Subscript',
  sups: 'Superscript',
  swsh: 'Swashes',
  titl: 'Titling',
  tnum: 'Figures of equal width',
  trad: 'Traditional forms',
  unic: 'Unicase',
  vert: 'Vertical forms',
  zero: 'Slashed zero',
};

/** On unless switched off. Source: the same registry, "should be active by default". */
export const DEFAULT_ON: ReadonlySet<string> = new Set(['calt', 'clig', 'kern', 'liga', 'locl']);

/** Features without which a text is not set right, or that act where the shaping asks for them; nobody switches these. */
const INNER =
  /^(abv[fms]|blw[fms]|akhn|ccmp|cfar|cjct|curs|dist|fin[a23]|flac|half|haln|init|isol|jalt|ljmo|ltr[am]|mark|med[i2]|mkmk|mset|nukt|pref|pres|psts?|pstf|rc?lt|rclt|rkrf|rlig|rphf|rtl[am]|rvrn|ssty|stch|tjmo|vatu|vjmo|vkrn|valt|vhal|vpal|size|opbd|lfbd|rtbd|rand)$/;

export function featureName(tag: string): string {
  const known = NAMES[tag];
  if (known) return known;
  const set = /^ss(\d\d)$/.exec(tag);
  if (set) return `Stylistic set ${Number(set[1])}`;
  const variant = /^cv(\d\d)$/.exec(tag);
  return variant ? `Character variant ${Number(variant[1])}` : tag;
}

/** Features of a face that a person may switch, by name. */
export const switchable = (features: readonly string[]): string[] =>
  features.filter((f) => !INNER.test(f)).sort((a, b) => featureName(a).localeCompare(featureName(b), 'en', { numeric: true }));

/** Scripts whose letters hang together; space between letters tears words apart. Common practice in setting them. */
const JOINED: readonly [string, RegExp][] = [
  ['Arabic', /\p{Script=Arabic}/u],
  ['Syriac', /\p{Script=Syriac}/u],
  ['Mongolian', /\p{Script=Mongolian}/u],
  ['N’Ko', /\p{Script=Nko}/u],
  ['Adlam', /\p{Script=Adlam}/u],
  ['Devanagari', /\p{Script=Devanagari}/u],
  ['Bengali', /\p{Script=Bengali}/u],
  ['Gurmukhi', /\p{Script=Gurmukhi}/u],
];
const NO_CASE = /[\p{Lo}]/u;

/** What goes wrong when a text is spaced out or set in capitals, in sentences. */
export function spacingWarnings(text: string, spacing: number, capitals: boolean, handJoined: boolean): string[] {
  const out: string[] = [];
  const joined = JOINED.filter(([, test]) => test.test(text)).map(([name]) => name);
  if (spacing !== 0 && joined.length > 0)
    out.push(`Letters of ${joined.join(' and ')} join; space between them tears the words apart. Leave the spacing at 0 there.`);
  if (spacing !== 0 && joined.length === 0 && handJoined) out.push('This face joins its letters; space between them breaks the joins.');
  if (capitals && NO_CASE.test(text)) out.push('Part of this text has no capitals; it stays as it is.');
  if (capitals && /[\u0370-\u03ff]/.test(text))
    out.push('Greek capitals drop the accents of small letters; set the language so that the browser does.');
  if (capitals && handJoined) out.push('Capitals of a joined hand rarely go together. Set only the first letter large.');
  return out;
}
