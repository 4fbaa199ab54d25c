import type { Characters, GlyphDetail } from '@orderly-glyph/schema';

export interface Cell {
  key: string;
  text: string;
  codePoint: number | null;
  glyph: number | null;
  feature: string | null;
  value: number;
}
export type Row = { heading: string; size: number } | { cells: Cell[] };

/** By block, by script or by kind of character. */
export const GROUPINGS = { block: 'by block', script: 'by script', category: 'by kind' } as const;
export type Grouping = keyof typeof GROUPINGS;
export type Test = readonly [name: string, test: RegExp];
/** General categories. Source: the Unicode Standard, table 4-4. */
const CATEGORIES: readonly Test[] = [
  ['Capitals', /^[\p{Lu}\p{Lt}]$/u],
  ['Small letters', /^\p{Ll}$/u],
  ['Letters without case', /^[\p{Lo}\p{Lm}]$/u],
  ['Marks', /^\p{M}$/u],
  ['Figures and numbers', /^\p{N}$/u],
  ['Punctuation', /^\p{P}$/u],
  ['Currency signs', /^\p{Sc}$/u],
  ['Mathematical signs', /^\p{Sm}$/u],
  ['Other signs', /^\p{S}$/u],
  ['Spaces and controls', /^[\p{Z}\p{Cc}\p{Cf}]$/u],
  ['Private use', /^\p{Co}$/u],
];

function groupsOf(codePoints: number[], grouping: Grouping, scriptTests: readonly Test[]): { name: string; codePoints: number[] }[] {
  const tests = grouping === 'category' ? CATEGORIES : scriptTests;
  const out = new Map<string, number[]>();
  for (const c of codePoints) {
    const text = String.fromCodePoint(c);
    const name = tests.find(([, test]) => test.test(text))?.[0] ?? (grouping === 'script' ? 'Common to several scripts' : 'Unassigned');
    const list = out.get(name);
    if (list) list.push(c);
    else out.set(name, [c]);
  }
  const rank = (name: string): number => (tests.findIndex(([n]) => n === name) + tests.length + 1) % (tests.length + 1);
  return [...out].map(([name, points]) => ({ name, codePoints: points })).sort((a, b) => rank(a.name) - rank(b.name));
}

/** The outline of a glyph as a drawing of its own, in font units. */
export function outlineAsSvg(g: GlyphDetail): string {
  const box = g.bounds ?? { xMin: 0, yMin: 0, xMax: g.advanceWidth, yMax: g.unitsPerEm };
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${box.xMin} ${-box.yMax} ${box.xMax - box.xMin} ${box.yMax - box.yMin}"><path transform="scale(1 -1)" d="${g.path}"/></svg>`;
}

export const hex = (c: number): string => c.toString(16).toUpperCase().padStart(4, '0');

/** The ways to take a glyph along. One without a code point goes as its outline or as its feature. */
export function copiesOf(cell: Cell, detail: GlyphDetail | null): { name: string; value: string }[] {
  // Copying the character it stands in for would copy another glyph.
  if (cell.codePoint === null)
    return [
      ...(detail ? [{ name: 'Outline as SVG', value: outlineAsSvg(detail) }] : []),
      { name: 'CSS', value: `font-feature-settings: "${cell.feature}"${cell.value > 1 ? ` ${cell.value}` : ''};` },
    ];
  return [
    { name: 'Character', value: cell.text },
    { name: 'HTML', value: `&#x${hex(cell.codePoint)};` },
    { name: 'CSS', value: `\\${hex(cell.codePoint)}` },
    { name: 'Code point', value: `U+${hex(cell.codePoint)}` },
  ];
}

export const cellOf = (codePoint: number): Cell => ({
  key: `c${codePoint}`,
  text: String.fromCodePoint(codePoint),
  codePoint,
  glyph: null,
  feature: null,
  value: 0,
});

/** The rows of the table: groups of code points, then glyphs that only a feature brings up. */
export function rowsOf(found: Characters, grouping: Grouping, scriptTests: readonly Test[], perRow: number): Row[] {
  const out: Row[] = [];
  const add = (heading: string, cells: Cell[]): void => {
    if (cells.length === 0) return;
    out.push({ heading, size: cells.length });
    for (let i = 0; i < cells.length; i += perRow) out.push({ cells: cells.slice(i, i + perRow) });
  };
  const all = (): number[] => found.groups.flatMap((g) => g.codePoints);
  for (const g of grouping === 'block' ? found.groups : groupsOf(all(), grouping, scriptTests)) add(g.name, g.codePoints.map(cellOf));
  const byFeature = new Map<string, Cell[]>();
  for (const v of found.variants) {
    const cell: Cell = { key: `g${v.glyph}`, text: v.text, codePoint: null, glyph: v.glyph, feature: v.feature, value: v.value };
    const cells = byFeature.get(v.feature);
    if (cells) cells.push(cell);
    else byFeature.set(v.feature, [cell]);
  }
  for (const [feature, cells] of byFeature) add(`Without a code point, through the feature ${feature}`, cells);
  return out;
}
