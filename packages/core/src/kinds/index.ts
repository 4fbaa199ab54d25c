/** The form of a typeface. "Display" is a matter of use, not of form, and has a score of its own. */
export const KINDS = ['serif', 'sans', 'handwriting', 'monospaced', 'symbols'] as const;
export type Kind = (typeof KINDS)[number];

/** Kinds as people read them, in the middle of a sentence. */
export const KIND_LABELS: Readonly<Record<Kind, string>> = {
  serif: 'serif',
  sans: 'sans serif',
  handwriting: 'handwriting',
  monospaced: 'monospaced',
  symbols: 'symbols',
};

/** Below this confidence (0 to 1) the application says that it is not sure, and finds nothing by it. */
export const SURE = 0.75;

/** Whether a judgement is to be relied on. @param confidence 0 to 1; 1 where a person said it */
export const isSure = (confidence: number): boolean => confidence >= SURE;

/** Degrees of likeness, the closest first, each from a score (0 to 1, `rankAlike`) upward. */
const LIKENESS = [
  [0.55, 'very alike'],
  [0.3, 'alike'],
  [0.15, 'somewhat alike'],
  [0, 'not much alike'],
] as const;

/** How alike two faces are, in words. @param score 0 to 1, as `rankAlike` gives it */
export const sayLikeness = (score: number): string => (LIKENESS.find(([from]) => score >= from) ?? LIKENESS[3])[1];
