import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeSfnt, type SfntFont } from '../src/sfnt/index.js';

const MODULES = join(process.cwd(), 'node_modules');
const NOTO = '/usr/share/fonts/truetype/noto';

/** Real fonts under open licenses, from the packages the project depends on and Debian's fonts-noto-core. */
export const FONTS = {
  literata: join(MODULES, '@expo-google-fonts/literata/400Regular/Literata_400Regular.ttf'),
  gochiHand: join(MODULES, '@expo-google-fonts/gochi-hand/400Regular/GochiHand_400Regular.ttf'),
  devanagari: join(MODULES, '@expo-google-fonts/noto-sans-devanagari/400Regular/NotoSansDevanagari_400Regular.ttf'),
  scheherazade: join(MODULES, '@expo-google-fonts/scheherazade-new/400Regular/ScheherazadeNew_400Regular.ttf'),
  didot: join(MODULES, '@expo-google-fonts/gfs-didot/400Regular/GFSDidot_400Regular.ttf'),
  serifOtf: join(MODULES, 'source-serif/OTF/SourceSerif4-Regular.otf'),
  serifTtf: join(MODULES, 'source-serif/TTF/SourceSerif4-Regular.ttf'),
  serifVariable: join(MODULES, 'source-serif/VAR/SourceSerif4Variable-Roman.ttf'),
  serifVariableOtf: join(MODULES, 'source-serif/VAR/SourceSerif4Variable-Roman.otf'),
  serifWoff: join(MODULES, 'source-serif/WOFF/OTF/SourceSerif4-Regular.otf.woff'),
  serifWoff2: join(MODULES, 'source-serif/WOFF2/TTF/SourceSerif4-Regular.ttf.woff2'),
  notoSans: join(NOTO, 'NotoSans-Regular.ttf'),
  notoMono: join(NOTO, 'NotoSansMono-Regular.ttf'),
  khmer: join(NOTO, 'NotoSansKhmer-Regular.ttf'),
} as const;

export const readFont = (name: keyof typeof FONTS): Uint8Array => new Uint8Array(readFileSync(FONTS[name]));

/** A copy of a font with one table replaced, added or (null) left out; checksums are right again. */
export function withTable(font: SfntFont, tag: string, data: Uint8Array | null): Uint8Array {
  const tables = new Map(font.tables);
  if (data) tables.set(tag, data);
  else tables.delete(tag);
  return writeSfnt({ ...font, tables });
}

/** A copy of a table with one big-endian 16-bit field changed. */
export function patch16(table: Uint8Array, offset: number, value: number): Uint8Array {
  const copy = new Uint8Array(table);
  new DataView(copy.buffer).setUint16(offset, value);
  return copy;
}

/** Two or more fonts as one TTC that shares nothing. Source: OpenType specification, "Font Collections". */
export function collection(fonts: readonly Uint8Array[]): Uint8Array {
  const head = 12 + 4 * fonts.length;
  const total = head + fonts.reduce((sum, f) => sum + ((f.length + 3) & ~3), 0);
  const out = new Uint8Array(total);
  const view = new DataView(out.buffer);
  out.set([0x74, 0x74, 0x63, 0x66, 0, 1, 0, 0]);
  view.setUint32(8, fonts.length);
  let at = head;
  fonts.forEach((font, i) => {
    view.setUint32(12 + 4 * i, at);
    out.set(font, at);
    const count = view.getUint16(at + 4);
    for (let t = 0; t < count; t++) view.setUint32(at + 12 + 16 * t + 8, view.getUint32(at + 12 + 16 * t + 8) + at);
    at += (font.length + 3) & ~3;
  });
  return out;
}

/** A small deterministic random source (mulberry32), so that a failing mutation can be made again. */
export function random(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
