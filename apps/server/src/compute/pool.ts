import { Worker } from 'node:worker_threads';
import type { TaskFailure, Tasks } from './tasks.js';

export class ComputeError extends Error {
  constructor(readonly failure: TaskFailure) {
    super(failure.message);
  }
}

/** A font is given this long before its thread is stopped and it is refused. */
const LIMIT_MS = 60_000;

/** A view into a larger buffer would be sent with all of that buffer. */
function compact(value: unknown): unknown {
  return value instanceof Uint8Array && value.byteLength < value.buffer.byteLength ? new Uint8Array(value) : value;
}

interface Waiting {
  id: number;
  task: keyof Tasks;
  args: unknown[];
  urgent: boolean;
  resolve: (value: never) => void;
  reject: (error: Error) => void;
}

interface Slot {
  worker: Worker;
  current: Waiting | null;
  timer: NodeJS.Timeout | null;
}

/**
 * Worker threads for everything that takes the processor. Work a person waits for is 'urgent' and goes first.
 * A thread that dies or hangs fails its one task and is replaced.
 */
export class Compute {
  private readonly slots: Slot[] = [];
  private readonly queue: Waiting[] = [];
  private next = 1;
  private closed = false;

  constructor(size: number) {
    for (let i = 0; i < size; i++) this.slots.push(this.open());
  }

  /** @throws ComputeError with the font's own refusal, or code 'internal'. */
  run<K extends keyof Tasks>(task: K, args: Parameters<Tasks[K]>, urgent = false): Promise<Awaited<ReturnType<Tasks[K]>>> {
    return new Promise((resolve, reject) => {
      const waiting: Waiting = { id: this.next++, task, args, urgent, resolve, reject };
      if (urgent) {
        const firstPatient = this.queue.findIndex((w) => !w.urgent);
        this.queue.splice(firstPatient < 0 ? this.queue.length : firstPatient, 0, waiting);
      } else this.queue.push(waiting);
      this.pump();
    });
  }

  /** Opens the known license texts in the thread that is asked first, which takes a second or two, so that nobody waits for it. */
  warm(): void {
    void this.run('recognise', ['']).catch(() => undefined);
  }

  async close(): Promise<void> {
    this.closed = true;
    await Promise.all(this.slots.map((slot) => slot.worker.terminate()));
  }

  private open(): Slot {
    const slot: Slot = { worker: new Worker(new URL('./worker.js', import.meta.url)), current: null, timer: null };
    slot.worker.on('message', (m: { id: number; value?: never; failure?: TaskFailure }) => {
      const { current } = slot;
      if (!current || current.id !== m.id) return;
      this.free(slot);
      if (m.failure) current.reject(new ComputeError(m.failure));
      else current.resolve(m.value as never);
      this.pump();
    });
    slot.worker.on('error', (error) => this.replace(slot, error.message));
    return slot;
  }

  private free(slot: Slot): void {
    if (slot.timer) clearTimeout(slot.timer);
    slot.timer = null;
    slot.current = null;
  }

  private replace(slot: Slot, message: string): void {
    const { current } = slot;
    this.free(slot);
    void slot.worker.terminate();
    const index = this.slots.indexOf(slot);
    if (index >= 0 && !this.closed) this.slots[index] = this.open();
    current?.reject(new ComputeError({ code: 'internal', message }));
    this.pump();
  }

  private pump(): void {
    for (const slot of this.slots) {
      if (slot.current || this.queue.length === 0) continue;
      const waiting = this.queue.shift()!;
      slot.current = waiting;
      slot.timer = setTimeout(() => this.replace(slot, 'The font took too long to read.'), LIMIT_MS);
      slot.worker.postMessage({ id: waiting.id, task: waiting.task, args: waiting.args.map(compact) });
    }
  }
}
