import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { Writer } from '../writer.js';
import type { Table } from '../declare/index.js';
import { MAC_ROMAN_HIGH } from './mac-roman.js';

/** One decoded record. Source: OpenType specification, name. */
export interface NameRecord {
  platformID: number;
  encodingID: number;
  languageID: number;
  nameID: number;
  /** BCP 47 tag where we know it, else ''. */
  language: string;
  value: string;
}

export const NAME_ID = {
  copyright: 0,
  family: 1,
  subfamily: 2,
  uniqueId: 3,
  fullName: 4,
  version: 5,
  postScriptName: 6,
  trademark: 7,
  manufacturer: 8,
  designer: 9,
  description: 10,
  vendorUrl: 11,
  designerUrl: 12,
  license: 13,
  licenseUrl: 14,
  typographicFamily: 16,
  typographicSubfamily: 17,
  compatibleFull: 18,
  sampleText: 19,
  wwsFamily: 21,
  wwsSubfamily: 22,
  variationsPostScriptPrefix: 25,
} as const;

/** Primary language of a Windows language ID. Source: [MS-LCID] by way of the OpenType name table's list. */
const WINDOWS_PRIMARY: Readonly<Record<number, string>> = {
  0x01: 'ar',
  0x02: 'bg',
  0x03: 'ca',
  0x04: 'zh',
  0x05: 'cs',
  0x06: 'da',
  0x07: 'de',
  0x08: 'el',
  0x09: 'en',
  0x0a: 'es',
  0x0b: 'fi',
  0x0c: 'fr',
  0x0d: 'he',
  0x0e: 'hu',
  0x0f: 'is',
  0x10: 'it',
  0x11: 'ja',
  0x12: 'ko',
  0x13: 'nl',
  0x14: 'nb',
  0x15: 'pl',
  0x16: 'pt',
  0x18: 'ro',
  0x19: 'ru',
  0x1a: 'hr',
  0x1b: 'sk',
  0x1c: 'sq',
  0x1d: 'sv',
  0x1e: 'th',
  0x1f: 'tr',
  0x20: 'ur',
  0x21: 'id',
  0x22: 'uk',
  0x23: 'be',
  0x24: 'sl',
  0x25: 'et',
  0x26: 'lv',
  0x27: 'lt',
  0x29: 'fa',
  0x2a: 'vi',
  0x2b: 'hy',
  0x2d: 'eu',
  0x2f: 'mk',
  0x36: 'af',
  0x37: 'ka',
  0x38: 'fo',
  0x39: 'hi',
  0x3e: 'ms',
  0x45: 'bn',
  0x49: 'ta',
  0x52: 'cy',
  0x56: 'gl',
};

/** Macintosh language IDs. Source: OpenType specification, name, Macintosh language IDs. */
const MAC_LANGUAGE: Readonly<Record<number, string>> = {
  0: 'en',
  1: 'fr',
  2: 'de',
  3: 'it',
  4: 'nl',
  5: 'sv',
  6: 'es',
  7: 'da',
  8: 'pt',
  9: 'nb',
  10: 'he',
  11: 'ja',
  12: 'ar',
  13: 'fi',
  14: 'el',
  15: 'is',
  17: 'tr',
  18: 'hr',
  19: 'zh',
  20: 'ur',
  21: 'hi',
  22: 'th',
  23: 'ko',
  24: 'lt',
  25: 'pl',
  26: 'hu',
  27: 'et',
  28: 'lv',
  30: 'fo',
  31: 'fa',
  32: 'ru',
  33: 'zh',
  37: 'ro',
  38: 'cs',
  39: 'sk',
  40: 'sl',
  44: 'bg',
  45: 'uk',
  80: 'vi',
};

/** A name of an absurd length is cut here; the records stay in the file as they are. */
const MAX_NAME_LENGTH = 65535;

function utf16(bytes: Uint8Array): string {
  let out = '';
  for (let i = 0; i + 1 < bytes.length; i += 2) out += String.fromCharCode((bytes[i]! << 8) | bytes[i + 1]!);
  return out;
}

function macRoman(bytes: Uint8Array): string {
  let out = '';
  for (const b of bytes) out += b < 128 ? String.fromCharCode(b) : MAC_ROMAN_HIGH[b - 128]!;
  return out;
}

/** Reads every record that can be decoded; records that point outside the table are skipped and counted. */
export function readName(data: Uint8Array): { records: NameRecord[]; skipped: number } {
  const r = new Reader(data, 'name');
  const version = r.u16(0);
  const count = r.u16(2);
  const storage = r.u16(4);
  const languageTags: string[] = [];
  const records: NameRecord[] = [];
  let skipped = 0;
  if (version === 1 && 6 + 12 * count + 2 <= data.length) {
    const tags = r.u16(6 + 12 * count);
    for (let i = 0; i < tags && 8 + 12 * count + 4 * i + 4 <= data.length; i++) {
      const at = 8 + 12 * count + 4 * i;
      const start = storage + r.u16(at + 2);
      languageTags.push(start + r.u16(at) <= data.length ? utf16(data.subarray(start, start + r.u16(at))) : '');
    }
  }
  for (let i = 0; i < count; i++) {
    const at = 6 + 12 * i;
    if (at + 12 > data.length) {
      skipped += count - i;
      break;
    }
    const platformID = r.u16(at);
    const encodingID = r.u16(at + 2);
    const languageID = r.u16(at + 4);
    const nameID = r.u16(at + 6);
    const length = r.u16(at + 8);
    const start = storage + r.u16(at + 10);
    if (start + length > data.length) {
      skipped++;
      continue;
    }
    const bytes = data.subarray(start, start + Math.min(length, MAX_NAME_LENGTH));
    let value: string;
    if (platformID === 0 || platformID === 3) value = utf16(bytes);
    else if (platformID === 1 && encodingID === 0) value = macRoman(bytes);
    else {
      skipped++;
      continue;
    }
    let language = '';
    if (languageID >= 0x8000) language = languageTags[languageID - 0x8000] ?? '';
    else if (platformID === 3) language = WINDOWS_PRIMARY[languageID & 0x3ff] ?? '';
    else if (platformID === 1) language = MAC_LANGUAGE[languageID] ?? '';
    else if (platformID === 0) language = 'en';
    records.push({ platformID, encodingID, languageID, nameID, language, value: value.replace(/\0+$/, '') });
  }
  return { records, skipped };
}

/** How good a record is as the answer to "what is this called"; higher is better. */
function rank(record: NameRecord): number {
  if (record.platformID === 3 && record.languageID === 0x409) return 6;
  if (record.language === 'en' && record.platformID === 3) return 5;
  if (record.language === 'en' && record.platformID === 0) return 4;
  if (record.language === 'en') return 3;
  return record.platformID === 3 ? 2 : 1;
}

/**
 * The value of a name ID in the best language: US English of the Windows platform first, then other English,
 * then whatever there is. Null when the font has none or only empty ones.
 */
export function bestName(records: NameRecord[], nameID: number): string | null {
  let best: NameRecord | null = null;
  for (const record of records)
    if (record.nameID === nameID && record.value.trim() !== '' && (best === null || rank(record) > rank(best))) best = record;
  return best?.value ?? null;
}

/** The whole of name, each string as its bytes: some old encodings have no letters we could give them. */
export interface NameTable {
  version: number;
  records: { platformID: number; encodingID: number; languageID: number; nameID: number; string: Uint8Array }[];
  /** Version 1: BCP 47 tags of the language IDs from 0x8000 on. */
  langTags: string[] | null;
}

/** Names of a font, versions 0 and 1. Source: OpenType specification, name. */
export const NAME: Table<NameTable> = {
  tag: 'name',
  read(data) {
    const r = new Reader(data, 'name');
    const version = r.u16(0);
    const count = r.u16(2);
    const storage = r.u16(4);
    r.need(6, 12 * count);
    const records = Array.from({ length: count }, (_, i) => {
      const at = 6 + 12 * i;
      return {
        platformID: r.u16(at),
        encodingID: r.u16(at + 2),
        languageID: r.u16(at + 4),
        nameID: r.u16(at + 6),
        string: r.slice(storage + r.u16(at + 10), r.u16(at + 8)),
      };
    });
    const tags = 6 + 12 * count;
    const langTags =
      version === 0
        ? null
        : Array.from({ length: r.u16(tags) }, (_, i) => utf16(r.slice(storage + r.u16(tags + 4 + 4 * i), r.u16(tags + 2 + 4 * i))));
    return { version, records, langTags };
  },
  write({ version, records, langTags }) {
    const w = new Writer();
    const storage = new Writer();
    const known = new Map<string, number>();
    const place = (string: Uint8Array): number => {
      const key = String.fromCharCode(...string);
      let at = known.get(key);
      if (at === undefined) {
        known.set(key, (at = storage.length));
        storage.put(string);
      }
      return at;
    };
    const start = 6 + 12 * records.length + (version === 0 ? 0 : 2 + 4 * langTags!.length);
    for (const v of [version, records.length, start]) w.u16(v);
    // Readers look a name up by its place in this order.
    const ordered = [...records].sort(
      (a, b) => a.platformID - b.platformID || a.encodingID - b.encodingID || a.languageID - b.languageID || a.nameID - b.nameID,
    );
    for (const { platformID, encodingID, languageID, nameID, string } of ordered)
      for (const v of [platformID, encodingID, languageID, nameID, string.length, place(string)]) w.u16(v);
    if (version !== 0) {
      w.u16(langTags!.length);
      for (const t of langTags!) {
        const string = encodeUtf16(t);
        w.u16(string.length);
        w.u16(place(string));
      }
    }
    if (storage.length > 0xffff || start > 0xffff)
      throw new FontError('does-not-fit', 'The names are longer than the name table can hold.', { table: 'name' });
    w.put(storage.done());
    return w.done();
  },
};

/** A string as UTF-16BE, as names of the Windows platform are kept. */
export function encodeUtf16(text: string): Uint8Array {
  const out = new Uint8Array(2 * text.length);
  for (let i = 0; i < text.length; i++) {
    out[2 * i] = text.charCodeAt(i) >> 8;
    out[2 * i + 1] = text.charCodeAt(i) & 0xff;
  }
  return out;
}

/** Names in US English of the Windows platform, as a font that is made here carries them. */
export function windowsNames(names: Readonly<Record<number, string>>): NameTable {
  return {
    version: 0,
    langTags: null,
    records: Object.entries(names).map(([id, value]) => ({
      platformID: 3,
      encodingID: 1,
      languageID: 0x409,
      nameID: Number(id),
      string: encodeUtf16(value),
    })),
  };
}
