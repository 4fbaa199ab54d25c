import type { Paths } from '../../engines/index.js';
import { anchorsOf, GUIDES, INK_EM, shapeOf } from '../../drawn/index.js';
import { Builder, type FeatureRule } from '../../font/index.js';
import { drawContour, reversed, TransformPen, type Contour, type Pen } from '../../outline/index.js';
import { FontError, writeSfnt, writeWoff2, type Codec, type SfntFont } from '../../sfnt/index.js';
import { fileBase } from '../../webkit/index.js';
import type { ReleaseFile } from '../product.js';
import { dayNumber } from '../day.js';
import { groupOf, nameOf, planTypeface, type Plan, type PlannedGlyph, type Typeface } from './typeface.js';

/** What keeps a typeface from being released, in sentences; none: it can be. */
export function typefaceStops({ facts, letters }: Pick<Typeface, 'facts' | 'letters'>): string[] {
  const out: string[] = [];
  if (facts.family.trim() === '' || facts.family.length > 60) out.push('A typeface needs a family name of 1 to 60 letters.');
  if (facts.style.trim() === '' || facts.style.length > 40)
    out.push('A typeface needs a style name of 1 to 40 letters, usually “Regular”.');
  if (facts.licenseUrl !== '' && !/^https?:\/\/[^\s<>"]+$/.test(facts.licenseUrl))
    out.push('The address of the license begins with https://.');
  if (letters.length === 0) out.push('There is no letter in it yet.');
  const seen = new Set<string>();
  for (const l of letters) {
    const key = `${l.character}/${l.variant}`;
    if (seen.has(key)) out.push(`There are two drawings for “${l.character}”${l.variant > 0 ? `, ${l.variant + 1}` : ''}.`);
    seen.add(key);
  }
  return out;
}

export interface BuiltTypeface {
  files: ReleaseFile[];
  plan: Plan;
}

/** Share of an em by which a space moves on when nothing says otherwise; common practice. */
const SPACE = 0.25;

/**
 * Makes the fonts of a drawn typeface. The same typeface, number and day give the same bytes.
 * @param day of the release, YYYY-MM-DD; it stands in the fonts
 * @throws FontError in words when it contradicts itself or a font cannot hold it
 */
export function buildTypeface(face: Typeface, number: number, day: string, paths: Paths, codec: Codec): BuiltTypeface {
  const [wrong] = typefaceStops(face);
  if (wrong !== undefined) throw new FontError('does-not-fit', wrong);
  const plan = planTypeface(face, paths);
  const one = (outlines: 'glyf' | 'CFF'): SfntFont => fontOf(face, plan, number, day, outlines);
  const base = `${fileBase(face.facts.family, 'x').slice(0, -2)}-${face.facts.style.replace(/[^A-Za-z0-9]+/g, '') || 'Regular'}`;
  const plain = one('glyf');
  return {
    plan,
    files: [
      { name: `${base}.ttf`, format: 'ttf', bytes: writeSfnt(plain) },
      { name: `${base}.otf`, format: 'otf', bytes: writeSfnt(one('CFF')) },
      { name: `${base}.woff2`, format: 'woff2', bytes: writeWoff2(plain, codec) },
    ],
  };
}

function fontOf({ facts, turns, tabular }: Typeface, plan: Plan, number: number, day: string, outlines: 'glyf' | 'CFF'): SfntFont {
  const { heights, glyphs, pairs } = plan;
  const tallest = Math.max(
    GUIDES.ascender * INK_EM,
    ...glyphs.filter((g) => g.kind !== 'mark').flatMap((g) => shapeOf(g.contours)?.box.yMax ?? []),
  );
  const lowest = Math.min(
    GUIDES.descender * INK_EM,
    ...glyphs.filter((g) => g.kind !== 'mark').flatMap((g) => shapeOf(g.contours)?.box.yMin ?? []),
  );
  const builder = new Builder({
    outlines,
    unitsPerEm: INK_EM,
    names: {
      ...(facts.maker ? { 0: `Copyright ${day.slice(0, 4)} ${facts.maker}`, 8: facts.maker } : {}),
      1: facts.style === 'Regular' || facts.style === 'Bold' || facts.style === 'Italic' ? facts.family : `${facts.family} ${facts.style}`,
      2: ['Regular', 'Bold', 'Italic', 'Bold Italic'].includes(facts.style) ? facts.style : 'Regular',
      5: `Version ${number}.000`,
      ...(facts.license ? { 13: facts.license } : {}),
      ...(facts.licenseUrl ? { 14: facts.licenseUrl } : {}),
      ...(['Regular', 'Bold', 'Italic', 'Bold Italic'].includes(facts.style) ? {} : { 16: facts.family, 17: facts.style }),
    } as Record<number, string>,
    ascender: Math.ceil(Math.max(800, tallest)),
    descender: Math.floor(Math.min(-200, lowest)),
    lineGap: 0,
    xHeight: Math.round(heights.xHeight),
    capHeight: Math.round(heights.capHeight),
    weightClass: facts.style.startsWith('Bold') ? 700 : 400,
    italic: /Italic/.test(facts.style),
    fsType: facts.embedding,
    modified: 86_400 * dayNumber(day),
    revision: number,
    direction: 'as drawn',
    tolerance: 0.6,
    curves: 'tangents',
  });
  const draw =
    (contours: readonly Contour[], x: number) =>
    (pen: Pen): void => {
      // TrueType fills clockwise; ours run the other way round.
      for (const contour of contours)
        drawContour(outlines === 'glyf' ? reversed(contour) : contour, new TransformPen([1, 0, 0, 1, x, 0], pen));
    };
  const frame = {
    start: [60, 0] as const,
    segments: [
      [440, 0],
      [440, 700],
      [60, 700],
    ],
  };
  const hollow = {
    start: [100, 40] as const,
    segments: [
      [100, 660],
      [400, 660],
      [400, 40],
    ],
  };
  builder.add({ name: '.notdef', codePoints: [], advance: 500, draw: draw([frame, hollow] as unknown as Contour[], 0) });
  const n = glyphs.find((g) => g.character === 'n') ?? glyphs.find((g) => g.character === 'H');
  const space = Math.round(n ? Math.max(120, 0.44 * n.advance) : SPACE * INK_EM);
  builder.add({ name: 'space', codePoints: [0x20, 0xa0], advance: space, draw: null });
  const codePointOf = (g: PlannedGlyph): number[] =>
    g.variant === 0 && [...g.character].length === 1 ? [g.character.codePointAt(0)!] : [];
  for (const g of glyphs)
    builder.add({
      name: g.name,
      codePoints: codePointOf(g),
      advance: g.advance,
      draw: draw(g.contours, Math.round(g.left - g.from)),
      class: g.kind === 'mark' ? 3 : 1,
    });
  const rules: FeatureRule[] = [];
  const byCharacter = new Map(glyphs.filter((g) => g.variant === 0).map((g) => [g.character, g]));
  if (tabular) tabularFigures(glyphs, builder, rules, draw);
  for (const g of glyphs)
    if (g.variant === 0 && [...g.character].length > 1 && g.kind !== 'mark' && [...g.character].every((c) => byCharacter.has(c)))
      rules.push({
        kind: 'ligature',
        feature: 'liga',
        from: [...g.character].map((c) => builder.glyph(byCharacter.get(c)!.name)),
        to: builder.glyph(g.name),
      });
  for (const [half, over, under] of [
    ['½', '1', '2'],
    ['¼', '1', '4'],
    ['¾', '3', '4'],
  ] as const)
    if ([half, over, under, '/'].every((c) => byCharacter.has(c)))
      rules.push({
        kind: 'ligature',
        feature: 'frac',
        from: [over, '/', under].map((c) => builder.glyph(nameOf(c))),
        to: builder.glyph(nameOf(half)),
      });
  const marks = glyphs.filter((g) => g.kind === 'mark' && g.variant === 0);
  const above = marks.filter((m) => !isBelow(m.character));
  const dotless = byCharacter.get('ı');
  const below = byCharacter.get('\u0323');
  if (dotless && byCharacter.has('i') && above.length > 0)
    rules.push({
      kind: 'before',
      feature: 'ccmp',
      // Shapers make one character of i and a dot below, as Igbo writes it, before they look for what to compose.
      from: [...(below && byCharacter.has('ị') ? [builder.glyph(nameOf('ị'))] : []), builder.glyph(nameOf('i'))],
      to: [
        ...(below && byCharacter.has('ị') ? [[dotless.name, below.name].map((n) => builder.glyph(n))] : []),
        builder.glyph(dotless.name),
      ],
      ahead: above.map((m) => builder.glyph(m.name)),
      over: marks.filter((m) => isBelow(m.character)).map((m) => builder.glyph(m.name)),
    });
  anchors(glyphs, marks, builder, rules);
  if (turns) inTurn(glyphs, builder, rules);
  if (pairs.length > 0) kerning(glyphs, plan, builder, rules);
  const scripts = new Set<string>(['latn']);
  if (glyphs.some((g) => /^\p{Script=Cyrillic}$/u.test(g.character))) scripts.add('cyrl');
  if (glyphs.some((g) => /^\p{Script=Greek}$/u.test(g.character))) scripts.add('grek');
  builder.features(rules, [...scripts]);
  return builder.build();
}

const isBelow = (mark: string): boolean => /^[\u0316-\u0319\u0323-\u0326\u0327\u0328\u0329-\u0333]$/.test(mark);

/** Figures of one width beside those that are spaced like letters. */
function tabularFigures(
  glyphs: readonly PlannedGlyph[],
  builder: Builder,
  rules: FeatureRule[],
  draw: (contours: readonly Contour[], x: number) => (pen: Pen) => void,
): void {
  const figures = glyphs.filter((g) => g.kind === 'figure' && g.variant === 0 && /^[0-9]$/.test(g.character));
  if (figures.length < 2) return;
  const width = Math.max(...figures.map((g) => g.advance));
  for (const g of figures) {
    const name = `${g.name}.tnum`;
    builder.add({
      name,
      codePoints: [],
      advance: width,
      draw: draw(g.contours, Math.round((width - (g.to - g.from)) / 2 - g.from)),
      class: 1,
    });
    rules.push({ kind: 'single', feature: 'tnum', from: builder.glyph(g.name), to: builder.glyph(name) });
  }
}

/** White between marks that stand on one another, thousandths of the em at most; common practice. */
const STACKED = 45;

/** Marks on letters that no single character stands for, and on marks. */
function anchors(glyphs: readonly PlannedGlyph[], marks: readonly PlannedGlyph[], builder: Builder, rules: FeatureRule[]): void {
  if (marks.length === 0) return;
  const bases = glyphs.flatMap((g) => {
    const shape = (g.kind === 'small' || g.kind === 'capital') && g.character !== 'i' ? shapeOf(g.contours) : null;
    return shape ? [{ g, x: Math.round(g.left - g.from), ...anchorsOf(shape) }] : [];
  });
  for (const m of marks) {
    const shape = shapeOf(m.contours);
    if (!shape) continue;
    const { xMin, xMax, yMin, yMax } = shape.box;
    const below = isBelow(m.character);
    const gap = below ? Math.max(0, Math.min(200, -yMax)) : Math.max(25, Math.min(220, yMin - GUIDES.xHeight * INK_EM));
    const drawnAt = Math.round(m.left - m.from);
    for (const b of bases)
      rules.push({
        kind: 'mark',
        feature: 'mark',
        base: builder.glyph(b.g.name),
        mark: builder.glyph(m.name),
        baseX: Math.round((below ? b.bottom.x : b.top.x) + b.x),
        baseY: Math.round(below ? b.bottom.y : b.top.y),
        markX: Math.round((xMin + xMax) / 2 + drawnAt),
        markY: Math.round(below ? yMax + gap : yMin - gap),
        class: below ? 'below' : 'above',
      });
    // On a mark of the same side, as far from it as from a letter.
    for (const other of marks) {
      const under = shapeOf(other.contours);
      if (!under || isBelow(other.character) !== below) continue;
      rules.push({
        kind: 'mkmk',
        feature: 'mkmk',
        base: builder.glyph(other.name),
        mark: builder.glyph(m.name),
        baseX: Math.round((under.box.xMin + under.box.xMax) / 2 + other.left - other.from),
        baseY: Math.round(below ? under.box.yMin : under.box.yMax),
        markX: Math.round((xMin + xMax) / 2 + drawnAt),
        // Closer than to a letter: marks of one stack belong together.
        markY: Math.round(below ? yMax + Math.min(gap, STACKED) : yMin - Math.min(gap, STACKED)),
        class: below ? 'below' : 'above',
      });
    }
  }
}

/** Drawings that take turns, so that the two of a double differ. */
function inTurn(glyphs: readonly PlannedGlyph[], builder: Builder, rules: FeatureRule[]): void {
  const letters = new Map<string, PlannedGlyph[]>();
  for (const g of glyphs) if (g.kind !== 'mark') letters.set(g.character, [...(letters.get(g.character) ?? []), g]);
  const several = [...letters.values()].filter((l) => l.length > 1 && l.some((g) => g.variant === 0));
  if (several.length === 0) return;
  const single = [...letters.values()].filter((l) => l.length === 1 && (l[0]!.kind === 'small' || l[0]!.kind === 'capital'));
  rules.push({
    kind: 'turns',
    feature: 'calt',
    letters: several.map((l) => [...l].sort((a, b) => a.variant - b.variant).map((g) => builder.glyph(g.name))),
    between: single.map((l) => builder.glyph(l[0]!.name)),
  });
}

/** Classes of letters, and before them the pairs that a person set: a letter, its accented ones and its further drawings move alike. */
function kerning(glyphs: readonly PlannedGlyph[], { classes, pairs }: Plan, builder: Builder, rules: FeatureRule[]): void {
  const members = new Map<string, number[]>();
  for (const g of glyphs) if (g.kind !== 'mark') members.set(groupOf(g), [...(members.get(groupOf(g)) ?? []), builder.glyph(g.name)]);
  // A pair of one accented letter is that letter's alone.
  for (const g of glyphs)
    if (g.variant === 0 && g.kind !== 'mark' && !members.has(g.character)) members.set(g.character, [builder.glyph(g.name)]);
  const exceptions = pairs
    .filter((p) => p.locked)
    .flatMap((p) =>
      (members.get(p.left) ?? []).flatMap((left) =>
        (members.get(p.right) ?? []).map((right) => ({ left, right, value: Math.round(p.value) })),
      ),
    );
  const glyphsOf = (list: readonly string[]): number[] => list.flatMap((key) => members.get(key) ?? []);
  if (classes && classes.firsts.length > 0)
    rules.push({
      kind: 'groups',
      feature: 'kern',
      firsts: classes.firsts.map(glyphsOf),
      seconds: classes.seconds.map(glyphsOf),
      values: classes.values,
      exceptions,
    });
  else for (const e of exceptions) rules.push({ kind: 'pair', feature: 'kern', ...e });
}
