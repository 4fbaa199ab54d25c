import { opticalOrder, weightWord, widthWord, type Naming } from './naming.js';

export interface StyledFace extends Pick<Naming, 'weightClass' | 'widthClass' | 'slope' | 'opticalSize'> {
  id: string;
  style: string;
  variable: boolean;
}

/** The styles of a family in rows of weight and columns of width, slope and optical size. */
export interface StyleTable {
  columns: { label: string; widthClass: number; slope: Naming['slope']; opticalSize: string | null }[];
  rows: { label: string; weightClass: number; cells: string[][] }[];
  /** Faces with axes, which stand for many styles at once. */
  variable: string[];
}

const SLOPES: readonly Naming['slope'][] = ['upright', 'italic', 'oblique'];

/** Lays the faces of a family out: statics by weight, width, slope and optical size; a cell with several faces holds doubles. */
export function styleTable(faces: readonly StyledFace[]): StyleTable {
  const statics = faces.filter((f) => !f.variable);
  const columns = new Map<string, StyleTable['columns'][number]>();
  const keyOf = (f: StyledFace): string => `${f.widthClass}|${f.opticalSize ?? ''}|${f.slope}`;
  for (const f of statics)
    if (!columns.has(keyOf(f))) columns.set(keyOf(f), { label: '', widthClass: f.widthClass, slope: f.slope, opticalSize: f.opticalSize });
  const sorted = [...columns].sort(
    ([, a], [, b]) =>
      a.widthClass - b.widthClass ||
      opticalOrder(a.opticalSize) - opticalOrder(b.opticalSize) ||
      (a.opticalSize ?? '').localeCompare(b.opticalSize ?? '') ||
      SLOPES.indexOf(a.slope) - SLOPES.indexOf(b.slope),
  );
  const slope = (s: Naming['slope']): string => s[0]!.toUpperCase() + s.slice(1);
  for (const [, column] of sorted)
    column.label = [column.widthClass === 5 ? '' : widthWord(column.widthClass), column.opticalSize ?? '', slope(column.slope)]
      .filter(Boolean)
      .join(' ');
  const weights = [...new Set(statics.map((f) => f.weightClass))].sort((a, b) => a - b);
  return {
    columns: sorted.map(([, column]) => column),
    rows: weights.map((weightClass) => ({
      label: weightWord(weightClass),
      weightClass,
      cells: sorted.map(([key]) => statics.filter((f) => f.weightClass === weightClass && keyOf(f) === key).map((f) => f.id)),
    })),
    variable: faces.filter((f) => f.variable).map((f) => f.id),
  };
}
