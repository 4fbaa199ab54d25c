import { FontError } from '../sfnt/index.js';

/** The calls of HarfBuzz's subset library that we use. Source: HarfBuzz API reference, hb-subset. */
interface SubsetExports {
  memory: WebAssembly.Memory;
  _initialize?(): void;
  malloc(size: number): number;
  free(pointer: number): void;
  hb_blob_create(data: number, length: number, mode: number, user: number, destroy: number): number;
  hb_blob_destroy(blob: number): void;
  hb_blob_get_data(blob: number, length: number): number;
  hb_blob_get_length(blob: number): number;
  hb_face_create(blob: number, index: number): number;
  hb_face_destroy(face: number): void;
  hb_face_reference_blob(face: number): number;
  hb_set_clear(set: number): void;
  hb_set_invert(set: number): void;
  hb_set_add(set: number, value: number): void;
  hb_set_add_range(set: number, first: number, last: number): void;
  hb_subset_input_create_or_fail(): number;
  hb_subset_input_destroy(input: number): void;
  hb_subset_input_unicode_set(input: number): number;
  hb_subset_input_set(input: number, kind: number): number;
  hb_subset_input_get_flags(input: number): number;
  hb_subset_input_set_flags(input: number, flags: number): void;
  hb_subset_input_keep_everything(input: number): void;
  hb_subset_input_pin_axis_location(input: number, face: number, tag: number, value: number): number;
  hb_subset_input_set_axis_range(input: number, face: number, tag: number, min: number, max: number, standard: number): number;
  hb_subset_or_fail(face: number, input: number): number;
}

const MEMORY_MODE_WRITABLE = 2;
const SETS_LAYOUT_FEATURE_TAG = 6;
const SETS_NAME_ID = 4;
const FLAG_NO_HINTING = 0x1;
const FLAG_NOTDEF_OUTLINE = 0x40;

/** What is to be left of a face. */
export interface Cut {
  /** Characters that must still be set; glyphs reached through kept features stay. Left out: every glyph stays, with its number. */
  codePoints?: Iterable<number>;
  /** OpenType tags of the features that stay; left out: all of them. */
  features?: readonly string[];
  /** Axes that are fixed at a value, by tag. */
  pins?: ReadonlyMap<string, number>;
  /** Axes that keep a part of their range: lowest, highest, default. */
  ranges?: ReadonlyMap<string, readonly [number, number, number]>;
  /** Whether instructions stay. */
  hints?: boolean;
}

/** Cuts a font down to what some text needs; made once from HarfBuzz's WebAssembly, used for many fonts. */
export interface Subsetter {
  /**
   * @param sfnt a whole TTF, OTF or TTC file (not WOFF)
   * @param codePoints what must still be set; glyphs reached through layout features are kept
   * @returns an sfnt with the same layout features and axes, without hinting
   * @throws FontError('unsupported') when HarfBuzz cannot read the font
   */
  subset(sfnt: Uint8Array, faceIndex: number, codePoints: Iterable<number>): Uint8Array;
  /**
   * The same with more choice.
   * @throws FontError('unsupported') when HarfBuzz cannot read the font or has no memory left for it, 'does-not-fit' when the
   * face has no such axis
   */
  cut(sfnt: Uint8Array, faceIndex: number, what: Cut): Uint8Array;
}

const tagNumber = (tag: string): number => [...tag.padEnd(4).slice(0, 4)].reduce((n, c) => ((n << 8) | (c.charCodeAt(0) & 0xff)) >>> 0, 0);

/**
 * Loads HarfBuzz's subsetter.
 * @param wasm the bytes of its WebAssembly module
 */
export async function createSubsetter(wasm: Uint8Array): Promise<Subsetter> {
  const { instance } = (await WebAssembly.instantiate(wasm as BufferSource)) as WebAssembly.WebAssemblyInstantiatedSource;
  const hb = instance.exports as unknown as SubsetExports;
  hb._initialize?.();
  // The memory may grow at any call, which detaches older views.
  const heap = (): Uint8Array => new Uint8Array(hb.memory.buffer);
  const cut = (sfnt: Uint8Array, faceIndex: number, what: Cut): Uint8Array => {
    const data = hb.malloc(sfnt.length);
    if (data === 0) throw new FontError('unsupported', 'The face is too large to be cut down here.');
    let input = 0;
    let face = 0;
    let result = 0;
    try {
      heap().set(sfnt, data);
      const blob = hb.hb_blob_create(data, sfnt.length, MEMORY_MODE_WRITABLE, 0, 0);
      face = hb.hb_face_create(blob, faceIndex);
      hb.hb_blob_destroy(blob);
      input = hb.hb_subset_input_create_or_fail();
      if (what.codePoints) {
        const unicodes = hb.hb_subset_input_unicode_set(input);
        for (const codePoint of what.codePoints) hb.hb_set_add(unicodes, codePoint);
      } else hb.hb_subset_input_keep_everything(input);
      const features = hb.hb_subset_input_set(input, SETS_LAYOUT_FEATURE_TAG);
      hb.hb_set_clear(features);
      if (what.features) for (const tag of what.features) hb.hb_set_add(features, tagNumber(tag));
      else hb.hb_set_invert(features);
      let flags = hb.hb_subset_input_get_flags(input);
      if (!what.hints) flags |= FLAG_NO_HINTING;
      if (what.pins || what.ranges) {
        // Names of all IDs: the caller gives the face its own afterwards.
        const names = hb.hb_subset_input_set(input, SETS_NAME_ID);
        hb.hb_set_clear(names);
        hb.hb_set_invert(names);
        flags |= FLAG_NOTDEF_OUTLINE;
      }
      hb.hb_subset_input_set_flags(input, flags);
      for (const [tag, value] of what.pins ?? [])
        if (!hb.hb_subset_input_pin_axis_location(input, face, tagNumber(tag), value)) throw noAxis(tag);
      for (const [tag, [min, max, standard]] of what.ranges ?? [])
        if (!hb.hb_subset_input_set_axis_range(input, face, tagNumber(tag), min, max, standard)) throw noAxis(tag);
      result = hb.hb_subset_or_fail(face, input);
      if (result === 0) throw new FontError('unsupported', BROKEN);
      const out = hb.hb_face_reference_blob(result);
      const length = hb.hb_blob_get_length(out);
      const start = hb.hb_blob_get_data(out, 0);
      const bytes = heap().slice(start, start + length);
      hb.hb_blob_destroy(out);
      if (bytes.length === 0) throw new FontError('unsupported', BROKEN);
      return bytes;
    } finally {
      if (result !== 0) hb.hb_face_destroy(result);
      if (input !== 0) hb.hb_subset_input_destroy(input);
      if (face !== 0) hb.hb_face_destroy(face);
      hb.free(data);
    }
  };
  return { cut, subset: (sfnt, faceIndex, codePoints) => cut(sfnt, faceIndex, { codePoints }) };
}

const BROKEN = 'The face cannot be drawn here: its tables do not hold together, or it is too large.';
const noAxis = (tag: string): FontError => new FontError('does-not-fit', `The face has no axis “${tag}”.`, { table: 'fvar' });
