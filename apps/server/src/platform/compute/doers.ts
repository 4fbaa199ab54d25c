import { fork, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { setPriority } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { Bounds } from './lanes.js';
import type { TaskFailure, Tasks } from './tasks.js';

export interface Order {
  id: number;
  task: keyof Tasks;
  args: unknown[];
}

/** What a worker says: that it is ready, how far it is, or how it ended. */
export type Reply =
  { ready: string } | { id: number; progress: [number, number, string] } | { id: number; value?: unknown; failure?: TaskFailure };

export interface Listeners {
  reply(reply: Reply): void;
  died(why: string): void;
}

/** A thread or a process that carries out one order at a time. */
export interface Doer {
  send(order: Order): void;
  end(): void;
  /** Resident memory in MiB; null where another limit holds. */
  memory(): number | null;
  /** CPU time since it began, ms; null where the system does not tell. */
  cpu(): number | null;
  /** Steps back behind others. Returns whether it did. */
  stepBack(): boolean;
  /** Comes forward again, which systems let only some do; a worker that stays behind is ended after its task. */
  comeForward(): boolean;
}

/** CPU time of a process or thread in ms. Source: proc(5), /proc/pid/stat, utime and stime in ticks of 1/100 s. */
function cpuOf(path: string): number | null {
  try {
    const stat = readFileSync(`${path}/stat`, 'latin1');
    // The name in parentheses may hold spaces.
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    return (Number(fields[11]) + Number(fields[12])) * 10;
  } catch {
    return null;
  }
}

/** Resident memory of a process in MiB. Source: proc(5), /proc/pid/status, VmRSS in kB. */
function residentMiB(pid: number | undefined): number | null {
  try {
    return Number(/^VmRSS:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/status`, 'latin1'))?.[1] ?? 0) / 1024;
  } catch {
    return null;
  }
}

export function openThread({ reply, died }: Listeners, { heapMiB, tooHungry }: Bounds): Doer {
  const worker = new Worker(new URL('./worker.js', import.meta.url), {
    resourceLimits: { maxOldGenerationSizeMb: heapMiB, maxYoungGenerationSizeMb: 64 },
  });
  let own = '';
  worker.on('message', (r: Reply) => {
    if ('ready' in r) own = r.ready;
    reply(r);
  });
  worker.on('error', (error: NodeJS.ErrnoException) => died(error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? tooHungry : error.message));
  return {
    send: (order) => worker.postMessage(order),
    end: () => void worker.terminate(),
    memory: () => null,
    cpu: () => (own === '' ? null : cpuOf(own)),
    stepBack: () => false,
    comeForward: () => true,
  };
}

/** Niceness of processes: below the server and the database, and below those when a task is long. */
const NICE = 5;
const NICER = 15;

export function openProcess({ reply, died }: Listeners, { heapMiB, tooHungry }: Bounds): Doer {
  const child: ChildProcess = fork(new URL('./child.js', import.meta.url), [], {
    serialization: 'advanced',
    execArgv: [`--max-old-space-size=${heapMiB}`],
    // Only what it needs to run; no passwords.
    env: { PATH: process.env.PATH ?? '', ...(process.env.TMPDIR ? { TMPDIR: process.env.TMPDIR } : {}) },
    stdio: ['ignore', 'inherit', 'ignore', 'ipc'],
  });
  let over = false;
  const once = (why: string): void => {
    if (!over) died(why);
    over = true;
  };
  const nice = (by: number): boolean => {
    try {
      setPriority(child.pid!, by);
      return true;
    } catch {
      // It runs at the usual priority then.
      return false;
    }
  };
  nice(NICE);
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
    cpu: () => cpuOf(`/proc/${child.pid}`),
    stepBack: () => nice(NICER),
    comeForward: () => nice(NICE),
  };
}
