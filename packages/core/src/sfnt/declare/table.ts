import { Reader } from '../reader.js';
import { readWhole, writeWhole, type Field } from './fields.js';

/** The other tables of the font, for those that cannot be read alone: hmtx needs hhea, loca needs head. */
export interface Tables {
  /** @throws FontError when the font has no such table or it is damaged */
  need<T>(table: Table<T>): T;
  /** Null when the font has no such table. @throws FontError when it is damaged */
  table<T>(table: Table<T>): T | null;
}

/** Tables with their bytes at hand, as an opened face has them. */
export interface OpenTables extends Tables {
  has(tag: string): boolean;
  /** Null when the font has no such table. */
  bytes(tag: string): Uint8Array | null;
}

/** One table of OpenType, read and written from one declaration. */
export interface Table<T> {
  /** As in the directory, four characters. */
  tag: string;
  /** @throws FontError when the table is damaged */
  read(data: Uint8Array, tables: Tables): T;
  /** @throws FontError when the data does not fit the table's format */
  write(value: T, tables: Tables): Uint8Array;
}

/** A table that can be read by its fields alone. */
export function declare<T>(tag: string, field: Field<T>): Table<T> {
  return { tag, read: (data) => readWhole(field, new Reader(data, tag), tag), write: (value) => writeWhole(field, value, tag) };
}
