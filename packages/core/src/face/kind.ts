import { KINDS, type Kind } from '../kinds/index.js';
import { KIND_MODEL } from './data/kind-model.js';
import type { Letters } from './shape.js';
import { measure, type ShapeNumbers } from './shape.js';

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
 * How far the measures of a face may lie from those of the faces the model was trained on, as the root mean square of their
 * deviations, before its answer is a guess: the 97th percentile of one half of the families set aside (kind.test.ts).
 */
const FARTHEST: Readonly<Record<Kind, number>> = { serif: 1.2, sans: 1, handwriting: 2.2, monospaced: 2.2, symbols: 2.6 };
/** Letters of which at least so many must be drawn for the model to have an opinion; it was trained on whole alphabets. */
const ENOUGH = 30;

/** Root mean square of the deviations of the measures that could be taken, in standard deviations of the training faces. */
export function distance(model: LogisticModel, values: readonly number[]): number {
  const squares = values.map((v, i) => (Number.isFinite(v) ? ((v - model.mean[i]!) / model.deviation[i]!) ** 2 : 0));
  return Math.sqrt(squares.reduce((a, b) => a + b, 0) / values.length);
}

/** Kind and confidence by the model; outside what it was trained on the confidence never reaches `SURE`. */
export function formOf(values: readonly number[]): { value: Kind; confidence: number } {
  const chances = classify(KIND_MODEL.form, values);
  const best = chances.indexOf(Math.max(...chances));
  const value = KINDS[best]!;
  return { value, confidence: distance(KIND_MODEL.form, values) <= FARTHEST[value] ? chances[best]! : Math.min(chances[best]!, 0.5) };
}

/**
 * Judges the kind of a face from its letters. Trained on half of the families named in scripts/data/shape-families.json and
 * checked on the other half (kind.test.ts).
 */
export function judgeKind(letters: Letters): KindJudgement {
  const { values, numbers } = measure(letters);
  // Without Latin letters there is little to go by: letters of other scripts are no symbols, and their form is a guess.
  const little = letters.drawn.size < ENOUGH;
  const symbols = letters.letterShare <= 0.05;
  const { value, confidence } = little
    ? { value: symbols ? ('symbols' as const) : ('sans' as const), confidence: symbols ? 0.95 - letters.letterShare : 0.3 }
    : formOf(values);
  return {
    value,
    confidence: Math.round(confidence * 100) / 100,
    decorative: little ? 0 : Math.round(classify(KIND_MODEL.decorative, values)[1]! * 100) / 100,
    numbers,
  };
}
