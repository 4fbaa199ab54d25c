import { BACKSTOP, BUSY, LEAST_BACKSTOP_MS, LONG_MS, type Bounds } from './lanes.js';
import type { Doer, Listeners, Order, Reply } from './doers.js';
import type { TaskFailure } from './tasks.js';

/** One order that waits or is carried out. */
export interface Waiting extends Order {
  /** Whose share of the lane it takes. */
  owner: string;
  urgent: boolean;
  /** CPU time it may take, ms. */
  limitMs: number;
  progress: ((done: number, total: number, what: string) => void) | null;
  resolve(value: unknown): void;
  reject(failure: TaskFailure): void;
}

interface Slot {
  doer: Doer | null;
  current: Waiting | null;
  /** Only for owners who have nothing running here. */
  reserve: boolean;
  /** Loading its code, or running for practice: nobody's order yet. */
  warming: boolean;
  began: number;
  /** CPU time of the worker when its order began. */
  cpuBefore: number;
  steppedBack: boolean;
}

export interface LaneOptions {
  /** Workers for everybody. */
  size: number;
  /** Further workers for owners who have nothing running here. */
  reserve: number;
  open(listeners: Listeners, bounds: Bounds): Doer;
  bounds: Bounds;
  /** Orders of one owner that may wait. */
  mostWaiting: number;
  /** What a new worker does first, so that its first order is not the slow one. */
  practice?: Order;
}

/** A view into a larger buffer would be sent with all of that buffer. */
function compact(value: unknown): unknown {
  return value instanceof Uint8Array && value.byteLength < value.buffer.byteLength ? new Uint8Array(value) : value;
}

const DIED = 'The program that reads it came to an end over it.';

/**
 * Workers that carry out orders, taking turns among their owners: each owner has a queue, the next order is of whoever has
 * least running, and among those of whoever was served longest ago. However much one owner asks for, another's first order
 * begins at once on a worker kept for that.
 */
export class Lane {
  private readonly slots: Slot[];
  private readonly queues = new Map<string, Waiting[]>();
  private readonly served = new Map<string, number>();
  private turn = 0;
  private closed = false;

  constructor(private readonly options: LaneOptions) {
    this.slots = Array.from({ length: options.size + options.reserve }, (_, i) => ({
      doer: null,
      current: null,
      reserve: i >= options.size,
      warming: false,
      began: 0,
      cpuBefore: 0,
      steppedBack: false,
    }));
  }

  /** @returns false when the owner has too much waiting already */
  add(waiting: Waiting): boolean {
    const queue = this.queues.get(waiting.owner) ?? [];
    if (queue.length >= this.options.mostWaiting) return false;
    this.queues.set(waiting.owner, queue);
    if (waiting.urgent) {
      const firstPatient = queue.findIndex((w) => !w.urgent);
      queue.splice(firstPatient < 0 ? queue.length : firstPatient, 0, waiting);
    } else queue.push(waiting);
    this.pump();
    return true;
  }

  /** Takes an order back, wherever it is. */
  withdraw(id: number): void {
    for (const [owner, queue] of this.queues) {
      const at = queue.findIndex((w) => w.id === id);
      if (at < 0) continue;
      const [gone] = queue.splice(at, 1);
      if (queue.length === 0) this.queues.delete(owner);
      gone!.reject({ code: 'cancelled', message: 'It was stopped as asked.' });
      return;
    }
    const slot = this.slots.find((s) => s.current?.id === id);
    if (slot) this.abandon(slot, { code: 'cancelled', message: 'It was stopped as asked.' });
  }

  close(): void {
    this.closed = true;
    for (const slot of this.slots) slot.doer?.end();
  }

  /** Starts workers ahead of need. */
  warm(): void {
    for (const slot of this.slots) if (!slot.reserve) this.ensure(slot);
  }

  /** Ends what takes more than it may, and lets long work step back. */
  watch(): void {
    const { bounds } = this.options;
    for (const slot of this.slots) {
      const { current, doer } = slot;
      if (!current || !doer || slot.warming) continue;
      if ((doer.memory() ?? 0) > bounds.memoryMiB) {
        this.abandon(slot, { code: 'too-hungry', message: bounds.tooHungry });
        continue;
      }
      const clock = performance.now() - slot.began;
      const cpu = doer.cpu();
      const taken = cpu === null ? clock : cpu - slot.cpuBefore;
      if (taken > current.limitMs) this.abandon(slot, { code: 'too-slow', message: bounds.tooSlow(current.limitMs) });
      else if (clock > Math.max(LEAST_BACKSTOP_MS, current.limitMs * BACKSTOP)) this.abandon(slot, { code: 'busy', message: BUSY });
      else if (taken > LONG_MS && !slot.steppedBack) slot.steppedBack = doer.stepBack();
    }
  }

  /** Starts a slot's worker where it has none. What one that was replaced still says is not listened to. */
  private ensure(slot: Slot): void {
    if (slot.doer) return;
    slot.warming = true;
    const { bounds, open } = this.options;
    const doer: Doer = open(
      {
        reply: (reply) => {
          if (slot.doer === doer) this.take(slot, reply);
        },
        died: (why) => {
          if (slot.doer !== doer) return;
          this.abandon(
            slot,
            why === bounds.tooHungry ? { code: 'too-hungry', message: why } : { code: 'died', message: `${DIED} (${why})` },
          );
        },
      },
      bounds,
    );
    slot.doer = doer;
  }

  private take(slot: Slot, reply: Reply): void {
    if ('ready' in reply) {
      if (this.options.practice) slot.doer!.send(this.options.practice);
      else this.begin(slot);
      return;
    }
    if (slot.warming && reply.id === this.options.practice?.id) {
      if (!('progress' in reply)) this.begin(slot);
      return;
    }
    const { current } = slot;
    if (!current || current.id !== reply.id) return;
    if ('progress' in reply) {
      current.progress?.(...reply.progress);
      return;
    }
    slot.current = null;
    // What it keeps of this order must not count against the next one.
    const staysBehind = slot.steppedBack && !slot.doer!.comeForward();
    slot.steppedBack = false;
    if (staysBehind || (slot.doer!.memory() ?? 0) > this.options.bounds.memoryMiB / 3) this.replace(slot);
    if (reply.failure) current.reject(reply.failure);
    else current.resolve(reply.value);
    this.pump();
  }

  /** The worker is ready: the order that waited for it is sent. */
  private begin(slot: Slot): void {
    slot.warming = false;
    if (slot.current) this.send(slot, slot.current);
    else this.pump();
  }

  private replace(slot: Slot): void {
    slot.doer?.end();
    slot.doer = null;
    slot.warming = false;
    slot.steppedBack = false;
  }

  private abandon(slot: Slot, failure: TaskFailure): void {
    const { current } = slot;
    slot.current = null;
    this.replace(slot);
    current?.reject(failure);
    if (!this.closed && this.options.practice && !slot.reserve) this.ensure(slot);
    this.pump();
  }

  private runningOf(owner: string): number {
    return this.slots.reduce((n, s) => n + (s.current?.owner === owner ? 1 : 0), 0);
  }

  /** Whose order is next for a worker. */
  private nextOwner(reserve: boolean): string | null {
    let best: string | null = null;
    let least = Infinity;
    for (const owner of this.queues.keys()) {
      const running = this.runningOf(owner);
      if (reserve ? running > 0 : running >= this.options.size) continue;
      if (running < least || (running === least && (this.served.get(owner) ?? 0) < (this.served.get(best!) ?? 0))) {
        best = owner;
        least = running;
      }
    }
    return best;
  }

  private pump(): void {
    if (this.closed) return;
    // Workers that are up and idle come before those that must be started, and those for everybody before the reserve.
    const free = this.slots.filter((s) => !s.current);
    free.sort((a, b) => Number(a.reserve) - Number(b.reserve) || rank(a) - rank(b));
    for (const slot of free) {
      if (slot.current) continue;
      const owner = this.nextOwner(slot.reserve);
      if (owner === null) continue;
      const queue = this.queues.get(owner)!;
      const waiting = queue.shift()!;
      if (queue.length === 0) this.queues.delete(owner);
      this.served.set(owner, ++this.turn);
      if (this.served.size > 5000) this.served.delete(this.served.keys().next().value!);
      slot.current = waiting;
      slot.began = performance.now();
      this.ensure(slot);
      if (!slot.warming) this.send(slot, waiting);
    }
    // Once everybody's workers are busy, the reserve is made ready for whoever comes next.
    if (this.slots.every((s) => s.reserve || s.current)) for (const slot of this.slots) if (slot.reserve) this.ensure(slot);
  }

  private send(slot: Slot, waiting: Waiting): void {
    slot.began = performance.now();
    slot.cpuBefore = slot.doer!.cpu() ?? 0;
    try {
      slot.doer!.send({ id: waiting.id, task: waiting.task, args: waiting.args.map(compact) });
    } catch (error) {
      this.abandon(slot, { code: 'internal', message: (error as Error).message });
    }
  }
}

const rank = (slot: Slot): number => (slot.doer === null ? 2 : slot.warming ? 1 : 0);
