import { FontError } from '../errors.js';
import { Writer } from '../writer.js';

interface Link {
  /** Where the offset is written, from the start of the block. */
  at: number;
  size: 2 | 3 | 4;
  target: Block;
}

let serial = 0;

/** Blocks that were written, by what they say: equal ones are stored once. */
export type Pool = Map<string, Block>;

/**
 * A table in the making: bytes, and offsets to other blocks that are known only when all blocks have their place.
 * Offsets count from the start of the block that holds them, as in OpenType.
 */
export class Block {
  readonly writer: Writer;
  readonly links: Link[] = [];
  /** Tells blocks apart in the keys of a pool. */
  readonly id = serial++;
  /** The field being written, for error messages. */
  field = '';
  constructor(
    readonly table: string,
    /** Where equal blocks are looked for; another pool keeps two parts of a table from sharing. */
    public pool: Pool,
  ) {
    this.writer = new Writer(64);
  }

  /** Leaves room for an offset to `target`; null is an offset of 0. */
  link(size: 2 | 3 | 4, target: Block | null): void {
    if (target) this.links.push({ at: this.writer.length, size, target });
    for (let i = 0; i < size; i++) this.writer.u8(0);
  }

  /** Writes a block of its own, or finds the equal one that is there. */
  child(fill: (block: Block) => void, pool: Pool = this.pool): Block {
    const block = new Block(this.table, pool);
    fill(block);
    const key = block.key();
    const known = pool.get(key);
    if (known) return known;
    pool.set(key, block);
    return block;
  }

  private key(): string {
    const bytes = this.writer.done();
    let text = '';
    for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
    return `${text}|${this.links.map((l) => `${l.at}:${l.size}:${l.target.id}`).join()}`;
  }

  /** @throws FontError when a value does not fit the field's type. */
  check(value: number, min: number, max: number): number {
    if (!(Number.isInteger(value) && value >= min && value <= max))
      throw new FontError('does-not-fit', `The ${this.table.trim()} table cannot hold ${value} as its ${this.field || 'value'}.`, {
        table: this.table,
      });
    return value;
  }
}

/** Some offset cannot reach its target in the two or three bytes it has. */
export class OffsetOverflow extends FontError {
  constructor(table: string) {
    super('does-not-fit', `The ${table.trim()} table is too large for the offsets its format has.`, { table });
    this.name = 'OffsetOverflow';
  }
}

/** The cheapest first: distances of blocks from the root. */
class Queue {
  private readonly heap: { cost: number; order: number; block: Block }[] = [];
  private count = 0;
  get size(): number {
    return this.heap.length;
  }
  push(cost: number, block: Block): void {
    const { heap } = this;
    heap.push({ cost, order: this.count++, block });
    for (let i = heap.length - 1; i > 0;) {
      const up = (i - 1) >> 1;
      if (!this.before(i, up)) break;
      [heap[i], heap[up]] = [heap[up]!, heap[i]!];
      i = up;
    }
  }
  pop(): { cost: number; block: Block } {
    const { heap } = this;
    const top = heap[0]!;
    const last = heap.pop()!;
    if (heap.length > 0) {
      heap[0] = last;
      for (let i = 0; ;) {
        let least = i;
        for (const child of [2 * i + 1, 2 * i + 2]) if (child < heap.length && this.before(child, least)) least = child;
        if (least === i) break;
        [heap[i], heap[least]] = [heap[least]!, heap[i]!];
        i = least;
      }
    }
    return top;
  }
  private before(i: number, j: number): boolean {
    const a = this.heap[i]!;
    const b = this.heap[j]!;
    return a.cost < b.cost || (a.cost === b.cost && a.order < b.order);
  }
}

/** What lies behind a wide offset can wait until all that lies behind narrow ones has its place. */
const FAR = 2 ** 34;

/**
 * How far each block is from the root along the shortest way, in bytes. What lies behind a wide offset makes a space of its
 * own, far from all others, so that the narrow offsets within it have no foreign blocks to cross.
 */
function distances(root: Block): Map<Block, number> {
  const cost = new Map<Block, number>([[root, 0]]);
  const spaces = new Map<Block, number>();
  const spaceOf = (target: Block): number => {
    let space = spaces.get(target);
    if (space === undefined) spaces.set(target, (space = FAR * (spaces.size + 1)));
    return space;
  };
  const queue = new Queue();
  queue.push(0, root);
  while (queue.size > 0) {
    const { cost: known, block } = queue.pop();
    if (known > cost.get(block)!) continue;
    for (const { size, target } of block.links) {
      const next = size === 4 ? spaceOf(target) : known + target.writer.length + (size === 3 ? FAR / 1024 : 0);
      if (next < (cost.get(target) ?? Infinity)) {
        cost.set(target, next);
        queue.push(next, target);
      }
    }
  }
  return cost;
}

/**
 * Lays the blocks behind one another, each before what it points to and the near ones first, and fills the offsets in.
 * @throws OffsetOverflow when an offset does not reach
 */
export function pack(root: Block): Uint8Array {
  const cost = distances(root);
  const waiting = new Map<Block, number>();
  for (const block of cost.keys()) for (const { target } of block.links) waiting.set(target, (waiting.get(target) ?? 0) + 1);
  const queue = new Queue();
  queue.push(0, root);
  const place = new Map<Block, number>();
  let end = 0;
  while (queue.size > 0) {
    const { block } = queue.pop();
    place.set(block, end);
    end += block.writer.length;
    for (const { target } of block.links) {
      const left = waiting.get(target)! - 1;
      waiting.set(target, left);
      if (left === 0) queue.push(cost.get(target)!, target);
    }
  }
  const out = new Uint8Array(end);
  for (const [block, start] of place) {
    out.set(block.writer.done(), start);
    for (const { at, size, target } of block.links) {
      let offset = place.get(target)! - start;
      if (offset >= 256 ** size) throw new OffsetOverflow(block.table);
      for (let i = size - 1; i >= 0; i--) {
        out[start + at + i] = offset & 0xff;
        offset = Math.floor(offset / 256);
      }
    }
  }
  return out;
}
