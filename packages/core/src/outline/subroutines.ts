import { putInteger, Writer } from '../sfnt/index.js';
import { OP } from './charstring-operators.js';

/** Programs that call what they share. */
export interface SharedPrograms {
  charStrings: Uint8Array[];
  globalSubrs: Uint8Array[];
  localSubrs: Uint8Array[];
}

/** Longer parts are not looked for, in operands and operators. */
const MOST_LENGTH = 512;
/** Calls within calls. Source: Adobe Technical Note 5177, appendix B. */
const MOST_DEPTH = 10;
const ROUNDS = 8;
/** What a subroutine costs beside its program: its place in the index. */
const PLACE = 2;
/** Numbers that take one byte, of either sign and none; half of what an index has of them. */
const SHORT = 107;
const MOST_SUBROUTINES = 32_000;

/** Operands and operators of programs as numbers: the same number for the same bytes, and one of its own after each program. */
interface Tokens {
  ids: Int32Array;
  /** Where the bytes of a token begin, with the end behind the last. */
  starts: Int32Array;
  bytes: Uint8Array;
  /** First token of each program, with the end behind the last. */
  firsts: Int32Array;
}

/** Bytes of the operand or operator that begins with a byte. Source: Technical Note 5177, tables 1 and 2. */
const lengthOf = (b: number): number => (b === OP.escape ? 2 : b === OP.shortint ? 3 : b < 32 || b <= 246 ? 1 : b <= 254 ? 2 : 5);

function tokensOf(programs: readonly Uint8Array[]): Tokens {
  const bytes = new Uint8Array(programs.reduce((n, p) => n + p.length, 0));
  const starts: number[] = [];
  const ids: number[] = [];
  const firsts = new Int32Array(programs.length + 1);
  const known = new Map<number, number>();
  let at = 0;
  programs.forEach((program, p) => {
    firsts[p] = ids.length;
    bytes.set(program, at);
    for (let i = 0; i < program.length;) {
      const length = lengthOf(program[i]!);
      let key = length;
      for (let k = 0; k < length; k++) key = key * 256 + (program[i + k] ?? 0);
      let id = known.get(key);
      if (id === undefined) known.set(key, (id = known.size));
      ids.push(id);
      starts.push(at + i);
      i += length;
    }
    at += program.length;
    // A mark that no other program has, of no bytes, so that nothing is shared across two.
    ids.push(-1 - p);
    starts.push(at);
  });
  firsts[programs.length] = ids.length;
  starts.push(at);
  return { ids: Int32Array.from(ids, (id) => (id < 0 ? known.size - 1 - id : id)), starts: Int32Array.from(starts), bytes, firsts };
}

/** Places sorted by what follows them, exactly up to MOST_LENGTH tokens; by doubling (Manber and Myers, 1993). */
function suffixesOf(ids: Int32Array): { order: Int32Array; rank: Int32Array } {
  const n = ids.length;
  const order = new Int32Array(n);
  const byTail = new Int32Array(n);
  let rank = ids.slice();
  let next = new Int32Array(n);
  let most = rank.reduce((a, b) => Math.max(a, b), 0);
  const counts = new Int32Array(Math.max(n, most) + 2);
  /** Sorts places by their rank; those of one rank stay in the order of `source`. */
  const sort = (source: Int32Array): void => {
    counts.fill(0, 0, most + 1);
    for (let i = 0; i < n; i++) counts[rank[i]!]!++;
    for (let k = 1; k <= most; k++) counts[k]! += counts[k - 1]!;
    for (let i = n - 1; i >= 0; i--) order[--counts[rank[source[i]!]!]!] = source[i]!;
  };
  /** Ranks anew by `half` tokens and as many after them. */
  const rerank = (half: number): void => {
    const tail = (place: number): number => (half > 0 && place + half < n ? rank[place + half]! : -1);
    let r = 0;
    for (let i = 0; i < n; i++) {
      const place = order[i]!;
      if (i > 0 && (rank[order[i - 1]!] !== rank[place] || tail(order[i - 1]!) !== tail(place))) r++;
      next[place] = r;
    }
    [rank, next] = [next, rank];
    most = r;
  };
  sort(byTail.map((_, i) => i));
  rerank(0);
  for (let half = 1; half < MOST_LENGTH && most < n - 1; half *= 2) {
    // By the second half first; those that have none come before all others.
    let at = 0;
    for (let i = Math.max(0, n - half); i < n; i++) byTail[at++] = i;
    for (let i = 0; i < n; i++) if (order[i]! >= half) byTail[at++] = order[i]! - half;
    sort(byTail);
    rerank(half);
  }
  order.forEach((place, i) => (rank[place] = i));
  return { order, rank };
}

/** How many tokens each suffix shares with the one before it in order. Source: Kasai and others, 2001. */
function sharedLengths(ids: Int32Array, order: Int32Array, rank: Int32Array): Int32Array {
  const n = ids.length;
  const shared = new Int32Array(n + 1);
  let h = 0;
  for (let i = 0; i < n; i++) {
    const r = rank[i]!;
    // Beyond the length that is looked at the order is not exact, and what is known of the one before does not carry over.
    if (r === 0 || h >= MOST_LENGTH) h = 0;
    if (r === 0) continue;
    const j = order[r - 1]!;
    while (h < MOST_LENGTH && i + h < n && j + h < n && ids[i + h] === ids[j + h]) h++;
    shared[r] = h;
    if (h > 0) h--;
  }
  return shared;
}

/** A part that occurs more than once. */
interface Part {
  /** Where it occurs first, and how long it is, in tokens. */
  at: number;
  length: number;
  /** The next shorter part that begins wherever this one does; -1 for none. */
  parent: number;
  /** Bytes of its program with calls in it, without the return. */
  own: number;
  uses: number;
  /** Bytes of a call of it. */
  call: number;
  /** Whether it ends its glyph, so that it needs no return. */
  ends: boolean;
}

/** Parts worth a subroutine, each after those that begin with it, and the longest one at each place. */
function partsOf(t: Tokens): { parts: Part[]; longest: Int32Array } {
  const { order, rank } = suffixesOf(t.ids);
  const shared = sharedLengths(t.ids, order, rank);
  const n = order.length;
  const parts: Part[] = [];
  // Intervals of the shared lengths are the inner nodes of the suffix tree (Abouelhoda and others, 2004); which of them a place
  // hangs from is known as they close, from the innermost to the outermost.
  const longest = new Int32Array(n).fill(-1);
  const open: { length: number; from: number; inner: number[] }[] = [{ length: 0, from: 0, inner: [] }];
  const close = (to: number): void => {
    const { length, from, inner } = open.pop()!;
    const at = order[from]!;
    const own = t.starts[at + length]! - t.starts[at]!;
    const outer = open[open.length - 1]!;
    if (length < 2 || (to - from) * (own - 2) <= own + PLACE) {
      outer.inner.push(...inner);
      return;
    }
    const id = parts.length;
    const last = t.starts[at + length - 1]!;
    const ends = t.bytes[last] === OP.endchar && t.starts[at + length]! - last === 1;
    parts.push({ at, length, parent: -1, own, uses: to - from, call: 3, ends });
    for (const child of inner) parts[child]!.parent = id;
    for (let i = from; i < to; i++) if (longest[order[i]!] === -1) longest[order[i]!] = id;
    outer.inner.push(id);
  };
  for (let i = 1; i <= n; i++) {
    const length = i < n ? shared[i]! : 0;
    let from = i - 1;
    while (open[open.length - 1]!.length > length) {
      from = open[open.length - 1]!.from;
      // What comes next shares less with it, but more than what surrounds it: an interval around both.
      if (open[open.length - 2]!.length < length) open.splice(-1, 0, { length, from, inner: [] });
      close(i);
    }
    if (length > open[open.length - 1]!.length) open.push({ length, from, inner: [] });
  }
  return { parts, longest };
}

/** Chooses what is shared, by prices that follow from how often each part was called the time before. */
class Sharing {
  private readonly cost: Float64Array;
  private readonly choice: Int32Array;
  private readonly price: Float64Array;
  private readonly programs: [number, number][];
  constructor(
    private readonly t: Tokens,
    private readonly parts: Part[],
    private readonly longest: Int32Array,
  ) {
    this.cost = new Float64Array(t.ids.length + 1);
    this.choice = new Int32Array(t.ids.length + 1);
    this.price = new Float64Array(parts.length);
    this.programs = Array.from({ length: t.firsts.length - 1 }, (_, p) => [t.firsts[p]!, t.firsts[p + 1]! - 1]);
  }

  /** The cheapest way to write tokens, with parts shorter than a length only: the parts called, each with its place. */
  private parse(from: number, to: number, below: number): [number, number][] {
    const { cost, choice, parts, longest, t, price } = this;
    cost[to] = 0;
    for (let i = to - 1; i >= from; i--) {
      let best = t.starts[i + 1]! - t.starts[i]! + cost[i + 1]!;
      let chosen = -1;
      for (let p = longest[i]!; p >= 0; p = parts[p]!.parent) {
        const { length } = parts[p]!;
        if (length >= below || i + length > to) continue;
        const c = price[p]! + cost[i + length]!;
        if (c < best) [best, chosen] = [c, p];
      }
      cost[i] = best;
      choice[i] = chosen;
    }
    const calls: [number, number][] = [];
    for (let i = from; i < to; i += choice[i]! < 0 ? 1 : parts[choice[i]!]!.length) if (choice[i]! >= 0) calls.push([i, choice[i]!]);
    return calls;
  }

  /** Leaves parts out of the chains that places go by. */
  private keep(alive: readonly number[]): void {
    const { parts, longest } = this;
    const kept = new Uint8Array(parts.length);
    for (const p of alive) kept[p] = 1;
    // Parents come after their children: from the end each finds the next that stays.
    const to = new Int32Array(parts.length);
    for (let p = parts.length - 1; p >= 0; p--) {
      const part = parts[p]!;
      if (part.parent >= 0) part.parent = to[part.parent]!;
      to[p] = kept[p] ? p : part.parent;
    }
    for (let i = 0; i < longest.length; i++) if (longest[i]! >= 0) longest[i] = to[longest[i]!]!;
  }

  /** What a subroutine costs once, whoever calls it. */
  private once({ own, ends }: Part): number {
    return own + (ends ? 0 : 1) + PLACE;
  }

  /** Calls of every program and of every part that is used, at the prices of the moment; counts the uses. */
  private round(alive: readonly number[]): { programs: [number, number][][]; inner: Map<number, [number, number][]> } {
    const { parts, t } = this;
    for (const p of alive) parts[p]!.uses = 0;
    const count = (calls: [number, number][]): [number, number][] => {
      for (const [, p] of calls) parts[p]!.uses++;
      return calls;
    };
    const programs = this.programs.map(([from, to]) => count(this.parse(from, to, Infinity)));
    const inner = new Map<number, [number, number][]>();
    // The longest first, so that all who call a part are known before it.
    for (const p of [...alive].sort((a, b) => parts[b]!.length - parts[a]!.length)) {
      const part = parts[p]!;
      if (part.uses === 0) continue;
      const calls = count(this.parse(part.at, part.at + part.length, part.length));
      inner.set(p, calls);
      part.own = t.starts[part.at + part.length]! - t.starts[part.at]!;
      for (const [i, called] of calls) part.own += parts[called]!.call - (t.starts[i + parts[called]!.length]! - t.starts[i]!);
    }
    // Those that are called most have the shortest numbers.
    [...inner.keys()]
      .sort((a, b) => parts[b]!.uses - parts[a]!.uses)
      .forEach((p, rank) => (parts[p]!.call = rank < 4 * SHORT ? 2 : rank < 4400 ? 3 : 4));
    return { programs, inner };
  }

  /** Prices: a call, and as much of the subroutine as falls to one of its uses. */
  private amortise(alive: readonly number[], expected: Float64Array): void {
    for (const p of alive) this.price[p] = this.parts[p]!.call + this.once(this.parts[p]!) / Math.max(0.5, expected[p]!);
  }

  /** @returns the programs and the parts they call, by their calls */
  choose(): { programs: [number, number][][]; inner: Map<number, [number, number][]> } {
    const { parts, price } = this;
    let alive = parts.map((_, p) => p);
    const expected = Float64Array.from(parts, (p) => p.uses);
    for (let round = 0; round < ROUNDS; round++) {
      this.amortise(alive, expected);
      this.round(alive);
      for (const p of alive) expected[p] = (expected[p]! + parts[p]!.uses) / 2;
    }
    // Those that stay are there anyway now, and only the call is paid; the worst go first, since their uses fall to others.
    for (let left = true; left;) {
      for (const p of alive) price[p] = parts[p]!.call;
      const { inner } = this.round(alive);
      const gains = [...inner.keys()].map((p) => [p, parts[p]!.uses * (parts[p]!.own - parts[p]!.call) - this.once(parts[p]!)] as const);
      const losing = gains.filter(([, gain]) => gain <= 0).sort((x, y) => x[1] - y[1]);
      const gone = new Set(losing.slice(0, Math.ceil(losing.length / 4)).map(([p]) => p));
      left = losing.length > 0;
      alive = gains.map(([p]) => p).filter((p) => !gone.has(p));
      this.keep(alive);
    }
    alive = alive.sort((a, b) => parts[b]!.uses - parts[a]!.uses).slice(0, MOST_SUBROUTINES);
    for (;;) {
      this.keep(alive);
      for (const p of alive) price[p] = parts[p]!.call;
      const found = this.round(alive);
      const depth = new Map<number, number>();
      for (const p of [...found.inner.keys()].sort((a, b) => parts[a]!.length - parts[b]!.length))
        depth.set(p, 1 + found.inner.get(p)!.reduce((most, [, called]) => Math.max(most, depth.get(called)!), 0));
      const shallow = alive.filter((p) => (depth.get(p) ?? 1) <= MOST_DEPTH);
      if (shallow.length === alive.length) return found;
      alive = shallow;
    }
  }
}

/** What is added to the number of a subroutine before it is called. Source: Technical Note 5177, section 4.7. */
const biasOf = (count: number): number => (count < 1240 ? 107 : count < 33_900 ? 1131 : 32_768);

/**
 * Programs without hints, masks and calls, as CharStringPen writes them, with what they have in common written once as local and
 * global subroutines. Parts that repeat are found by a suffix array; which of them are worth their place, by dynamic programming
 * over all programs with prices that settle in a few rounds.
 */
export function shareSubroutines(programs: readonly Uint8Array[]): SharedPrograms {
  const t = tokensOf(programs);
  const { parts, longest } = partsOf(t);
  if (parts.length === 0) return { charStrings: [...programs], globalSubrs: [], localSubrs: [] };
  const { programs: calls, inner } = new Sharing(t, parts, longest).choose();
  // By turns into both indexes, so that both halves of the short numbers are used; those called most in the middle of each.
  const ranked = [...inner.keys()].sort((a, b) => parts[b]!.uses - parts[a]!.uses || a - b);
  const both = ranked.length > 2 * SHORT;
  const lists: [number[], number[]] = [ranked.filter((_, i) => !both || i % 2 === 0), both ? ranked.filter((_, i) => i % 2 === 1) : []];
  const numbers = new Map<number, { operand: number; operator: number }>();
  const placed = lists.map((list, which) => {
    const bias = biasOf(list.length);
    const middleOut = list.map((_, i) => i).sort((a, b) => Math.abs(a - bias) - Math.abs(b - bias));
    const at: number[] = [];
    list.forEach((p, i) => {
      const index = middleOut[i]!;
      at[index] = p;
      numbers.set(p, { operand: index - bias, operator: which === 0 ? OP.callsubr : OP.callgsubr });
    });
    return at;
  });
  const write = (from: number, to: number, called: readonly [number, number][], returns: boolean): Uint8Array => {
    const w = new Writer(64);
    let at = from;
    for (const [i, p] of called) {
      w.put(t.bytes.subarray(t.starts[at], t.starts[i]));
      const { operand, operator } = numbers.get(p)!;
      putInteger(w, operand);
      w.u8(operator);
      at = i + parts[p]!.length;
    }
    w.put(t.bytes.subarray(t.starts[at], t.starts[to]));
    if (returns) w.u8(OP.return);
    return w.done().slice();
  };
  const subroutine = (p: number): Uint8Array => {
    const { at, length, ends } = parts[p]!;
    return write(at, at + length, inner.get(p)!, !ends);
  };
  return {
    charStrings: calls.map((c, p) => write(t.firsts[p]!, t.firsts[p + 1]! - 1, c, false)),
    localSubrs: placed[0]!.map(subroutine),
    globalSubrs: placed[1]!.map(subroutine),
  };
}
