import { KIND_MODEL } from './data/kind-model.js';
import type { Letters } from './shape.js';
import { measure, type ShapeNumbers } from './shape.js';

/** The form of a typeface. "Display" is a matter of use, not of form, and has a score of its own. */
export const KINDS = ['serif', 'sans', 'handwriting', 'monospaced', 'symbols'] as const;
export type Kind = (typeof KINDS)[number];

/** Below this the application says that it is not sure. */
export const SURE = 0.6;

export interface KindJudgement {
  value: Kind;
  /** 0 to 1. */
  confidence: number;
  /** How much it looks made for large, decorative setting, 0 to 1. */
  decorative: number;
  numbers: ShapeNumbers;
}

/** A multinomial logistic model: means and deviations of the measures, and per class a weight for each and a constant. */
export interface LogisticModel {
  mean: readonly number[];
  deviation: readonly number[];
  weights: readonly (readonly number[])[];
}

/** Probabilities of the classes. Measures that could not be taken count as the mean. */
export function classify(model: LogisticModel, values: readonly number[]): number[] {
  const x = values.map((v, i) => (Number.isFinite(v) ? Math.max(-4, Math.min(4, (v - model.mean[i]!) / model.deviation[i]!)) : 0));
  const sums = model.weights.map((w) => x.reduce((sum, v, i) => sum + v * w[i]!, w[x.length]!));
  const most = Math.max(...sums);
  const powers = sums.map((s) => Math.exp(s - most));
  const total = powers.reduce((a, b) => a + b, 0);
  return powers.map((p) => p / total);
}

/**
 * Judges the kind of a face from its letters. Trained on half of the families named in scripts/data/shape-families.json and
 * checked on the other half (kind.test.ts).
 */
export function judgeKind(letters: Letters): KindJudgement {
  const { values, numbers } = measure(letters);
  const chances = classify(KIND_MODEL.form, values);
  const best = chances.indexOf(Math.max(...chances));
  // Without Latin letters there is little to go by: letters of other scripts are no symbols, and their form is a guess.
  const little = letters.drawn.size < 12;
  const value = little ? (letters.letterShare > 0.3 ? 'sans' : 'symbols') : KINDS[best]!;
  const confidence = !little ? chances[best]! : value === 'symbols' ? 0.95 - letters.letterShare : 0.3;
  return {
    value,
    confidence: Math.round(confidence * 100) / 100,
    decorative: little ? 0 : Math.round(classify(KIND_MODEL.decorative, values)[1]! * 100) / 100,
    numbers,
  };
}
