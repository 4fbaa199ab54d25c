import type { Face, OutlineKind } from '../font/index.js';
import type { Paths, Subsetter } from '../engines/index.js';
import type { Change } from '../rights/index.js';
import type { Codec, FontFormat } from '../sfnt/index.js';

/** What steps work with beside the face. */
export interface Tools {
  codec: Codec;
  /** Only needed by steps that cut faces down. */
  subsetter?: Subsetter;
  /** Only needed by steps that work with shapes. */
  paths?: Paths;
}

/** The formats that can be asked for. */
export type TargetFormat = 'ttf' | 'otf' | 'woff' | 'woff2';

/** A face as far as a place cares, so that a way can be planned without touching bytes. */
export interface FaceState {
  format: FontFormat;
  outlines: OutlineKind;
  variable: boolean;
  color: boolean;
}

/** What somebody takes. */
export interface Accepts {
  formats: readonly TargetFormat[];
  /** The format to make when there is a choice. */
  prefer: TargetFormat;
  /** Left out: taken. */
  variable?: 'accepted' | 'refused';
  color?: 'accepted' | 'refused';
}

/** A face on its way: opened, with the file it would go out as. */
export interface Made {
  face: Face;
  format: FontFormat;
  bytes: Uint8Array;
}

/** What was compared before and after, and what differs. */
export interface Comparison {
  equal: boolean;
  /** Differences as sentences; none where the comparison holds. */
  differences: string[];
  /** Outlines compared one by one because their packing may differ. */
  glyphsCompared: number;
  /** Where outlines were made anew: how far they are at most from the old ones, font units, and in which glyph. */
  farthest?: number;
  worstGlyph?: number | null;
  /** What was put right, where that was asked for; sentences. */
  changes?: string[];
}

export type Options = Readonly<Record<string, string | number | boolean | readonly number[]>>;

/** One kind of change of a font file. One file in `steps/`, and a line in its index. */
export interface Step {
  id: string;
  /** Raised whenever it comes out differently, so that what was made before is made anew. */
  version: number;
  /** Which right it needs: what kind of change of the file it is. */
  change: Change;
  /** What it does, for people, in words that follow "It is". */
  label(options: Options): string;
  /** The ways in which it could bring a face nearer to what is accepted, with what the face is afterwards. */
  needs(state: FaceState, accepts: Accepts): { options: Options; after: FaceState }[];
  /** @throws FontError when it cannot be done with this face */
  run(made: Made, options: Options, tools: Tools): Uint8Array;
  /** Shows that nothing was lost that this step promises to keep. */
  prove(before: Face, after: Face, options: Options): Comparison;
}

/** A step with what was chosen for it. */
export interface RecipeStep {
  step: string;
  options: Options;
}
/** A kept list of steps; an empty one leaves the file as it is. */
export type Recipe = readonly RecipeStep[];

/** The state of an opened face. @throws FontError when its axes are damaged */
export function stateOf(face: Face, format: FontFormat): FaceState {
  return { format, outlines: face.outlineKind, variable: face.has('fvar'), color: face.color.length > 0 };
}
