import { openFont, type Face } from '../font/index.js';
import { FontError, type Codec, type FontFormat } from '../sfnt/index.js';
import { COVERAGE } from './coverage.js';
import { making, type Derived, type Given } from './derived.js';
import { FACTS } from './facts.js';
import { KIND } from './kind.js';
import { LIKENESS } from './likeness.js';
import { LINE } from './line.js';
import { NAMING } from './naming.js';
import { PRINTS } from './prints.js';
import { SHAPES } from './shapes.js';

export { COVERAGE, FACTS, KIND, LIKENESS, LINE, NAMING, PRINTS, SHAPES };
export { making, type Derived, type Given, type Made as MadeFacts } from './derived.js';
export type { LineFacts } from './line.js';

/** Every fact that is kept of a face; the first says what it is. */
export const DERIVED: readonly Derived<unknown>[] = [FACTS, COVERAGE, KIND, LIKENESS, PRINTS, NAMING, LINE, SHAPES];

/** Values by the fact's id; null for one the face is too damaged for. */
export type DerivedValues = Readonly<Record<string, unknown>>;

/**
 * The facts of one face, all or those of some ids.
 * @throws FontError when the face is too damaged to say what it is
 */
export function derive(face: Face, given: Given, facts: readonly Derived<unknown>[] = DERIVED): DerivedValues {
  const made = making(face, given);
  return Object.fromEntries(
    facts.map((fact) => {
      try {
        return [fact.id, made.of(fact)];
      } catch (error) {
        if (!(error instanceof FontError) || fact === (FACTS as Derived<unknown>)) throw error;
        return [fact.id, null];
      }
    }),
  );
}

/** A file read through: its format, and the facts of each of its faces. */
export interface Inspection {
  format: FontFormat;
  faces: DerivedValues[];
}

/**
 * Opens a file once and makes the facts of all its faces.
 * @param ids which facts; all of them when left out
 * @throws FontError when it is no font, or one of its faces is too damaged to say what it is
 */
export function inspect(bytes: Uint8Array, codec: Codec, given: Given, ids?: readonly string[]): Inspection {
  const { format, faces } = openFont(bytes, codec);
  const facts = ids ? DERIVED.filter((d) => ids.includes(d.id)) : DERIVED;
  return { format, faces: faces.map((face) => derive(face, given, facts)) };
}

/** A fact out of values that were kept; null when it is not among them. */
export const valueOf = <T>(values: DerivedValues, fact: Derived<T>): T | null => (values[fact.id] as T | undefined) ?? null;
