import { FontError } from '../errors.js';
import { Reader } from '../reader.js';
import { Writer } from '../writer.js';
import { declare, fixed, int16, readWhole, record, rest, uint32, writeWhole, type Data, type Table } from '../declare/index.js';
import { MAC_GLYPH_NAMES } from './glyph-names.js';

const header = {
  /** 0x00010000, 0x00020000, 0x00025000 or 0x00030000. */
  version: uint32,
  /** Degrees counter-clockwise from the vertical. */
  italicAngle: fixed,
  underlinePosition: int16,
  underlineThickness: int16,
  /** Not 0 when all characters have one width. */
  isFixedPitch: uint32,
  /** Memory that a printer needed, in bytes. */
  minMemType42: uint32,
  maxMemType42: uint32,
  minMemType1: uint32,
  maxMemType1: uint32,
};
const head = record(header);
const whole = record({ ...header, names: rest });

export type PostHeader = Data<typeof head>;

/** The header of post alone, for who does not need the names of glyphs. */
export const POST_HEADER = declare('post', head);

export interface Post extends PostHeader {
  /** One name a glyph; null in versions that hold none (1.0 means the Macintosh standard order). */
  glyphNames: string[] | null;
}

const V2 = 0x00020000;
const V25 = 0x00025000;

/** PostScript data, names of glyphs included. Source: OpenType specification, post. */
export const POST: Table<Post> = {
  tag: 'post',
  read(data) {
    const { names, ...fields } = readWhole(whole, new Reader(data, 'post'), 'post');
    const r = new Reader(names, 'post');
    if (fields.version === V2) return { ...fields, glyphNames: readNames(r) };
    if (fields.version === V25)
      return {
        ...fields,
        glyphNames: Array.from({ length: r.u16(0) }, (_, glyph) => macName(glyph + ((r.u8(2 + glyph) << 24) >> 24), glyph)),
      };
    return { ...fields, glyphNames: null };
  },
  write({ glyphNames, ...fields }) {
    return writeWhole(whole, { ...fields, names: glyphNames ? writeNames(glyphNames, fields.version) : new Uint8Array(0) }, 'post');
  },
};

function macName(index: number, glyph: number): string {
  const name = MAC_GLYPH_NAMES[index];
  if (name === undefined) throw new FontError('bad-table', `The name of glyph ${glyph} is missing from the post table.`, { table: 'post' });
  return name;
}

function readNames(r: Reader): string[] {
  const count = r.u16(0);
  const strings: string[] = [];
  for (let at = 2 + 2 * count; at < r.length;) {
    const length = r.u8(at++);
    // A name that is cut short belongs to nothing; if something asks for it, that is said.
    if (at + length > r.length) break;
    strings.push(String.fromCharCode(...r.slice(at, length)));
    at += length;
  }
  return Array.from({ length: count }, (_, glyph) => {
    const index = r.u16(2 + 2 * glyph);
    const own = index >= MAC_GLYPH_NAMES.length ? strings[index - MAC_GLYPH_NAMES.length] : undefined;
    return own ?? macName(index, glyph);
  });
}

const MAC_INDEX = new Map(MAC_GLYPH_NAMES.map((name, i) => [name, i]));

function writeNames(names: readonly string[], version: number): Uint8Array {
  const w = new Writer(2 + 12 * names.length);
  w.u16(names.length);
  const own = new Map<string, number>();
  names.forEach((name, glyph) => {
    const standard = MAC_INDEX.get(name);
    if (version === V25) {
      const offset = (standard ?? 1000) - glyph;
      if (offset < -128 || offset > 127)
        throw new FontError('does-not-fit', `Version 2.5 of the post table cannot name glyph ${glyph} “${name}”.`, { table: 'post' });
      return w.u8(offset & 0xff);
    }
    if (standard !== undefined) return w.u16(standard);
    if (name.length > 255 || !/^[\0-\xff]*$/.test(name))
      throw new FontError('does-not-fit', `The glyph name “${name.slice(0, 40)}” is too long or has characters that names may not have.`, {
        table: 'post',
      });
    const index = own.get(name) ?? own.size;
    own.set(name, index);
    return w.u16(MAC_GLYPH_NAMES.length + index);
  });
  for (const name of own.keys()) {
    w.u8(name.length);
    for (let i = 0; i < name.length; i++) w.u8(name.charCodeAt(i));
  }
  return w.done();
}
