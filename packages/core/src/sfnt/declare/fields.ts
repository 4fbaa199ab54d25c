import { FontError } from '../errors.js';
import type { Reader } from '../reader.js';
import { Block, pack, type Pool } from './pack.js';

/** The fields read or written so far of a table and of the tables it stands in, by name. */
export interface Scope {
  values: Record<string, unknown>;
  outer: Scope | null;
}

/**
 * A field's value by its name, in this table or in one around it.
 * @throws Error when no such field is declared, which is a fault of the declaration
 */
export function lookUp(scope: Scope | null, name: string): unknown {
  for (let s = scope; s; s = s.outer) if (name in s.values) return s.values[name];
  throw new Error(`No field ${name} is declared around here.`);
}

/** Bytes being read: where the reader stands, where the table begins that offsets count from, and what may still be spent. */
export interface Source {
  r: Reader;
  at: number;
  base: number;
  scope: Scope | null;
  shared: Shared;
}

interface Shared {
  /** Entries that may still be read: offsets that lead to the same bytes over and over must not cost more than a sound table. */
  budget: number;
  /** Tables that were read already, by what they are and where they lie. */
  known: Map<Field<unknown>, Map<number, unknown>>;
  table: string;
  /** How deep tables stand in tables; a bound against data that has no end. */
  depth: number;
}

const MAX_DEPTH = 64;

/** How a value lies in a table: read from it, written to it. */
export interface Field<T> {
  read(source: Source): T;
  write(block: Block, value: T, scope: Scope | null): void;
  /** A field that only says how other fields lie (a count, a padding); it is computed and not part of the data. */
  hidden?: true;
  /** Its size in bytes, for a field that can only be read once the fields behind it are known. */
  late?: number;
}
export type Hidden = Field<never> & { hidden: true };

/** The data of a declared field. */
export type Data<F> = F extends Field<infer T> ? T : never;

/** Reads a table from its first byte. @throws FontError when it is damaged */
export function readWhole<T>(field: Field<T>, r: Reader, table: string, at = 0): T {
  return field.read({ r, at, base: at, scope: null, shared: { budget: 24 * r.length + 4096, known: new Map(), table, depth: 0 } });
}

/** Writes a table. @throws FontError when a value or an offset does not fit */
export function writeWhole<T>(field: Field<T>, value: T, table: string): Uint8Array {
  return pack(blockOf(field, value, table));
}

/** A table as a block that is not yet packed. */
export function blockOf<T>(field: Field<T>, value: T, table: string, pool: Pool = new Map()): Block {
  const root = new Block(table, pool);
  field.write(root, value, null);
  return root;
}

function spend(source: Source, count: number): void {
  source.shared.budget -= count;
  if (source.shared.budget < 0)
    throw new FontError('bad-table', `The ${source.shared.table.trim()} table points to the same parts over and over: it is damaged.`, {
      table: source.shared.table,
      offset: source.at,
    });
}

/**
 * Gives up on a table.
 * @throws FontError which says that the table is damaged, and where
 */
export function damaged(source: Source, what: string): never {
  throw new FontError('bad-table', `The ${source.shared.table.trim()} table is damaged: ${what}`, {
    table: source.shared.table,
    offset: source.at,
  });
}

const number = (
  size: number,
  min: number,
  max: number,
  get: (r: Reader, at: number) => number,
  put: (block: Block, value: number) => void,
): Field<number> => ({
  read(s) {
    const value = get(s.r, s.at);
    s.at += size;
    return value;
  },
  write: (block, value) => put(block, block.check(value, min, max)),
});

/** Data types by the names of the specification. Source: OpenType specification, "Data types". */
export const uint8 = number(1, 0, 0xff, (r, at) => r.u8(at), (b, v) => b.writer.u8(v)); // prettier-ignore
export const int8 = number(1, -0x80, 0x7f, (r, at) => (r.u8(at) << 24) >> 24, (b, v) => b.writer.u8(v & 0xff)); // prettier-ignore
export const uint16 = number(2, 0, 0xffff, (r, at) => r.u16(at), (b, v) => b.writer.u16(v)); // prettier-ignore
export const int16 = number(2, -0x8000, 0x7fff, (r, at) => r.i16(at), (b, v) => b.writer.u16(v & 0xffff)); // prettier-ignore
export const uint24 = number(3, 0, 0xffffff, (r, at) => r.u24(at), (b, v) => { b.writer.u8(v >> 16); b.writer.u16(v & 0xffff); }); // prettier-ignore
export const uint32 = number(4, 0, 0xffffffff, (r, at) => r.u32(at), (b, v) => b.writer.u32(v)); // prettier-ignore
export const int32 = number(4, -0x80000000, 0x7fffffff, (r, at) => r.i32(at), (b, v) => b.writer.u32(v >>> 0)); // prettier-ignore
/** Signed 16.16, as the number it stands for. */
export const fixed = scaled(int32, 65536);
/** Signed 2.14, as the number it stands for. */
export const f2dot14 = scaled(int16, 16384);

function scaled(whole: Field<number>, unit: number): Field<number> {
  return {
    read: (s) => whole.read(s) / unit,
    write: (block, value, scope) => whole.write(block, Math.round(value * unit), scope),
  };
}

/** Seconds since midnight, 1 January 1904 (UTC). Values beyond 2^53, which only damaged fonts have, lose their lowest bits. */
export const longDateTime: Field<number> = {
  read(s) {
    const value = s.r.i32(s.at) * 2 ** 32 + s.r.u32(s.at + 4);
    s.at += 8;
    return value;
  },
  write(block, value) {
    const high = Math.floor(value / 2 ** 32);
    block.writer.u32(block.check(high, -0x80000000, 0x7fffffff) >>> 0);
    block.writer.u32(value - high * 2 ** 32);
  },
};

/** Four characters. */
export const tag: Field<string> = {
  read(s) {
    const value = s.r.tag(s.at);
    s.at += 4;
    return value;
  },
  write(block, value) {
    if (!/^[\0-\xff]{4}$/.test(value))
      throw new FontError('does-not-fit', `“${value}” is no tag of four characters.`, { table: block.table });
    block.writer.tag(value);
  },
};

/** A fixed number of bytes. */
export const bytes = (count: number): Field<Uint8Array> => ({
  read(s) {
    const value = s.r.slice(s.at, count);
    s.at += count;
    return value;
  },
  write(block, value) {
    block.check(value.length, count, count);
    block.writer.put(value);
  },
});

/** All bytes to the end of the table. */
export const rest: Field<Uint8Array> = {
  read(s) {
    const value = s.r.slice(s.at, Math.max(0, s.r.length - s.at));
    s.at += value.length;
    return value;
  },
  write: (block, value) => block.writer.put(value),
};

/** A field whose value never changes and is not worth keeping, such as a reserved one. */
export const constant = (field: Field<number>, value: number): Hidden =>
  ({
    hidden: true,
    read(s: Source) {
      field.read(s);
    },
    write: (block: Block, _: unknown, scope: Scope | null) => field.write(block, value, scope),
  }) as unknown as Hidden;

/**
 * A number that follows from the data: `compute` gives it when the table is written.
 * When it is read it is kept for fields that ask for it by name.
 */
export const derived = (field: Field<number>, compute: (scope: Scope) => number): Hidden =>
  ({
    hidden: true,
    read: (s: Source) => field.read(s),
    write: (block: Block, _: unknown, scope: Scope) => field.write(block, compute(scope), scope),
  }) as unknown as Hidden;

/** The number of entries of the list `name`, less `less`. */
export const countOf = (field: Field<number>, name: string, less = 0): Hidden =>
  derived(field, (scope) => (scope.values[name] as { length: number }).length - less);

/** A list whose length stands in the field `count` of this table or one around it (plus `more`), or is computed. */
export function list<T>(count: string | ((scope: Scope | null) => number), item: Field<T>, more = 0): Field<T[]> {
  return {
    read(s) {
      const n = (typeof count === 'string' ? (lookUp(s.scope, count) as number) : count(s.scope)) + more;
      if (n <= 0) return [];
      // An entry takes a byte at least, unless it is empty; either way it has to be paid for.
      spend(s, n);
      const out: T[] = [];
      for (let i = 0; i < n; i++) out.push(item.read(s));
      return out;
    },
    write(block, value, scope) {
      for (const one of value) item.write(block, one, scope);
    },
  };
}

/** A list that follows its own count of 16 (or other) bits. */
export function counted<T>(item: Field<T>, count: Field<number> = uint16): Field<T[]> {
  return {
    read(s) {
      const n = count.read(s);
      spend(s, n);
      const out: T[] = [];
      for (let i = 0; i < n; i++) out.push(item.read(s));
      return out;
    },
    write(block, value, scope) {
      count.write(block, value.length, scope);
      for (const one of value) item.write(block, one, scope);
    },
  };
}

type Fields = Record<string, Field<unknown>>;
/** The data of a record: its fields without the hidden ones. */
export type RecordData<F> = { -readonly [K in keyof F as F[K] extends { hidden: true } ? never : K]: Data<F[K]> };

/** Fields that lie behind one another. */
export function record<F extends Record<string, Field<never> | Field<unknown>>>(fields: F): Field<RecordData<F>> {
  const entries = Object.entries(fields as unknown as Fields);
  return {
    read(s) {
      const outer = s.scope;
      const all: Record<string, unknown> = {};
      const own: Record<string, unknown> = {};
      s.scope = { values: all, outer };
      let waiting: [string, Field<unknown>, number][] | null = null;
      for (const [name, field] of entries) {
        if (field.late) {
          (waiting ??= []).push([name, field, s.at]);
          s.at += field.late;
          own[name] = null;
          continue;
        }
        const value = field.read(s);
        all[name] = value;
        if (!field.hidden) own[name] = value;
      }
      for (const [name, field, at] of waiting ?? []) own[name] = all[name] = field.read({ ...s, at });
      s.scope = outer;
      return own as RecordData<F>;
    },
    write(block, value, outer) {
      const scope: Scope = { values: value as Record<string, unknown>, outer };
      for (const [name, field] of entries) {
        block.field = name;
        field.write(block, (value as Record<string, unknown>)[name], scope);
      }
    },
  };
}

type ByFormat<R> = {
  [K in keyof R]: { [D in keyof Data<R[K]>]: Data<R[K]>[D] } & { format: K extends `${infer N extends number}` ? N : K };
}[keyof R];

/**
 * One of several records, told by the format that stands first.
 * Formats that are not declared make the table damaged: nothing can be known of what follows.
 */
export function formats<R extends Record<number, Field<never> | Field<unknown>>>(number: Field<number>, kinds: R): Field<ByFormat<R>> {
  const byNumber = kinds as unknown as Record<number, Field<Record<string, unknown>>>;
  return {
    read(s) {
      const format = number.read(s);
      const kind = byNumber[format];
      if (!kind) damaged(s, `a part of it is of format ${format}, which does not exist.`);
      return { format, ...kind.read(s) } as ByFormat<R>;
    },
    write(block, value, scope) {
      const { format } = value as { format: number };
      number.write(block, format, scope);
      byNumber[format]!.write(block, value as Record<string, unknown>, scope);
    },
  };
}

/** A field that is there when the field `by` (a version or flags) says so; null when not. */
export function when<T>(by: string, there: (value: number) => boolean, field: Field<T>): Field<T | null> {
  return {
    read: (s) => (there(lookUp(s.scope, by) as number) ? field.read(s) : null),
    write(block, value, scope) {
      if (there(lookUp(scope, by) as number)) field.write(block, value as T, scope);
    },
  };
}

/** A field that is there when `there` says so from what was read; null when not. Written when it is not null. */
export function optional<T>(there: (scope: Scope | null, source: Source) => boolean, field: Field<T>): Field<T | null> {
  return {
    read: (s) => (there(s.scope, s) ? field.read(s) : null),
    write(block, value, scope) {
      if (value !== null) field.write(block, value, scope);
    },
  };
}

/** A field that is read after those behind it, on which it depends. `size` in bytes. */
export const late = <T>(size: number, field: Field<T>): Field<T> => ({ ...field, late: size });

/** Goes to where the field `name` says, from the start of the table. Written, the parts already follow one another. */
export const jump = (name: string): Hidden =>
  ({
    hidden: true,
    read(s: Source) {
      s.at = s.base + (lookUp(s.scope, name) as number);
    },
    write: () => undefined,
  }) as unknown as Hidden;

/** A field of later versions; null where the version is lower or the table ends before it, as old tables do. */
export function since<T>(version: number, size: number, field: Field<T>, by = 'version'): Field<T | null> {
  return {
    read: (s) => ((lookUp(s.scope, by) as number) >= version && s.at + size <= s.r.length ? field.read(s) : null),
    write(block, value, scope) {
      if (value !== null && (lookUp(scope, by) as number) >= version) field.write(block, value, scope);
    },
  };
}

/**
 * An offset from the start of the table that holds it; null for 0. `scoped`: what it leads to can only be read knowing
 * fields of the tables around, so that equal places are not equal data.
 */
function offset<T>(number: Field<number>, size: 2 | 3 | 4, to: Field<T> | (() => Field<T>), scoped: boolean): Field<T | null> {
  const target = (): Field<T> => (typeof to === 'function' ? to() : to);
  return {
    read(s) {
      const distance = number.read(s);
      if (distance === 0) return null;
      return follow(s, target(), s.base + distance, scoped);
    },
    write(block, value, scope) {
      block.link(size, value === null ? null : block.child((child) => target().write(child, value, scope)));
    },
  };
}

/** Reads what lies somewhere else in the table, once. */
export function follow<T>(s: Source, field: Field<T>, at: number, scoped = false): T {
  const { known } = s.shared;
  let places = known.get(field as Field<unknown>);
  if (!scoped) {
    if (!places) known.set(field as Field<unknown>, (places = new Map()));
    if (places.has(at)) {
      const value = places.get(at);
      if (value === UNFINISHED) damaged(s, 'a part of it contains itself.');
      return value as T;
    }
    places.set(at, UNFINISHED);
  }
  spend(s, 1);
  if (++s.shared.depth > MAX_DEPTH) damaged(s, 'its parts are nested too deep.');
  const value = field.read({ r: s.r, at, base: at, scope: s.scope, shared: s.shared });
  s.shared.depth--;
  if (!scoped) places!.set(at, value);
  return value;
}
const UNFINISHED = Symbol('unfinished');

/** An offset of 16 bits to another part of the table; null for 0. */
export const offset16 = <T>(to: Field<T> | (() => Field<T>), scoped = false): Field<T | null> => offset(uint16, 2, to, scoped);
/** An offset of 24 bits to another part of the table; null for 0. */
export const offset24 = <T>(to: Field<T> | (() => Field<T>), scoped = false): Field<T | null> => offset(uint24, 3, to, scoped);
/** An offset of 32 bits to another part of the table; null for 0. */
export const offset32 = <T>(to: Field<T> | (() => Field<T>), scoped = false): Field<T | null> => offset(uint32, 4, to, scoped);

/** An offset that may not be 0. */
export function needed<T>(field: Field<T | null>): Field<T> {
  return {
    read(s) {
      const value = field.read(s);
      if (value === null) damaged(s, 'a part it must have is missing.');
      return value;
    },
    write: (block, value, scope) => field.write(block, value, scope),
  };
}

/** Another form of a field's data. */
export function mapped<T, U>(field: Field<T>, from: (value: T, source: Source) => U, to: (value: U, scope: Scope | null) => T): Field<U> {
  return { read: (s) => from(field.read(s), s), write: (block, value, scope) => field.write(block, to(value, scope), scope) };
}
