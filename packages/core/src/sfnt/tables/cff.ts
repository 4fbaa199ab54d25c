import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { Writer } from '../writer.js';
import { blockOf, pack, readWhole, type Table } from '../declare/index.js';
import { DICT, operand, readDict, readIndex, writeDict, writeIndex, type CffDict, type CffIndex } from './cff-parts.js';
import { CFF_STANDARD_STRINGS } from './glyph-names.js';
import { itemVariationStore, type ItemVariationStore } from './variations.js';

/** Values of one kind of glyph: stems, alignment zones and the parts its programs call. */
export interface PrivateDict {
  dict: CffDict;
  subrs: Uint8Array[];
}

/** One font of a table that holds several, or the only one. */
export interface FontDict {
  /** Without Private, which is `privateDict`. Empty in a font that is not CID-keyed. */
  dict: CffDict;
  privateDict: PrivateDict | null;
}

/** Codes of glyphs where no cmap says better. */
export type CffEncoding = 0 | 1 | { codes: number[]; supplements: { code: number; name: string }[] };

/** A CFF table with one font. Programs are kept as they are. Source: Adobe Technical Note 5176. */
export interface Cff {
  majorVersion: number;
  minorVersion: number;
  name: string;
  /** Without what follows from the rest: offsets, charset, encoding. */
  topDict: CffDict;
  /** Texts of the dictionary by operator: notices and names. */
  texts: Map<number, string>;
  /** CID-keyed fonts only. */
  ros: { registry: string; ordering: string; supplement: number } | null;
  /** Names of glyphs, .notdef first; CIDs as numbers in CID-keyed fonts. */
  charset: (string | number)[];
  encoding: CffEncoding | null;
  globalSubrs: Uint8Array[];
  charStrings: Uint8Array[];
  fontDicts: FontDict[];
  /** Which of the font dictionaries each glyph belongs to; null when there is one. */
  fdSelect: Uint16Array | null;
}

const TEXT_OPERATORS: readonly number[] = [
  DICT.version,
  DICT.Notice,
  DICT.FullName,
  DICT.FamilyName,
  DICT.Weight,
  DICT.Copyright,
  DICT.PostScript,
  DICT.BaseFontName,
  DICT.FontName,
];
const COMPUTED: readonly number[] = [
  DICT.charset,
  DICT.Encoding,
  DICT.CharStrings,
  DICT.Private,
  DICT.FDArray,
  DICT.FDSelect,
  DICT.ROS,
  DICT.vstore,
  DICT.Subrs,
];
const OFFSETS: ReadonlySet<number> = new Set(COMPUTED.filter((o) => o !== DICT.ROS));

const bad = (message: string): FontError => new FontError('bad-table', message, { table: 'CFF ' });
const all = (index: CffIndex): Uint8Array[] => Array.from({ length: index.count }, (_, i) => index.get(i));
/** Piece by piece, since a call takes no more arguments than fit on the stack. */
function latin1(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 4096) text += String.fromCharCode(...bytes.subarray(i, i + 4096));
  return text;
}
const fromLatin1 = (text: string): Uint8Array => Uint8Array.from(text, (c) => c.charCodeAt(0));
const plain = (dict: CffDict): CffDict => new Map([...dict].filter(([o]) => !COMPUTED.includes(o) && !TEXT_OPERATORS.includes(o)));

// Predefined charsets as runs of SIDs. Source: Technical Note 5176, appendix C.
const EXPERT = '0-1 229-238 13-15 99 239-248 27-28 249-266 109-110 267-318 158 155 163 319-326 150 164 169 327-378';
const EXPERT_SUBSET =
  '0-1 231-232 235-238 13-15 99 239-248 27-28 249-251 253-266 109-110 267-270 272 300-302 305 314-315 158 155 163 320-326 150 164 169 327-346';
const sids = (runs: string): number[] =>
  runs.split(' ').flatMap((run) => {
    const [first, last = first] = run.split('-').map(Number) as [number, number?];
    return Array.from({ length: last - first + 1 }, (_, i) => first + i);
  });
const PREDEFINED: readonly (readonly number[])[] = [sids('0-228'), sids(EXPERT), sids(EXPERT_SUBSET)];

function readPrivate(r: Reader, dict: CffDict, isCff2: boolean): PrivateDict | null {
  const size = operand(dict, DICT.Private, 0);
  const at = operand(dict, DICT.Private, 1);
  if (size === undefined || at === undefined) return null;
  const own = readDict(r.slice(at, size));
  const subrs = operand(own, DICT.Subrs);
  return { dict: plain(own), subrs: subrs === undefined ? [] : all(readIndex(r, at + subrs, isCff2)) };
}

function readFdSelect(r: Reader, at: number | undefined, glyphCount: number): Uint16Array | null {
  if (at === undefined) return null;
  const format = r.u8(at);
  if (format === 0) return Uint16Array.from({ length: glyphCount }, (_, i) => r.u8(at + 1 + i));
  if (format !== 3 && format !== 4) throw bad('The CFF table assigns glyphs in an unknown way.');
  const wide = format === 4;
  const ranges = wide ? r.u32(at + 1) : r.u16(at + 1);
  const step = wide ? 6 : 3;
  const first = at + (wide ? 5 : 3);
  r.need(first, ranges * step);
  const fds = new Uint16Array(glyphCount);
  const start = (i: number): number => (wide ? r.u32(first + i * step) : r.u16(first + i * step));
  for (let i = 0; i < ranges; i++)
    fds.fill(wide ? r.u16(first + i * step + 4) : r.u8(first + i * step + 2), start(i), i + 1 < ranges ? start(i + 1) : glyphCount);
  return fds;
}

function writeFdSelect(fds: Uint16Array, wide: boolean): Uint8Array {
  const ranges: [number, number][] = [];
  fds.forEach((fd, i) => {
    if (ranges[ranges.length - 1]?.[1] !== fd) ranges.push([i, fd]);
  });
  const w = new Writer();
  w.u8(wide ? 4 : 3);
  if (wide) w.u32(ranges.length);
  else w.u16(ranges.length);
  for (const [first, fd] of ranges) {
    if (wide) {
      w.u32(first);
      w.u16(fd);
    } else {
      w.u16(first);
      w.u8(fd);
    }
  }
  if (wide) w.u32(fds.length);
  else w.u16(fds.length);
  return w.done();
}

export const CFF: Table<Cff> = {
  tag: 'CFF ',
  read(data) {
    const r = new Reader(data, 'CFF ');
    const names = readIndex(r, r.u8(2), false);
    const tops = readIndex(r, names.end, false);
    const strings = readIndex(r, tops.end, false);
    const globals = readIndex(r, strings.end, false);
    if (tops.count !== 1) throw bad('The CFF table holds another number of fonts than one.');
    const top = readDict(tops.get(0));
    const textOf = (sid: unknown): string => {
      if (typeof sid !== 'number' || !Number.isInteger(sid) || sid < 0) throw bad('The CFF table names a text that cannot be there.');
      return CFF_STANDARD_STRINGS[sid] ?? latin1(strings.get(sid - CFF_STANDARD_STRINGS.length));
    };
    const texts = (dict: CffDict): Map<number, string> =>
      new Map([...dict].filter(([o, v]) => TEXT_OPERATORS.includes(o) && typeof v[0] === 'number').map(([o, v]) => [o, textOf(v[0])]));
    const charStrings = readIndex(r, operand(top, DICT.CharStrings) ?? -1, false);
    const ros = top.get(DICT.ROS);
    const charset = readCharset(r, operand(top, DICT.charset) ?? 0, charStrings.count);
    const fdArray = operand(top, DICT.FDArray);
    const fonts = fdArray === undefined ? null : all(readIndex(r, fdArray, false)).map((d) => readDict(d));
    return {
      majorVersion: r.u8(0),
      minorVersion: r.u8(1),
      name: names.count > 0 ? latin1(names.get(0)) : '',
      topDict: plain(top),
      texts: texts(top),
      ros: ros ? { registry: textOf(ros[0]), ordering: textOf(ros[1]), supplement: operand(top, DICT.ROS, 2) ?? 0 } : null,
      charset: ros ? charset : charset.map(textOf),
      encoding: ros ? null : readEncoding(r, operand(top, DICT.Encoding) ?? 0, textOf),
      globalSubrs: all(globals),
      charStrings: all(charStrings),
      fontDicts: fonts
        ? fonts.map((dict) => ({ dict: keepTexts(dict, texts(dict)), privateDict: readPrivate(r, dict, false) }))
        : [{ dict: new Map(), privateDict: readPrivate(r, top, false) }],
      fdSelect: readFdSelect(r, operand(top, DICT.FDSelect), charStrings.count),
    };
  },
  write: writeCff,
};

/** A font dictionary only has its name as text, which is kept as its characters. */
function keepTexts(dict: CffDict, texts: Map<number, string>): CffDict {
  const out = plain(dict);
  for (const [operator, text] of texts) out.set(operator, [...fromLatin1(text)]);
  return out;
}

function readCharset(r: Reader, at: number, glyphCount: number): number[] {
  const known = PREDEFINED[at];
  if (known) {
    if (glyphCount > known.length) throw bad('The CFF table names fewer glyphs than it has.');
    return known.slice(0, glyphCount);
  }
  const format = r.u8(at);
  const out = [0];
  if (format === 0) for (let i = 1; i < glyphCount; i++) out.push(r.u16(at + 1 + 2 * (i - 1)));
  else if (format === 1 || format === 2)
    for (let p = at + 1; out.length < glyphCount; p += format === 1 ? 3 : 4) {
      const first = r.u16(p);
      const left = format === 1 ? r.u8(p + 2) : r.u16(p + 2);
      for (let i = 0; i <= left && out.length < glyphCount; i++) out.push(first + i);
    }
  else throw bad('The CFF table names its glyphs in an unknown way.');
  return out;
}

function readEncoding(r: Reader, at: number, textOf: (sid: number) => string): CffEncoding {
  if (at === 0 || at === 1) return at;
  const format = r.u8(at);
  const codes: number[] = [];
  let p = at + 2;
  for (let i = 0; i < r.u8(at + 1); i++) {
    if ((format & 0x7f) === 0) codes.push(r.u8(p++));
    else {
      for (let k = 0; k <= r.u8(p + 1); k++) codes.push(r.u8(p) + k);
      p += 2;
    }
  }
  const supplements: { code: number; name: string }[] = [];
  if (format & 0x80) for (let i = 0; i < r.u8(p); i++) supplements.push({ code: r.u8(p + 1 + 3 * i), name: textOf(r.u16(p + 2 + 3 * i)) });
  return { codes, supplements };
}

const STANDARD_SIDS = new Map(CFF_STANDARD_STRINGS.map((s, i) => [s, i]));

/** Texts by number: the standard ones, and those of this font behind them. */
class Strings {
  readonly own: string[] = [];
  private readonly known = new Map<string, number>();
  sid(text: string): number {
    let sid = STANDARD_SIDS.get(text) ?? this.known.get(text);
    if (sid === undefined) {
      sid = CFF_STANDARD_STRINGS.length + this.own.length;
      if (sid > 64999) throw new FontError('does-not-fit', 'A CFF table cannot hold so many names.', { table: 'CFF ' });
      this.own.push(text);
      this.known.set(text, sid);
    }
    return sid;
  }
}

function writeCharset(ids: readonly number[]): Uint8Array {
  const runs: [first: number, left: number][] = [];
  for (const id of ids.slice(1)) {
    const last = runs[runs.length - 1];
    if (last && last[0] + last[1] + 1 === id) last[1]++;
    else runs.push([id, 0]);
  }
  const w = new Writer();
  const short = runs.reduce((sum, [, left]) => sum + 3 * Math.ceil((left + 1) / 256), 0);
  if (4 * runs.length < Math.min(short, 2 * ids.length)) {
    w.u8(2);
    for (const [first, left] of runs) {
      w.u16(first);
      w.u16(left);
    }
  } else if (short < 2 * ids.length) {
    w.u8(1);
    for (const [first, left] of runs)
      for (let i = 0; i <= left; i += 256) {
        w.u16(first + i);
        w.u8(Math.min(255, left - i));
      }
  } else {
    w.u8(0);
    for (const id of ids.slice(1)) w.u16(id);
  }
  return w.done();
}

function writeEncoding({ codes, supplements }: Exclude<CffEncoding, 0 | 1>, strings: Strings): Uint8Array {
  const w = new Writer();
  w.u8(supplements.length > 0 ? 0x80 : 0);
  w.u8(codes.length);
  for (const code of codes) w.u8(code);
  if (supplements.length > 0) {
    w.u8(supplements.length);
    for (const { code, name } of supplements) {
      w.u8(code);
      w.u16(strings.sid(name));
    }
  }
  return w.done();
}

/** A private dictionary with the parts its programs call right behind it. */
function writePrivate({ dict, subrs }: PrivateDict, isCff2: boolean): { bytes: Uint8Array; size: number } {
  const full: CffDict = new Map(dict);
  if (subrs.length > 0) full.set(DICT.Subrs, [0]);
  const size = writeDict(full, OFFSETS).length;
  if (subrs.length > 0) full.set(DICT.Subrs, [size]);
  const w = new Writer();
  w.put(writeDict(full, OFFSETS));
  if (subrs.length > 0) writeIndex(w, subrs, isCff2);
  return { bytes: w.done(), size };
}

function writeCff(cff: Cff): Uint8Array {
  const strings = new Strings();
  const ids = cff.charset.map((name) => (typeof name === 'number' ? name : strings.sid(name)));
  const predefined = cff.ros ? -1 : PREDEFINED.findIndex((known) => ids.length <= known.length && ids.every((id, i) => id === known[i]));
  const top: CffDict = new Map();
  // The operator that makes it a CID-keyed font comes first, as section 9 wants it.
  if (cff.ros) top.set(DICT.ROS, [strings.sid(cff.ros.registry), strings.sid(cff.ros.ordering), cff.ros.supplement]);
  for (const [operator, text] of cff.texts) top.set(operator, [strings.sid(text)]);
  for (const [operator, operands] of cff.topDict) top.set(operator, operands);
  const parts: { operator: number; bytes: Uint8Array; operands(at: number): number[] }[] = [];
  const at = (operator: number, bytes: Uint8Array): void => {
    parts.push({ operator, bytes, operands: (where) => [where] });
  };
  if (predefined < 0) at(DICT.charset, writeCharset(ids));
  else if (predefined > 0) top.set(DICT.charset, [predefined]);
  if (cff.encoding !== null && typeof cff.encoding === 'object') at(DICT.Encoding, writeEncoding(cff.encoding, strings));
  else if (cff.encoding === 1) top.set(DICT.Encoding, [1]);
  if (cff.fdSelect) at(DICT.FDSelect, writeFdSelect(cff.fdSelect, false));
  const charStrings = new Writer();
  writeIndex(charStrings, cff.charStrings, false);
  at(DICT.CharStrings, charStrings.done());
  const privates = cff.fontDicts.map((f) => (f.privateDict ? writePrivate(f.privateDict, false) : null));
  if (!cff.ros && privates[0]) {
    const { bytes, size } = privates[0];
    parts.push({ operator: DICT.Private, bytes, operands: (where) => [size, where] });
  }
  const fontDicts = cff.fontDicts.map(({ dict }) => {
    const out: CffDict = new Map(dict);
    const name = out.get(DICT.FontName) as number[] | undefined;
    if (name) out.set(DICT.FontName, [strings.sid(latin1(Uint8Array.from(name)))]);
    return out;
  });
  // Every offset takes five bytes, so a first writing tells how long all is, and a second one fills the offsets in.
  const compose = (
    places: ReadonlyMap<number, number[]>,
    privateAt: readonly number[],
  ): { bytes: Uint8Array; places: Map<number, number[]>; privateAt: number[] } => {
    for (const { operator } of parts) top.set(operator, places.get(operator) ?? (operator === DICT.Private ? [0, 0] : [0]));
    if (cff.ros) top.set(DICT.FDArray, places.get(DICT.FDArray) ?? [0]);
    const w = new Writer();
    w.u8(cff.majorVersion);
    w.u8(cff.minorVersion);
    w.u8(4);
    w.u8(4);
    writeIndex(w, [fromLatin1(cff.name)], false);
    writeIndex(w, [writeDict(top, OFFSETS)], false);
    writeIndex(w, strings.own.map(fromLatin1), false);
    writeIndex(w, cff.globalSubrs, false);
    const found = new Map<number, number[]>();
    for (const part of parts) {
      found.set(part.operator, part.operands(w.length));
      w.put(part.bytes);
    }
    const foundPrivates: number[] = [];
    if (cff.ros) {
      privates.forEach((p) => {
        foundPrivates.push(w.length);
        if (p) w.put(p.bytes);
      });
      found.set(DICT.FDArray, [w.length]);
      writeIndex(
        w,
        fontDicts.map((dict, i) => {
          const own: CffDict = new Map(dict);
          if (privates[i]) own.set(DICT.Private, [privates[i]!.size, privateAt[i] ?? 0]);
          return writeDict(own, OFFSETS);
        }),
        false,
      );
    }
    return { bytes: w.done(), places: found, privateAt: foundPrivates };
  };
  const first = compose(new Map(), []);
  return compose(first.places, first.privateAt).bytes;
}

/** A CFF2 table. Programs are kept as they are. Source: OpenType specification, CFF2. */
export interface Cff2 {
  majorVersion: number;
  minorVersion: number;
  topDict: CffDict;
  globalSubrs: Uint8Array[];
  charStrings: Uint8Array[];
  fontDicts: FontDict[];
  fdSelect: Uint16Array | null;
  variationStore: ItemVariationStore | null;
}

export const CFF2: Table<Cff2> = {
  tag: 'CFF2',
  read(data) {
    const r = new Reader(data, 'CFF2');
    const headerSize = r.u8(2);
    const length = r.u16(3);
    const top = readDict(r.slice(headerSize, length));
    const charStrings = readIndex(r, operand(top, DICT.CharStrings) ?? -1, true);
    const fonts = all(readIndex(r, operand(top, DICT.FDArray) ?? -1, true)).map((d) => readDict(d));
    const store = operand(top, DICT.vstore);
    return {
      majorVersion: r.u8(0),
      minorVersion: r.u8(1),
      topDict: plain(top),
      globalSubrs: all(readIndex(r, headerSize + length, true)),
      charStrings: all(charStrings),
      fontDicts: fonts.map((dict) => ({ dict: plain(dict), privateDict: readPrivate(r, dict, true) })),
      fdSelect: readFdSelect(r, operand(top, DICT.FDSelect), charStrings.count),
      variationStore: store === undefined ? null : readWhole(itemVariationStore, r, 'CFF2', store + 2),
    };
  },
  write(cff) {
    const top: CffDict = new Map(cff.topDict);
    const store = cff.variationStore ? pack(blockOf(itemVariationStore, cff.variationStore, 'CFF2')) : null;
    const privates = cff.fontDicts.map((f) => (f.privateDict ? writePrivate(f.privateDict, true) : null));
    const compose = (
      places: ReadonlyMap<number, number>,
      privateAt: readonly number[],
    ): { bytes: Uint8Array; places: Map<number, number>; privateAt: number[] } => {
      const found = new Map<number, number>();
      for (const operator of [DICT.CharStrings, DICT.FDArray]) top.set(operator, [places.get(operator) ?? 0]);
      if (cff.fdSelect) top.set(DICT.FDSelect, [places.get(DICT.FDSelect) ?? 0]);
      if (store) top.set(DICT.vstore, [places.get(DICT.vstore) ?? 0]);
      const dict = writeDict(top, OFFSETS);
      const w = new Writer();
      w.u8(cff.majorVersion);
      w.u8(cff.minorVersion);
      w.u8(5);
      w.u16(dict.length);
      w.put(dict);
      writeIndex(w, cff.globalSubrs, true);
      if (store) {
        found.set(DICT.vstore, w.length);
        w.u16(store.length & 0xffff);
        w.put(store);
      }
      if (cff.fdSelect) {
        found.set(DICT.FDSelect, w.length);
        w.put(writeFdSelect(cff.fdSelect, cff.charStrings.length > 0xffff));
      }
      found.set(DICT.CharStrings, w.length);
      writeIndex(w, cff.charStrings, true);
      const foundPrivates = privates.map((p) => {
        const start = w.length;
        if (p) w.put(p.bytes);
        return start;
      });
      found.set(DICT.FDArray, w.length);
      writeIndex(
        w,
        cff.fontDicts.map(({ dict: own }, i) =>
          writeDict(privates[i] ? new Map(own).set(DICT.Private, [privates[i]!.size, privateAt[i] ?? 0]) : own, OFFSETS),
        ),
        true,
      );
      return { bytes: w.done(), places: found, privateAt: foundPrivates };
    };
    const first = compose(new Map(), []);
    return compose(first.places, first.privateAt).bytes;
  },
};
