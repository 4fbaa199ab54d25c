import { Block, OffsetOverflow, pack } from './pack.js';

const block = (): Block => new Block('test', new Map());
const filled = (b: Block, n: number, value = 0): Block => {
  b.writer.put(new Uint8Array(n).fill(value));
  return b;
};
const at = (bytes: Uint8Array, where: number, size: number): number => bytes.slice(where, where + size).reduce((v, b) => v * 256 + b, 0);

test.each([
  [2, 0xffff],
  [3, 0xffffff],
] as const)('an offset of %i bytes reaches %i and no farther', (size, most) => {
  const build = (distance: number): Uint8Array => {
    const root = block();
    const target = filled(block(), 1, 7);
    root.link(size, target);
    filled(root, distance - size);
    return pack(root);
  };
  const bytes = build(most);
  expect(at(bytes, 0, size)).toBe(most);
  expect(bytes[most]).toBe(7);
  expect(() => build(most + 1)).toThrow(OffsetOverflow);
});

test('equal blocks are stored once within a pool, and a block comes before what it points to', () => {
  const root = block();
  const leaf = (value: number) => (b: Block) => void filled(b, 3, value);
  const inner = (value: number) => (b: Block) => b.link(2, root.child(leaf(value)));
  const first = root.child(inner(5));
  expect(root.child(inner(5))).toBe(first);
  root.link(2, first);
  root.link(2, root.child(inner(6)));
  root.link(4, root.child(leaf(5)));
  root.link(2, null);
  const bytes = pack(root);
  // Root of ten bytes, two inner ones of two, two leaves of three.
  expect(bytes.length).toBe(10 + 2 * 2 + 2 * 3);
  const follow = (where: number, size: number, from = 0): number => from + at(bytes, where, size);
  const [one, two, five] = [follow(0, 2), follow(2, 2), follow(4, 4)];
  expect(at(bytes, 8, 2)).toBe(0);
  expect([bytes[follow(one, 2, one)], bytes[follow(two, 2, two)], bytes[five]]).toEqual([5, 6, 5]);
  expect(follow(one, 2, one)).toBe(five);
  // Another pool keeps what is equal apart.
  expect(root.child(leaf(5), new Map())).not.toBe(root.child(leaf(5)));
});

test('what lies behind wide offsets leaves the narrow ones their room', () => {
  // Sixty blocks of 2,000 bytes behind offsets of four bytes, and after them in the root one behind an offset of two.
  const root = block();
  for (let i = 0; i < 60; i++) root.link(4, filled(block(), 2000, i + 1));
  root.link(2, filled(block(), 2000, 99));
  const bytes = pack(root);
  expect(bytes[at(bytes, 240, 2)]).toBe(99);
  for (let i = 0; i < 60; i++) expect(bytes[at(bytes, 4 * i, 4)]).toBe(i + 1);
});

test('numbers outside of a field are refused by its name', () => {
  const b = block();
  b.field = 'count';
  expect([b.check(0, 0, 5), b.check(5, 0, 5)]).toEqual([0, 5]);
  for (const v of [-1, 6, 1.5, NaN]) expect(() => b.check(v, 0, 5)).toThrow('as its count');
});
