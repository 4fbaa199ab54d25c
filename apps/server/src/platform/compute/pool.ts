import { fork, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { constants, setPriority } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { TaskFailure, Tasks } from './tasks.js';

export class ComputeError extends Error {
  constructor(readonly failure: TaskFailure) {
    super(failure.message);
  }

  /** Whether the thread or process had to be ended: trying again may end it again. */
  get gaveUp(): boolean {
    return ['too-slow', 'too-hungry', 'died'].includes(this.failure.code);
  }
}

/** What one piece of work may take, in MiB of resident memory for a process and of JavaScript heap for a thread. */
const MEMORY_MIB = 512;
const HEAP_MIB = 384;

/**
 * Work that nobody waits for must never stand in the way of work that somebody does, and what strangers send is only read
 * in processes that can be ended without harm. So there are lanes, each with its own workers:
 * - `interactive`: threads for what a person waits for, over fonts that were read before;
 * - `texts`: one thread that keeps the known license texts;
 * - `reading`: processes of low priority in which received archives, documents and fonts are read;
 * - `reports`: one such process for PDF and PNG;
 * - `making`: such processes for what is made of whole faces, with more memory and time, so that nothing received waits for them.
 */
type LaneName = 'interactive' | 'texts' | 'reading' | 'reports' | 'making';

/** Tasks with a lane of their own; the others run where they are asked for. Milliseconds until a worker is ended. */
const LANE_OF: Partial<Record<keyof Tasks, LaneName>> = {
  recognise: 'texts',
  belongings: 'texts',
  rehearse: 'reading',
  listZip: 'reading',
  takeOut: 'reading',
  sortBytes: 'reading',
  readDocument: 'reading',
  addresses: 'reading',
  paint: 'reports',
  writePdf: 'reports',
  houseSheet: 'reports',
  convert: 'making',
  makeProduct: 'making',
  familiesInDrawings: 'reading',
  takeIcons: 'reading',
  shapeIcons: 'reading',
  readIconFile: 'reading',
  makeIcons: 'making',
  makeTypeface: 'making',
  readTypefaceFile: 'reading',
  readSheets: 'making',
  traceBoxes: 'reading',
  vectorLetters: 'reading',
  sheetFile: 'reports',
  decodePicture: 'reading',
  searchAgain: 'reading',
};
const LIMIT_MS: Partial<Record<keyof Tasks, number>> = {
  recognise: 20_000,
  readDocument: 30_000,
  addresses: 15_000,
  inspect: 60_000,
  writePdf: 180_000,
  // A face of 65,535 glyphs takes minutes to be given other outlines and compared.
  convert: 600_000,
  makeProduct: 600_000,
  takeIcons: 120_000,
  shapeIcons: 120_000,
  readIconFile: 180_000,
  makeIcons: 600_000,
  readSheets: 180_000,
  makeTypeface: 300_000,
};
const USUAL_LIMIT_MS = 60_000;

/** How long a process reads for practice when the server starts. */
const REHEARSAL_MS = 1500;

/** What a lane's workers may take, and what is said of work that takes more. */
interface Bounds {
  memoryMiB: number;
  heapMiB: number;
  tooSlow: string;
  tooHungry: string;
}
const READING: Bounds = {
  memoryMiB: MEMORY_MIB,
  heapMiB: HEAP_MIB,
  tooSlow: 'Reading it took too long, as harmful files do.',
  tooHungry: `Reading it took more than ${MEMORY_MIB} MiB of memory, as harmful files do.`,
};
const MAKING: Bounds = {
  memoryMiB: 1024,
  heapMiB: 896,
  tooSlow: 'Making it took longer than ten minutes, and was stopped. Nothing was made.',
  tooHungry: 'Making it took more than 1 GiB of memory, and was stopped. Nothing was made.',
};

const DIED = 'The program that reads it came to an end over it.';

/** A view into a larger buffer would be sent with all of that buffer. */
function compact(value: unknown): unknown {
  return value instanceof Uint8Array && value.byteLength < value.buffer.byteLength ? new Uint8Array(value) : value;
}

interface Order {
  id: number;
  task: keyof Tasks;
  args: unknown[];
}
type Reply = { id: number; value?: never; failure?: TaskFailure };

interface Waiting extends Order {
  urgent: boolean;
  limitMs: number;
  resolve: (value: never) => void;
  reject: (error: Error) => void;
}

/** A thread or a process that carries out one order at a time. */
interface Doer {
  send(order: Order): void;
  end(): void;
  /** Resident memory in MiB; null where another limit holds. */
  memory(): number | null;
}

interface Slot {
  doer: Doer | null;
  current: Waiting | null;
  timer: NodeJS.Timeout | null;
}

type Listeners = { reply: (reply: Reply) => void; died: (why: string) => void };

function openThread({ reply, died }: Listeners, { heapMiB, tooHungry }: Bounds): Doer {
  const worker = new Worker(new URL('./worker.js', import.meta.url), {
    resourceLimits: { maxOldGenerationSizeMb: heapMiB, maxYoungGenerationSizeMb: 64 },
  });
  worker.on('message', reply);
  worker.on('error', (error: NodeJS.ErrnoException) => died(error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? tooHungry : error.message));
  return { send: (order) => worker.postMessage(order), end: () => void worker.terminate(), memory: () => null };
}

function openProcess({ reply, died }: Listeners, { heapMiB, tooHungry }: Bounds): Doer {
  const child: ChildProcess = fork(new URL('./child.js', import.meta.url), [], {
    serialization: 'advanced',
    execArgv: [`--max-old-space-size=${heapMiB}`],
    // Only what it needs to run; no passwords.
    env: { PATH: process.env.PATH ?? '' },
    stdio: ['ignore', 'inherit', 'ignore', 'ipc'],
  });
  let over = false;
  const once = (why: string): void => {
    if (!over) died(why);
    over = true;
  };
  try {
    setPriority(child.pid!, constants.priority.PRIORITY_BELOW_NORMAL);
  } catch {
    // It runs at the usual priority then.
  }
  child.on('message', (m) => reply(m as Reply));
  child.on('error', (error) => once(error.message));
  // A full heap ends Node with SIGABRT.
  child.on('exit', (code, signal) => once(signal === 'SIGABRT' || code === 134 ? tooHungry : `ended with ${signal ?? code}`));
  return {
    send: (order) => void child.send(order),
    end: () => {
      over = true;
      child.kill('SIGKILL');
    },
    memory: () => residentMiB(child.pid),
  };
}

/** Source: proc(5), /proc/pid/status, VmRSS in kB. */
function residentMiB(pid: number | undefined): number | null {
  try {
    return Number(/^VmRSS:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  } catch {
    return null;
  }
}

class Lane {
  private readonly slots: Slot[];
  private readonly queue: Waiting[] = [];
  private closed = false;

  constructor(
    size: number,
    private readonly open: (listeners: Listeners, bounds: Bounds) => Doer,
    private readonly bounds: Bounds = READING,
  ) {
    this.slots = Array.from({ length: size }, () => ({ doer: null, current: null, timer: null }));
  }

  add(waiting: Waiting): void {
    if (waiting.urgent) {
      const firstPatient = this.queue.findIndex((w) => !w.urgent);
      this.queue.splice(firstPatient < 0 ? this.queue.length : firstPatient, 0, waiting);
    } else this.queue.push(waiting);
    this.pump();
  }

  close(): void {
    this.closed = true;
    for (const slot of this.slots) slot.doer?.end();
  }

  /** Ends what takes more memory than it may. */
  watch(): void {
    for (const slot of this.slots)
      if (slot.current && (slot.doer?.memory() ?? 0) > this.bounds.memoryMiB)
        this.abandon(slot, { code: 'too-hungry', message: this.bounds.tooHungry });
  }

  private doerOf(slot: Slot): Doer {
    slot.doer ??= this.open(this.listenersOf(slot), this.bounds);
    return slot.doer;
  }

  private listenersOf(slot: Slot): Listeners {
    return {
      reply: (reply) => {
        const { current } = slot;
        if (!current || current.id !== reply.id) return;
        this.free(slot);
        if (reply.failure) current.reject(new ComputeError(reply.failure));
        else current.resolve(reply.value as never);
        this.pump();
      },
      died: (why) =>
        this.abandon(
          slot,
          why === this.bounds.tooHungry ? { code: 'too-hungry', message: why } : { code: 'died', message: `${DIED} (${why})` },
        ),
    };
  }

  private free(slot: Slot): void {
    if (slot.timer) clearTimeout(slot.timer);
    slot.timer = null;
    slot.current = null;
  }

  private abandon(slot: Slot, failure: TaskFailure): void {
    const { current } = slot;
    this.free(slot);
    slot.doer?.end();
    slot.doer = null;
    current?.reject(new ComputeError(failure));
    this.pump();
  }

  private pump(): void {
    if (this.closed) return;
    for (const slot of this.slots) {
      if (slot.current || this.queue.length === 0) continue;
      const waiting = this.queue.shift()!;
      slot.current = waiting;
      slot.timer = setTimeout(() => this.abandon(slot, { code: 'too-slow', message: this.bounds.tooSlow }), waiting.limitMs);
      try {
        this.doerOf(slot).send({ id: waiting.id, task: waiting.task, args: waiting.args.map(compact) });
      } catch (error) {
        this.abandon(slot, { code: 'internal', message: (error as Error).message });
      }
    }
  }
}

/** Everything that takes the processor. A worker that dies, hangs or takes too much memory fails its one task and is replaced. */
export class Compute {
  private readonly lanes: Readonly<Record<LaneName, Lane>>;
  private readonly watching: NodeJS.Timeout;
  private next = 1;

  /** @param limits milliseconds until a worker is ended over a task, where that is not the usual limit */
  constructor(
    private readonly size: number,
    private readonly limits: Partial<Record<keyof Tasks, number>> = LIMIT_MS,
  ) {
    this.lanes = {
      interactive: new Lane(size, openThread),
      texts: new Lane(1, openThread),
      reading: new Lane(size, openProcess),
      reports: new Lane(1, openProcess),
      making: new Lane(size, openProcess, MAKING),
    };
    this.watching = setInterval(() => Object.values(this.lanes).forEach((lane) => lane.watch()), 50);
    this.watching.unref();
  }

  /**
   * @param urgent whether a person waits for it
   * @throws ComputeError with the font's own refusal, with 'too-slow' or 'too-hungry', or with code 'internal'
   */
  run<K extends keyof Tasks>(task: K, args: Parameters<Tasks[K]>, urgent = false): Promise<Awaited<ReturnType<Tasks[K]>>> {
    return new Promise((resolve, reject) => {
      const lane = this.lanes[LANE_OF[task] ?? (urgent ? 'interactive' : 'reading')];
      lane.add({ id: this.next++, task, args, urgent, limitMs: this.limits[task] ?? USUAL_LIMIT_MS, resolve, reject });
    });
  }

  /** Starts what takes a while to start, so that nobody waits for it: the known license texts, and the processes that read. */
  warm(): void {
    for (let i = 0; i < this.size; i++) void this.run('rehearse', [REHEARSAL_MS]).catch(() => undefined);
    void this.run('recognise', ['']).catch(() => undefined);
  }

  close(): Promise<void> {
    clearInterval(this.watching);
    for (const lane of Object.values(this.lanes)) lane.close();
    return Promise.resolve();
  }
}
