import { current } from '../context/current.js';
import { ComputeError } from './error.js';
import { HttpProblem } from '../http/problem.js';
import { openProcess, openThread } from './doers.js';
import { Lane } from './lane.js';
import { laneOf, LIMIT_MS, MAKING, QUICK_BYTES, QUICK_MS, READING, USUAL_LIMIT_MS, type LaneName } from './lanes.js';
import type { Tasks } from './tasks.js';

export { ComputeError };

/** How long a worker reads for practice before its first order, ms. */
const REHEARSAL_MS = 300;
/** Orders of one workspace that may wait in a lane; a library page asks for a hundred lines at once. */
const MOST_WAITING = 400;
/** Finds of work that was not quick that are remembered. */
const MOST_REMEMBERED = 2000;

const bytesIn = (args: readonly unknown[]): number =>
  args.reduce((sum: number, a) => sum + (a instanceof Uint8Array ? a.byteLength : typeof a === 'string' ? a.length : 0), 0);

/**
 * Everything that takes the processor. A worker that dies, hangs or takes too much memory fails its one task and is replaced.
 * Limits are CPU time: on a busy machine nothing fails for being slow by the clock.
 */
export class Compute {
  private readonly lanes: Readonly<Record<LaneName, Lane>>;
  private readonly watching: NodeJS.Timeout;
  /** What was too much for the quick lane once. */
  private readonly notQuick = new Set<string>();
  private next = 1;

  /** @param limits ms of CPU time until a worker is ended over a task, where that is not the usual limit */
  constructor(
    private readonly size: number,
    private readonly limits: Partial<Record<keyof Tasks, number>> = LIMIT_MS,
  ) {
    const process = { open: openProcess, bounds: READING, mostWaiting: MOST_WAITING };
    const thread = { open: openThread, bounds: READING, mostWaiting: MOST_WAITING };
    const practice = { id: 0, task: 'rehearse' as const, args: [REHEARSAL_MS] as unknown[] };
    this.lanes = {
      interactive: new Lane({ ...thread, size, reserve: 1, practice: { ...practice, args: [200, false] } }),
      asked: new Lane({ ...process, size, reserve: 1 }),
      texts: new Lane({ ...thread, size: 1, reserve: 0 }),
      reading: new Lane({ ...process, size, reserve: 2 }),
      reports: new Lane({ ...process, size: 1, reserve: 1 }),
      making: new Lane({ ...process, bounds: MAKING, size, reserve: 1 }),
    };
    this.watching = setInterval(() => Object.values(this.lanes).forEach((lane) => lane.watch()), 50);
    this.watching.unref();
  }

  /**
   * @param urgent whether a person waits for it
   * @throws ComputeError with the font's own refusal, with 'too-slow' or 'too-hungry', with 'busy' where the machine was the
   *   reason, with 'cancelled', or with code 'internal'; HttpProblem 429 when the workspace has too much waiting
   */
  run<K extends keyof Tasks>(task: K, args: Parameters<Tasks[K]>, urgent = false): Promise<Awaited<ReturnType<Tasks[K]>>> {
    const who = current();
    const owner = who?.workspaceId ?? '';
    const lane = laneOf(task, urgent);
    const what = `${task} ${bytesIn(args)}`;
    const quick = lane === 'interactive' && bytesIn(args) <= QUICK_BYTES && !this.notQuick.has(what);
    const limitMs = this.limits[task] ?? USUAL_LIMIT_MS;
    const order = { task, args: args as unknown[], owner, urgent, signal: who?.signal ?? null, progress: who?.progress ?? null };
    if (!quick) return this.carryOut(lane === 'interactive' ? 'asked' : lane, { ...order, limitMs });
    return this.carryOut('interactive', { ...order, limitMs: QUICK_MS }).catch((error: unknown) => {
      if (!(error instanceof ComputeError) || (error.failure.code !== 'too-slow' && !error.busy)) throw error;
      if (this.notQuick.size >= MOST_REMEMBERED) this.notQuick.clear();
      this.notQuick.add(what);
      return this.carryOut('asked', { ...order, limitMs });
    }) as Promise<Awaited<ReturnType<Tasks[K]>>>;
  }

  private carryOut<T>(
    laneName: LaneName,
    order: Pick<Parameters<Lane['add']>[0], 'task' | 'args' | 'owner' | 'urgent' | 'limitMs' | 'progress'> & { signal: AbortSignal | null },
  ): Promise<T> {
    const { signal, ...rest } = order;
    const id = this.next++;
    const lane = this.lanes[laneName];
    return new Promise<T>((resolve, reject) => {
      if (signal?.aborted) return reject(new ComputeError({ code: 'cancelled', message: 'It was stopped as asked.' }));
      const stop = (): void => lane.withdraw(id);
      const over = (): void => signal?.removeEventListener('abort', stop);
      signal?.addEventListener('abort', stop);
      const taken = lane.add({
        ...rest,
        id,
        resolve: (value) => {
          over();
          resolve(value as T);
        },
        reject: (failure) => {
          over();
          reject(new ComputeError(failure));
        },
      });
      if (taken) return;
      over();
      reject(
        new HttpProblem(
          429,
          'too-much',
          'Too much of this workspace waits to be computed already. Nothing was changed; try again in a moment.',
          undefined,
          10,
        ),
      );
    });
  }

  /** Starts what takes a while to start, so that nobody waits for it: the known license texts, and the workers of each lane. */
  warm(): void {
    this.lanes.interactive.warm();
    for (let i = 0; i < this.size; i++) void this.run('rehearse', [1500]).catch(() => undefined);
    void this.run('recognise', ['']).catch(() => undefined);
  }

  close(): Promise<void> {
    clearInterval(this.watching);
    for (const lane of Object.values(this.lanes)) lane.close();
    return Promise.resolve();
  }
}
