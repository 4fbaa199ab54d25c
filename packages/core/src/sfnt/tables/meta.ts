import { constant, countOf, declare, list, record, tag, uint16, uint32, type Data, type Field } from '../declare/index.js';

const entry: Field<{ tag: string; data: Uint8Array }> = {
  read(s) {
    const name = tag.read(s);
    const offset = uint32.read(s);
    return { tag: name, data: s.r.slice(s.base + offset, uint32.read(s)) };
  },
  write(block, { tag: name, data }, scope) {
    tag.write(block, name, scope);
    block.link(
      4,
      block.child((c) => c.writer.put(data)),
    );
    uint32.write(block, data.length, scope);
  },
};

const fields = record({
  version: uint32,
  flags: uint32,
  reserved: constant(uint32, 0),
  dataMapsCount: countOf(uint32, 'dataMaps'),
  /** `dlng` and `slng` hold languages as text: designed for and supported. */
  dataMaps: list('dataMapsCount', entry),
});

/** Metadata. Source: OpenType specification, meta. */
export const META = declare('meta', fields);
export type Meta = Data<typeof fields>;

const signature = record({
  version: uint32,
  numSignatures: countOf(uint16, 'signatures'),
  /** Bit 0: it may not be signed again. */
  flags: uint16,
  signatures: list('numSignatures', record({ format: uint32, length: uint32, offset: uint32 })),
});
/** Digital signature; it stops to hold with any change, so it is left out of what we write. Source: OpenType specification, DSIG. */
export const DSIG = declare('DSIG', signature);
