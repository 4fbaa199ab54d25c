import { ALIKE_MODEL } from './data/alike-model.js';
import { RAW_LENGTH } from './descriptor.js';

/** A linear map from raw descriptors to the space where distance means unlikeness. */
export interface AlikeModel {
  /** Mean of each raw value, in 127ths. */
  mean: string;
  /** `dimensions` rows of `RAW_LENGTH` signed bytes, base64; each row times its scale. */
  matrix: string;
  scales: readonly number[];
}

/** Where a face stands among all: 48 numbers in hundredths. Faces of one family stand close, whatever their weight. */
export type Likeness = number[];

interface Opened {
  mean: Int8Array;
  rows: Int8Array[];
}
let opened: Opened | null = null;

function fromBase64(text: string): Int8Array {
  const binary = atob(text);
  return Int8Array.from({ length: binary.length }, (_, i) => binary.charCodeAt(i));
}

function open(): Opened {
  if (!opened) {
    const matrix = fromBase64(ALIKE_MODEL.matrix);
    opened = {
      mean: fromBase64(ALIKE_MODEL.mean),
      rows: ALIKE_MODEL.scales.map((_, i) => matrix.subarray(i * RAW_LENGTH, (i + 1) * RAW_LENGTH)),
    };
  }
  return opened;
}

/**
 * Puts a face into the space of likeness by the raw descriptor of its letters; null when it has fewer than a third of them.
 * The map takes the directions in which letters of different families differ (principal components) and plays down those
 * in which weights of one family differ (within-class covariance normalization, A. Hatch et al., Interspeech 2006).
 */
export function likenessOf(raw: Float32Array): Likeness | null {
  const { mean, rows } = open();
  const x = new Float32Array(RAW_LENGTH);
  let known = 0;
  for (let i = 0; i < RAW_LENGTH; i++)
    if (Number.isFinite(raw[i]!)) {
      x[i] = raw[i]! - mean[i]! / 127;
      known++;
    }
  if (known < RAW_LENGTH / 3) return null;
  return rows.map((row, k) => Math.round(dot(row, x) * ALIKE_MODEL.scales[k]! * 100));
}

function dot(a: Int8Array, b: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}

/** Unlikeness of two faces; about 4 to 8 among weights of one family, 20 to 35 between strangers. */
export function distance(a: Likeness, b: Likeness): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += (a[i]! - b[i]!) ** 2;
  return Math.sqrt(sum) / 100;
}

export interface Ranked<T> {
  item: T;
  distance: number;
  /** 1 for the same letters, towards 0 for unlike ones. */
  score: number;
}

/** Sorts candidates by likeness to one face, nearest first. */
export function rankAlike<T>(face: Likeness, candidates: Iterable<{ item: T; likeness: Likeness }>): Ranked<T>[] {
  const out: Ranked<T>[] = [];
  for (const { item, likeness } of candidates) {
    const d = distance(face, likeness);
    out.push({ item, distance: d, score: Math.round(1000 * Math.exp(-d / FALL)) / 1000 });
  }
  return out.sort((a, b) => a.distance - b.distance);
}

/** The distance at which the score has fallen to 1/e. */
const FALL = 10;
