import type { Candidate, PictureEdit, Sureness } from '@orderly-glyph/schema';

export interface PictureBox {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}
export type Color = readonly [number, number, number];

/** A picture after its edits, and what of it is ink. */
export interface PreparedPicture {
  width: number;
  height: number;
  /** Red, green, blue, alpha. */
  picture: Uint8ClampedArray;
  /** A byte a px, 255 for ink. */
  ink: Uint8ClampedArray;
  ground: Color;
  color: Color;
  parts: number;
  lines: PictureBox[];
  ladder: { level: number; parts: number }[];
}

export interface ReadLetters {
  letters: { box: PictureBox | null; guesses: string[] }[];
  /** Whether it is compared as one shape unless somebody says otherwise. */
  asWord: boolean;
}

export interface FinderAnswer {
  sureness: Sureness;
  asWord: boolean;
  /** ms */
  took: number;
  letters: number;
  /** By how much the line is turned by the letters of the best face, degrees clockwise. */
  turned: number;
  faces: number;
  families: (Candidate & { outline: string })[];
}

interface Asked {
  without: readonly number[];
  asWord: boolean | null;
  stretched: boolean;
  slanted: boolean;
}
interface InkWish {
  ground?: Color | null;
  ink?: Color | null;
  level?: number;
  specks?: number;
  pinholes?: number;
}

/** What the worker does. */
export interface FinderTasks {
  addShapes: (pack: ArrayBuffer) => number;
  setPicture: (picture: { width: number; height: number; data: Uint8ClampedArray }) => void;
  prepare: (edits: readonly PictureEdit[], wish: InkWish, ladder: boolean) => PreparedPicture;
  readLetters: (word: string) => ReadLetters;
  search: (asked: Asked) => FinderAnswer;
  searchShaped: (words: readonly { faceId: string; polygons: number[][] }[], asked: Asked) => FinderAnswer | null;
  trace: (color: string) => string;
  keptInk: () => { width: number; height: number; values: Uint8Array } | null;
}
