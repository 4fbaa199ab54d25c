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
  hb_subset_or_fail(face: number, input: number): number;
}

const MEMORY_MODE_WRITABLE = 2;
const SETS_LAYOUT_FEATURE_TAG = 6;
const FLAG_NO_HINTING = 0x1;

/** Cuts a font down to what some text needs; made once from HarfBuzz's WebAssembly, used for many fonts. */
export interface Subsetter {
  /**
   * @param sfnt a whole TTF, OTF or TTC file (not WOFF)
   * @param codePoints what must still be set; glyphs reached through layout features are kept
   * @returns an sfnt with the same layout features and axes, without hinting
   * @throws FontError('unsupported') when HarfBuzz cannot read the font
   */
  subset(sfnt: Uint8Array, faceIndex: number, codePoints: Iterable<number>): Uint8Array;
}

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
  return {
    subset(sfnt, faceIndex, codePoints) {
      const data = hb.malloc(sfnt.length);
      let input = 0;
      let face = 0;
      let result = 0;
      try {
        heap().set(sfnt, data);
        const blob = hb.hb_blob_create(data, sfnt.length, MEMORY_MODE_WRITABLE, 0, 0);
        face = hb.hb_face_create(blob, faceIndex);
        hb.hb_blob_destroy(blob);
        input = hb.hb_subset_input_create_or_fail();
        const features = hb.hb_subset_input_set(input, SETS_LAYOUT_FEATURE_TAG);
        hb.hb_set_clear(features);
        hb.hb_set_invert(features);
        hb.hb_subset_input_set_flags(input, hb.hb_subset_input_get_flags(input) | FLAG_NO_HINTING);
        const unicodes = hb.hb_subset_input_unicode_set(input);
        for (const codePoint of codePoints) hb.hb_set_add(unicodes, codePoint);
        result = hb.hb_subset_or_fail(face, input);
        if (result === 0) throw new FontError('unsupported', 'The face cannot be drawn here: its tables do not hold together.');
        const out = hb.hb_face_reference_blob(result);
        const length = hb.hb_blob_get_length(out);
        const start = hb.hb_blob_get_data(out, 0);
        const bytes = heap().slice(start, start + length);
        hb.hb_blob_destroy(out);
        if (bytes.length === 0) throw new FontError('unsupported', 'The face cannot be drawn here: its tables do not hold together.');
        return bytes;
      } finally {
        if (result !== 0) hb.hb_face_destroy(result);
        if (input !== 0) hb.hb_subset_input_destroy(input);
        if (face !== 0) hb.hb_face_destroy(face);
        hb.free(data);
      }
    },
  };
}
