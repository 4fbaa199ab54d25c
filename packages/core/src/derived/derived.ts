import type { Face } from '../font/index.js';

/** What a fact may be made from beside the face itself. */
export interface Given {
  /** The name the file came under; faces without names of their own are called by it. */
  fileName: string;
}

/** Facts that others are made from, each made once. */
export interface Made {
  face: Face;
  given: Given;
  /** @throws FontError as the fact does */
  of<T>(fact: Derived<T>): T;
}

/** A fact that follows from a face and can be computed anew at any time. One file, and a line in the index. */
export interface Derived<T> {
  id: string;
  /** Raised whenever it comes out differently: faces with an older one are read again, for this fact alone. */
  version: number;
  /**
   * @throws FontError when the face is too damaged; the first fact, which says what a face is, is then refused with its file,
   * any other is null
   */
  from(made: Made): T;
}

/** Makes facts of a face, each once however many others are made from it. */
export function making(face: Face, given: Given): Made {
  const known = new Map<Derived<unknown>, unknown>();
  const made: Made = {
    face,
    given,
    of<T>(fact: Derived<T>): T {
      if (!known.has(fact as Derived<unknown>)) known.set(fact as Derived<unknown>, fact.from(made));
      return known.get(fact as Derived<unknown>) as T;
    },
  };
  return made;
}
