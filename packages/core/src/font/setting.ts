import type { Shaper } from '../engines/index.js';
import type { MarkAnchors } from '../sfnt/index.js';
import { inRuns, toRuns, type Writes } from '../text/index.js';
import { BoundsPen, FlattenPen, type Bounds, type Pen, type Polygon } from '../outline/index.js';
import { placesInBrowsers, readsRight, type Ink, type Measure } from './marks.js';
import {
  COMPLETE_WRITING,
  JOINING_SCRIPTS,
  joinsOnBothSides,
  languages,
  MELTING,
  scripts,
  STACKING,
  type Language,
} from '../unicode/index.js';

const IGNORABLE = /^\p{Default_Ignorable_Code_Point}$/u;

/** What must be known of a face to say what it can set. */
export interface SettableFace {
  /** Covered code points, ascending. */
  readonly codePoints: Uint32Array;
  /** Glyph of a code point, 0 when it has none. */
  glyphOf(codePoint: number): number;
  readonly shaper: Shaper;
  readonly anchors: MarkAnchors | null;
  readonly unitsPerEm: number;
  /** Whether the face places glyphs itself; without it a shaper that can moves marks as it thinks best, and others do not. */
  readonly hasPositions: boolean;
  /** Height of the letter x by the face's own word, 0 where it does not say. */
  readonly xHeight: number;
  /** Tangent of the slant, positive where letters lean to the right. */
  readonly slant: number;
  /** Advance as the face has it, font units. */
  advanceOf(glyph: number): number;
  /** @returns false when the glyph is damaged or draws nothing */
  draw(glyph: number, pen: Pen): boolean;
}

/** Characters that Unicode takes apart into several, but for the syllables of Hangul; null for all others. */
function partsOf(codePoint: number): { letter: string; parts: number[] } | null {
  if (codePoint < 0xa0 || codePoint >= 0x1d200) return null;
  if ((codePoint >= 0x3400 && codePoint < 0xa000) || (codePoint >= 0xac00 && codePoint < 0xf900)) return null;
  const letter = String.fromCodePoint(codePoint);
  const parts = letter.normalize('NFD');
  // Only what normalizing a text leaves in one piece can stand in it.
  if (parts.length < 2 || parts === letter || letter.normalize('NFC') !== letter) return null;
  return { letter, parts: Array.from(parts, (p) => p.codePointAt(0)!) };
}

/** Texts taken apart before; the letters of all languages are some four thousand, and the same for every face. */
const apartKnown = new Map<string, readonly number[]>();
const MOST_APART = 20_000;

/** Code points of a text in its canonical decomposition. */
function apart(text: string): readonly number[] {
  let parts = apartKnown.get(text);
  if (!parts) {
    parts = Array.from(text.normalize('NFD'), (c) => c.codePointAt(0)!);
    if (apartKnown.size < MOST_APART) apartKnown.set(text, parts);
  }
  return parts;
}

let decomposableList: ReadonlyMap<number, NonNullable<ReturnType<typeof partsOf>>> | null = null;
/** All characters with parts; taking them apart costs more than judging a face. */
function decomposable(): NonNullable<typeof decomposableList> {
  if (decomposableList) return decomposableList;
  const out = new Map<number, NonNullable<ReturnType<typeof partsOf>>>();
  for (let c = 0xa0; c < 0x1d200; c++) {
    if (c === 0x3400) c = 0xa000;
    if (c === 0xac00) c = 0xf900;
    const parts = partsOf(c);
    if (parts) out.set(c, parts);
  }
  return (decomposableList = out);
}

let looseList: readonly string[] | null = null;
let looseSet: ReadonlySet<string> | null = null;
/** Letters with marks that have no character of their own, of all languages. */
function looseClusters(): readonly string[] {
  return (looseList ??= [
    ...new Set([
      ...languages().flatMap((l) => l.clusters),
      ...COMPLETE_WRITING.flatMap((c) => c.letters.map((l) => l.normalize('NFC')).filter((l) => [...l].length > 1)),
    ]),
  ]);
}

let demandingList: ReturnType<typeof scripts>[number][] | null = null;
/** Scripts whose letters must change with their neighbors. */
const demanding = (): NonNullable<typeof demandingList> =>
  (demandingList ??= scripts().filter((s) => s.code in MELTING || s.code in STACKING || JOINING_SCRIPTS.includes(s.code)));

/**
 * How a letter comes out of its parts: everywhere; only where a browser's shaper moves the marks of a face that says nothing
 * of them; or not.
 */
type Composed = 'everywhere' | 'in browsers' | 'no';

/** A glyph and where its origin stands, font units. */
interface Placed {
  glyph: number;
  x: number;
  y: number;
}

/** Marks may touch; boxes that share more than this of the em in height run into each other. */
const TOUCHING = 0.04;

/**
 * What a face can set, found by its character map, its anchors and real shaping: the one answer for languages, texts,
 * live lines, the filter and the command line. Each question is answered once and kept.
 */
export class Setting implements Writes {
  private readonly composed = new Map<string, Composed>();
  private readonly inks = new Map<number, { box: Bounds; polygons: readonly Polygon[] } | null>();
  private measured: Measure | null = null;
  private readonly joined = new Map<number, boolean>();
  private readonly failures = new Map<string, string | null>();

  private readonly shaper: Shaper;
  private readonly anchors: MarkAnchors | null;

  /** @throws FontError when a table that setting needs is damaged */
  constructor(private readonly face: SettableFace) {
    // Asked for at once, so that a damaged table shows here and not in the middle of an answer.
    this.shaper = face.shaper;
    this.anchors = face.anchors;
  }

  /** Whether a character comes out: from a glyph of its own or its parts, and joined or melted as its script needs. */
  has(codePoint: number): boolean {
    if (this.face.glyphOf(codePoint) === 0) {
      const parts = decomposable().get(codePoint);
      if (!parts || !parts.parts.every((p) => this.face.glyphOf(p) !== 0) || !this.composes(parts.letter)) return false;
    }
    for (const script of demanding()) {
      if (!inRuns(script.runs, codePoint)) continue;
      if (script.code in MELTING || script.code in STACKING) {
        if (this.scriptFailure(script.code) !== null) return false;
      } else if (joinsOnBothSides(codePoint) && !this.joinsWell(codePoint)) return false;
    }
    return true;
  }

  /** Whether a letter with marks that has no character of its own comes out. Those that no language has count as not. */
  sets(cluster: string): boolean {
    looseSet ??= new Set(looseClusters());
    return looseSet.has(cluster) && this.composes(cluster);
  }

  /** All that comes out: code points as runs [first, last, ...], and letters with marks without a character of their own. */
  all(): { runs: number[]; loose: string[] } {
    const { face } = this;
    const own = new Set<number>(face.codePoints);
    for (const [c, { letter, parts }] of decomposable()) {
      if (own.has(c)) continue;
      if (parts.every((p) => own.has(p)) && this.composes(letter)) own.add(c);
    }
    for (const script of demanding()) {
      const melting = script.code in MELTING || script.code in STACKING;
      let failed: boolean | null = null;
      for (let i = 0; i < script.runs.length; i += 2)
        for (let c = script.runs[i]!; c <= script.runs[i + 1]!; c++) {
          if (!own.has(c)) continue;
          if (melting) failed ??= this.scriptFailure(script.code) !== null;
          if (failed || (!melting && joinsOnBothSides(c) && !this.joinsWell(c))) own.delete(c);
        }
    }
    return { runs: toRuns([...own].sort((a, b) => a - b)), loose: looseClusters().filter((l) => this.composes(l)) };
  }

  /** Whether a letter has parts and the face has them all. */
  hasParts(text: string): boolean {
    const parts = apart(text);
    if (parts.length < 2) return false;
    for (const part of parts) if (this.face.glyphOf(part) === 0) return false;
    return true;
  }

  /** Whether a letter comes out of its parts: in one glyph by substitution, or with each mark where it reads right. */
  composes(text: string): boolean {
    return this.composition(text) === 'everywhere';
  }

  /** Whether a letter comes out of its parts where HarfBuzz sets it, though the face itself says nothing of its marks. */
  composesInBrowsers(text: string): boolean {
    return this.composition(text) !== 'no';
  }

  private composition(text: string): Composed {
    let known = this.composed.get(text);
    if (known === undefined) this.composed.set(text, (known = this.tryComposing(text)));
    return known;
  }

  private tryComposing(text: string): Composed {
    if (!this.hasParts(text)) return 'no';
    const shaped = this.shaper.shape(text.normalize('NFD'));
    if (shaped.some((g) => g.glyph === 0)) return 'no';
    if (shaped.length === 1) return 'everywhere';
    let x = 0;
    const placed = shaped.map(({ glyph, xAdvance, xOffset, yOffset }) => {
      const at = { glyph, x: x + xOffset, y: yOffset };
      x += xAdvance;
      return at;
    });
    // That a font has anchors is not enough: shaping must have used them, in this script and with its features.
    const anchored = placed.map((mark) =>
      placed.some(
        (base) =>
          base !== mark &&
          (this.anchors?.offsets(base.glyph, mark.glyph) ?? []).some(
            (o) => Math.abs(base.x + o.x - mark.x) <= 1 && Math.abs(base.y + o.y - mark.y) <= 1,
          ),
      ),
    );
    if (anchored.filter((a) => !a).length === 1) return 'everywhere';
    if (this.face.hasPositions) return this.looksRight(text, placed, anchored) ? 'everywhere' : 'no';
    // Where nothing moves the marks, they stand as they were drawn, each after the advance of the glyph before it.
    let at = 0;
    const drawn = shaped.map(({ glyph }) => {
      const here = { glyph, x: at, y: 0 };
      at += this.face.advanceOf(glyph);
      return here;
    });
    if (this.looksRight(text, drawn, anchored)) return 'everywhere';
    const moved = this.inBrowsers(text, drawn);
    return moved && this.looksRight(text, moved, anchored) ? 'in browsers' : 'no';
  }

  /** The glyphs of a letter where a browser's shaper moves them, by their glyphs without any positions. */
  private inBrowsers(text: string, glyphs: readonly Placed[]): Placed[] | null {
    const [letter, ...marks] = apart(text);
    const [base, ...over] = glyphs;
    const left = letter !== undefined && base ? this.leftOver(letter, marks, base.glyph, over.length) : null;
    const inks = glyphs.map(({ glyph }) => this.inkOf({ glyph, x: 0, y: 0 }));
    if (!left || inks.includes(null)) return null;
    const places = placesInBrowsers(
      { ink: inks[0]!, advance: this.face.advanceOf(base!.glyph) },
      left.map((codePoint, i) => ({ codePoint, ink: inks[i + 1]! })),
      this.face.unitsPerEm,
    );
    return places && [{ ...base!, x: 0, y: 0 }, ...over.map(({ glyph }, i) => ({ glyph, ...places[i]! }))];
  }

  /** Judges a letter by its ink, see `readsRight`. Glyphs whose characters cannot be told are not judged and do not pass. */
  private looksRight(text: string, placed: readonly Placed[], anchored: readonly boolean[]): boolean {
    const [letter, ...marks] = apart(text);
    const [base, ...above] = placed;
    if (letter === undefined || !base) return false;
    const left = this.leftOver(letter, marks, base.glyph, above.length);
    return (
      left !== null &&
      readsRight(
        { codePoint: letter, ink: this.inkOf(base) },
        above.map((mark, i) => ({ codePoint: left[i]!, ink: this.inkOf(mark), anchored: anchored[i + 1]! })),
        (this.measured ??= this.measure()),
      )
    );
  }

  /** The marks that stand as glyphs of their own; null when it cannot be told which the first glyph took in. */
  private leftOver(letter: number, marks: readonly number[], base: number, count: number): readonly number[] | null {
    if (marks.length === count) return marks;
    for (let taken = 0; taken < 1 << marks.length; taken++) {
      const left = marks.filter((_, i) => !(taken & (1 << i)));
      if (left.length !== count) continue;
      const within = String.fromCodePoint(letter, ...marks.filter((_, i) => taken & (1 << i))).normalize('NFC');
      if ([...within].length === 1 && this.face.glyphOf(within.codePointAt(0)!) === base) return left;
    }
    return null;
  }

  private inkOf({ glyph, x, y }: Placed): Ink | null {
    let ink = this.inks.get(glyph);
    if (ink === undefined) {
      const bounds = new BoundsPen();
      const flat = new FlattenPen(this.face.unitsPerEm / 300);
      ink =
        this.face.draw(glyph, bounds) && bounds.bounds && this.face.draw(glyph, flat) && flat.polygons.length > 0
          ? { box: bounds.bounds, polygons: flat.polygons }
          : null;
      this.inks.set(glyph, ink);
    }
    if (!ink || (x === 0 && y === 0)) return ink;
    const { box } = ink;
    return {
      box: { xMin: box.xMin + x, xMax: box.xMax + x, yMin: box.yMin + y, yMax: box.yMax + y },
      polygons: ink.polygons.map((p) => p.map((v, i) => (i % 2 === 0 ? v + x : v + y))),
    };
  }

  private measure(): Measure {
    const { face } = this;
    const x = 'xoаο'.split('').find((c) => face.glyphOf(c.codePointAt(0)!) !== 0);
    const ink = x ? this.inkOf({ glyph: face.glyphOf(x.codePointAt(0)!), x: 0, y: 0 }) : null;
    // Where the letter x is drawn as a rune or a capital, its height says nothing of the others: none is higher than this.
    const xHeight = Math.min(ink ? ink.box.yMax : face.xHeight || face.unitsPerEm / 2, 0.6 * face.unitsPerEm);
    return { xHeight, unitsPerEm: face.unitsPerEm, slant: face.slant };
  }

  /** Whether shaping gives other glyphs than the character map alone; order does not count, the shaper does that itself. */
  private melts(text: string): boolean {
    const { face } = this;
    const plain = [...text].filter((c) => !IGNORABLE.test(c)).map((c) => face.glyphOf(c.codePointAt(0)!));
    if (plain.includes(0)) return false;
    const circle = face.glyphOf(0x25cc);
    const space = face.glyphOf(0x20);
    const shaped = this.shaper
      .shape(text)
      .filter((g) => !(g.glyph === space && g.xAdvance === 0))
      .map((g) => g.glyph);
    if (shaped.includes(0) || (circle !== 0 && shaped.includes(circle))) return false;
    return shaped.sort((a, b) => a - b).join() !== plain.sort((a, b) => a - b).join();
  }

  /**
   * Whether the last two marks of a syllable keep clear of each other where shaping puts them. One glyph for both is drawn so
   * on purpose; what cannot be drawn cannot be judged and does not count.
   */
  private stacks(text: string): boolean {
    const shaped = this.shaper.shape(text);
    if (shaped.some((g) => g.glyph === 0)) return false;
    let x = 0;
    const boxes = shaped.flatMap(({ glyph, xAdvance, xOffset, yOffset }) => {
      const pen = new BoundsPen();
      this.face.draw(glyph, pen);
      const box = pen.bounds;
      const at = x + xOffset;
      x += xAdvance;
      return box ? [{ xMin: at + box.xMin, xMax: at + box.xMax, yMin: yOffset + box.yMin, yMax: yOffset + box.yMax }] : [];
    });
    // A ligature of all, or of the marks: nothing is left to run into each other.
    if (shaped.length < [...text].length) return boxes.length > 0;
    const [lower, upper] = boxes.slice(-2);
    if (!lower || !upper || boxes.length < shaped.length) return false;
    const wide = Math.min(lower.xMax, upper.xMax) - Math.max(lower.xMin, upper.xMin);
    const high = Math.min(lower.yMax, upper.yMax) - Math.max(lower.yMin, upper.yMin);
    return wide <= 0 || high <= TOUCHING * this.face.unitsPerEm;
  }

  /** The first sample of a script (ISO 15924) that does not come out as it must, or null when all do. */
  scriptFailure(script: string): string | null {
    let known = this.failures.get(script);
    if (known === undefined) {
      known = (MELTING[script] ?? []).find((s) => !this.melts(s)) ?? (STACKING[script] ?? []).find((s) => !this.stacks(s)) ?? null;
      this.failures.set(script, known);
    }
    return known;
  }

  /** The first letter of a language that does not join with its like, or null. */
  joiningFailure(language: Language): string | null {
    if (!JOINING_SCRIPTS.includes(language.script)) return null;
    for (const c of language.letters) {
      if (!joinsOnBothSides(c) || this.face.glyphOf(c) === 0) continue;
      if (!this.joinsWell(c)) return String.fromCodePoint(c);
    }
    return null;
  }

  /** Whether a letter changes its form between its like, on both sides of which it joins. */
  private joinsWell(c: number): boolean {
    let joins = this.joined.get(c);
    if (joins === undefined) this.joined.set(c, (joins = this.joinsBetween(c)));
    return joins;
  }

  private joinsBetween(c: number): boolean {
    const text = String.fromCodePoint(c).repeat(3);
    if (!this.melts(text)) return false;
    const shaped = this.shaper.shape(text).map((g) => g.glyph);
    // Forms for the beginning and the end of a word are not enough; several in one glyph are joined by its drawing.
    return shaped.length !== 3 || shaped[1] !== this.face.glyphOf(c);
  }
}
