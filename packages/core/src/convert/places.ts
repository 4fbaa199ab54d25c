import { openPlaced, type Placed } from '../engines/index.js';
import type { Face } from '../font/index.js';
import type { Pen } from '../outline/index.js';
import { outlineDistance, type Drawn } from './compare.js';

/** Places at which two variable faces are drawn and compared, the ends of their axes among them; with many axes there are more. */
const PLACES = 20;
/** And so many at least lie between the ends. */
const BETWEEN = 10;

/** Places of a design space: the default, both ends of every axis, and others spread evenly (a Halton sequence). */
function placesOf(axes: readonly { axisTag: string; minValue: number; defaultValue: number; maxValue: number }[]): Map<string, number>[] {
  const standard = new Map(axes.map((a) => [a.axisTag, a.defaultValue]));
  const places = [standard];
  for (const a of axes) for (const v of [a.minValue, a.maxValue]) places.push(new Map([...standard, [a.axisTag, v]]));
  const halton = (index: number, base: number): number => {
    let [f, r] = [1, 0];
    for (let i = index; i > 0; i = Math.floor(i / base)) r += (f /= base) * (i % base);
    return r;
  };
  const bases = [2, 3, 5, 7, 11, 13, 17, 19];
  const wanted = Math.max(PLACES, places.length + BETWEEN);
  for (let i = 1; places.length < wanted; i++)
    places.push(new Map(axes.map((a, k) => [a.axisTag, a.minValue + (a.maxValue - a.minValue) * halton(i, bases[k % bases.length]!)])));
  return places;
}

const drawn = (placed: Placed): Drawn => ({
  draw(glyph: number, pen: Pen): boolean {
    placed.draw(glyph, pen);
    return true;
  },
});

/** What two variable faces with the same glyphs differ in, at places all over the axes of the second one. */
export function compareAtPlaces(
  before: Face,
  after: Face,
  limit: number,
  pinned: ReadonlyMap<string, number> = new Map(),
): { differences: string[]; farthest: number; worstGlyph: number | null; glyphsCompared: number } {
  const differences: string[] = [];
  const count = Math.min(before.glyphCount, after.glyphCount);
  let [farthest, worstGlyph, glyphsCompared] = [0, null as number | null, 0];
  for (const place of placesOf(after.variations?.axes ?? [])) {
    const there = openPlaced(before.sfnt.sfnt, before.sfnt.faceIndex, new Map([...pinned, ...place]));
    const here = openPlaced(after.sfnt.sfnt, after.sfnt.faceIndex, place);
    const said = [...place].map(([tag, v]) => `${tag.trim()} ${Math.round(v * 10) / 10}`).join(', ');
    for (let glyph = 0; glyph < count; glyph++)
      if (Math.abs(there.advance(glyph) - here.advance(glyph)) > 1.01 && differences.length < 5)
        differences.push(`The advance of glyph ${glyph} differs at ${said}.`);
    const found = outlineDistance(drawn(there), drawn(here), count, before.unitsPerEm);
    glyphsCompared += found.glyphsCompared;
    if (found.lost.length > 0) differences.push(`Glyph ${found.lost[0]} is not drawn in both at ${said}.`);
    if (found.farthest > farthest) [farthest, worstGlyph] = [found.farthest, found.worstGlyph];
    if (found.farthest > limit)
      differences.push(`At ${said} the outline of glyph ${found.worstGlyph} is ${found.farthest.toFixed(2)} units from where it was.`);
    if (differences.length > 3) break;
  }
  return { differences, farthest, worstGlyph, glyphsCompared };
}
