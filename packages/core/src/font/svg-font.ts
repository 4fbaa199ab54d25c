import { drawSvgPath, readXml } from '../engines/index.js';
import { areaOf, ContourPen, drawContour, reversed, type Pen } from '../outline/index.js';
import { FontError, type ContainerFault, type SfntFont } from '../sfnt/index.js';
import { Builder } from './builder.js';
import type { FeatureRule } from './features.js';

// Fonts drawn in SVG. Source: Scalable Vector Graphics (SVG) 1.1, chapter 20 "Fonts".

const MOST_BYTES = 64 * 1024 * 1024;
const MOST_PAIRS = 200_000;
/** Faces with few units an em are enlarged to at least as many, so that whole coordinates lose nothing that shows. */
const LEAST_EM = 1000;

interface SvgGlyph {
  name: string;
  unicode: string;
  form: string;
  advance: number | null;
  d: string;
}
interface Pair {
  left: { texts: string; names: string };
  right: { texts: string; names: string };
  k: number;
}
interface SvgFont {
  id: string;
  advance: number;
  face: Record<string, string>;
  missing: SvgGlyph | null;
  glyphs: SvgGlyph[];
  pairs: Pair[];
}

/** The text of a file by its byte order mark, else UTF-8. */
function textOf(bytes: Uint8Array): string {
  const utf16 = bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : 'utf-8';
  return new TextDecoder(utf16).decode(bytes);
}

/** Whether a file is text with a font drawn in SVG in it, and not a drawing alone. */
export function looksLikeSvgFont(bytes: Uint8Array): boolean {
  let at = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : bytes[0] === 0xff || bytes[0] === 0xfe ? 2 : 0;
  while (at < 256 && (bytes[at] === 0 || bytes[at] === 9 || bytes[at] === 10 || bytes[at] === 13 || bytes[at] === 32)) at++;
  if (bytes[at] !== 0x3c || bytes.length > MOST_BYTES) return false;
  const text = textOf(bytes);
  return /<(?:\w{1,20}:)?font[\s>]/.test(text) && /<(?:\w{1,20}:)?font-face[\s/>]/.test(text);
}

/** The fonts of a file as it describes them. */
function elementsOf(text: string): { fonts: SvgFont[]; credits: string; strange: number } {
  const fonts: SvgFont[] = [];
  let credits = '';
  let strange = 0;
  let inMetadata = false;
  let glyph: SvgGlyph | null = null;
  readXml(text, {
    open(name, a) {
      const font = fonts[fonts.length - 1];
      switch (name) {
        case 'metadata':
          inMetadata = true;
          break;
        case 'font':
          fonts.push({ id: a.id ?? '', advance: number(a['horiz-adv-x']) ?? 0, face: {}, missing: null, glyphs: [], pairs: [] });
          break;
        case 'font-face':
          if (font) font.face = { ...a };
          break;
        case 'missing-glyph':
        case 'glyph':
          glyph = {
            name: a['glyph-name'] ?? '',
            unicode: a.unicode ?? '',
            form: a['arabic-form'] ?? '',
            advance: number(a['horiz-adv-x']),
            d: a.d ?? '',
          };
          if (!font) break;
          if (name === 'glyph') font.glyphs.push(glyph);
          else font.missing = glyph;
          break;
        case 'path':
          if (!glyph) break;
          if (a.transform) strange++;
          else glyph.d += ` ${a.d ?? ''}`;
          break;
        case 'hkern':
          font?.pairs.push({
            left: { texts: a.u1 ?? '', names: a.g1 ?? '' },
            right: { texts: a.u2 ?? '', names: a.g2 ?? '' },
            k: number(a.k) ?? 0,
          });
          break;
        default:
          if (glyph && /^(circle|ellipse|rect|line|polyline|polygon|use|image|text)$/.test(name)) strange++;
      }
    },
    close(name) {
      if (name === 'metadata') inMetadata = false;
      if (name === 'glyph' || name === 'missing-glyph') glyph = null;
    },
    text(t) {
      if (inMetadata && credits.length < 4000) credits += t;
    },
  });
  return { fonts, credits: credits.replace(/\s+/g, ' ').trim().slice(0, 2000), strange };
}

const number = (text: string | undefined): number | null => {
  const value = text === undefined || text.trim() === '' ? NaN : Number(text);
  return Number.isFinite(value) ? value : null;
};

/** Characters of a list as `hkern` has them: characters and ranges, separated by commas. */
function* charactersIn(list: string, known: readonly number[]): Generator<number> {
  if (list === '') return;
  for (const part of list === ',' ? [','] : list.split(',')) {
    const range = /^U\+([0-9A-F]{1,6})(?:-([0-9A-F]{1,6}))?$/i.exec(part.trim());
    if (range) {
      const [first, last] = [parseInt(range[1]!, 16), parseInt(range[2] ?? range[1]!, 16)];
      for (const c of known) if (c >= first && c <= last) yield c;
    } else if ([...part].length === 1) yield part.codePointAt(0)!;
  }
}

/** Feature of a form of an Arabic letter. */
const FORMS: Readonly<Record<string, string>> = { initial: 'init', medial: 'medi', terminal: 'fina' };

/** Names of usual weights. Source: OpenType specification, OS/2, usWeightClass; common practice. */
export const WEIGHT_STYLES: Readonly<Record<number, string>> = {
  100: 'Thin',
  200: 'ExtraLight',
  300: 'Light',
  400: 'Regular',
  500: 'Medium',
  600: 'SemiBold',
  700: 'Bold',
  800: 'ExtraBold',
  900: 'Black',
};

function namesOf(font: SvgFont, credits: string): { names: Record<number, string>; weight: number; italic: boolean } {
  const family =
    (font.face['font-family'] ?? '')
      .split(',')[0]!
      .trim()
      .replace(/^['"]|['"]$/g, '') ||
    font.id ||
    'Unnamed';
  const said = (font.face['font-weight'] ?? '').trim();
  const weight =
    said === 'bold' ? 700 : said === 'normal' || said === '' ? 400 : Math.min(1000, Math.max(1, Math.round(Number(said)) || 400));
  const italic = /italic|oblique/.test(font.face['font-style'] ?? '');
  const word = WEIGHT_STYLES[Math.round(weight / 100) * 100] ?? 'Regular';
  const style = italic ? (word === 'Regular' ? 'Italic' : `${word} Italic`) : word;
  const linked = word === 'Regular' || word === 'Bold';
  const own: Record<number, string> = linked
    ? { 1: family, 2: style }
    : { 1: `${family} ${word}`, 2: italic ? 'Italic' : 'Regular', 16: family, 17: style };
  if (credits) own[/copyright|©|\(c\)/i.test(credits) ? 0 : 10] = credits;
  return { names: own, weight, italic };
}

function build(font: SvgFont, credits: string, strange: number): SfntFont {
  const said = number(font.face['units-per-em']) ?? 1000;
  if (!(said >= 1 && said <= 16384)) throw new FontError('bad-table', 'The SVG font gives its em no possible size.');
  const scale = said >= LEAST_EM ? 1 : Math.ceil(LEAST_EM / said);
  const em = Math.round(said * scale);
  const ascent = number(font.face.ascent) ?? 0.8 * said;
  const descent = -Math.abs(number(font.face.descent) ?? said - ascent);
  const { names, weight, italic } = namesOf(font, credits);
  let broken = 0;
  const draw =
    (d: string) =>
    (pen: Pen): void => {
      const contours = new ContourPen();
      drawSvgPath(d, scale, contours);
      contours.closePath();
      // Filled contours run counter-clockwise in CFF; which run the other way within a glyph stays as it was drawn.
      const turn = contours.contours.reduce((sum, c) => sum + areaOf(c), 0) < 0;
      for (const c of contours.contours) drawContour(turn ? reversed(c) : c, pen);
    };
  const widths = new Set([font.advance, ...font.glyphs.map((g) => g.advance ?? font.advance)]);
  const builder = new Builder({
    outlines: 'CFF',
    unitsPerEm: em,
    names,
    ascender: Math.round(ascent * scale),
    descender: Math.round(descent * scale),
    xHeight: Math.round((number(font.face['x-height']) ?? 0.5 * said) * scale),
    capHeight: Math.round((number(font.face['cap-height']) ?? 0.7 * said) * scale),
    weightClass: weight,
    italic,
    italicAngle: number(font.face.slope) ?? 0,
    monospaced: font.glyphs.length > 1 && widths.size === 1,
    direction: 'as drawn',
  });
  const taken = new Set<string>(['.notdef']);
  const nameOf = ({ name, unicode }: SvgGlyph, index: number): string => {
    const c = unicode.codePointAt(0);
    const hex = c?.toString(16).toUpperCase();
    const choices = [
      /^[A-Za-z_][A-Za-z0-9._]{0,62}$/.test(name) ? name : null,
      hex && [...unicode].length === 1 ? (hex.length > 4 ? `u${hex}` : `uni${hex.padStart(4, '0')}`) : null,
      `glyph${index}`,
    ];
    const chosen = choices.find((n) => n && !taken.has(n)) ?? `glyph.${index}`;
    taken.add(chosen);
    return chosen;
  };
  const add = (glyph: SvgGlyph | null, name: string, codePoints: number[]): number => {
    const advance = Math.max(0, Math.min(0xffff, (glyph?.advance ?? font.advance) * scale));
    const probe = new ContourPen();
    if (glyph?.d.trim() && !drawSvgPath(glyph.d, scale, probe)) broken++;
    return builder.add({ name, codePoints, advance, draw: glyph?.d.trim() ? draw(glyph.d) : null });
  };
  add(font.missing, '.notdef', []);
  const byCharacter = new Map<number, number>();
  const byName = new Map<string, number[]>();
  const ligatures: { glyph: number; text: string }[] = [];
  const forms: { glyph: number; character: number; feature: string }[] = [];
  font.glyphs.forEach((glyph, index) => {
    const letters = [...glyph.unicode].map((c) => c.codePointAt(0)!);
    const single = letters.length === 1 && !byCharacter.has(letters[0]!) && !(glyph.form in FORMS);
    const id = add(glyph, nameOf(glyph, index + 1), single ? letters : []);
    if (single) byCharacter.set(letters[0]!, id);
    else if (letters.length === 1 && glyph.form in FORMS) forms.push({ glyph: id, character: letters[0]!, feature: FORMS[glyph.form]! });
    else if (letters.length > 1) ligatures.push({ glyph: id, text: glyph.unicode });
    for (const n of glyph.name.split(',').map((t) => t.trim())) {
      const own = byName.get(n);
      if (own) own.push(id);
      else if (n) byName.set(n, [id]);
    }
  });
  const rules: FeatureRule[] = [];
  for (const { glyph, text } of ligatures) {
    const from = [...text].map((c) => byCharacter.get(c.codePointAt(0)!));
    if (from.every((id) => id !== undefined)) rules.push({ kind: 'ligature', feature: 'liga', from: from as number[], to: glyph });
  }
  for (const { glyph, character, feature } of forms) {
    const from = byCharacter.get(character);
    if (from !== undefined) rules.push({ kind: 'single', feature, from, to: glyph });
  }
  const known = [...byCharacter.keys()];
  const side = ({ texts, names: list }: Pair['left']): number[] => {
    const ids = new Set<number>();
    for (const c of charactersIn(texts, known)) {
      const id = byCharacter.get(c);
      if (id !== undefined) ids.add(id);
    }
    for (const n of list.split(',')) for (const id of byName.get(n.trim()) ?? []) ids.add(id);
    return [...ids];
  };
  // The first pair that fits counts.
  const kerned = new Set<number>();
  let tooMany = false;
  for (const pair of font.pairs) {
    const [lefts, rights] = [side(pair.left), side(pair.right)];
    if (kerned.size + lefts.length * rights.length > MOST_PAIRS) {
      tooMany = true;
      break;
    }
    for (const left of lefts)
      for (const right of rights) {
        if (kerned.has(left * 0x10000 + right)) continue;
        kerned.add(left * 0x10000 + right);
        const value = Math.round(-pair.k * scale);
        if (value !== 0) rules.push({ kind: 'pair', feature: 'kern', left, right, value });
      }
  }
  if (rules.length > 0) builder.features(rules, forms.length > 0 ? ['latn', 'arab'] : ['latn']);
  const made = builder.build();
  const faults: ContainerFault[] = [];
  const tell = (message: string): void => void faults.push({ code: 'left-out', message });
  if (broken > 0)
    tell(`The path data of ${broken === 1 ? 'a glyph breaks' : `${broken} glyphs break`} off; what comes before that is drawn.`);
  if (strange > 0) tell('Some glyphs are drawn with other shapes than plain paths, which are left out.');
  if (tooMany) tell('The font kerns more pairs than are read; some pairs are left out.');
  return { ...made, faults };
}

/**
 * Reads the fonts of an SVG file as OpenType with CFF outlines: characters, ligatures, joined Arabic forms, kerning, names.
 * @throws FontError when the text is no SVG, or a font in it cannot be made
 */
export function readSvgFonts(bytes: Uint8Array): SfntFont[] {
  const { fonts, credits, strange } = elementsOf(textOf(bytes));
  const drawn = fonts.filter((f) => f.glyphs.length > 0 || f.missing);
  if (drawn.length === 0) throw new FontError('not-a-font', 'The SVG file names a font, but draws no glyph of one.');
  return drawn.map((font) => build(font, credits, strange));
}
