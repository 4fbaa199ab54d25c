import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { FontError, type BuildTools, type Proof, type ReadAnswer } from '@orderly-glyph/core';
import type { IconOrder, IconReply } from './thread.js';

/** Fewer drawings than this are done sooner than a thread starts. */
const FEW = 60;
/** CPU time that one drawing may take, ms. */
const MOST_MS = 20_000;
/** Where the system tells no CPU time, the clock counts, this much longer. */
const CLOCK = 10;

export interface IconThreads extends Required<Pick<BuildTools, 'readMany' | 'proveMany'>> {
  close(): void;
}

/** CPU time of a thread, ms; null where the system does not tell. Source: proc(5), stat, utime and stime in ticks of 1/100 s. */
function cpuOf(path: string): number | null {
  try {
    const stat = readFileSync(`${path}/stat`, 'latin1');
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    return (Number(fields[11]) + Number(fields[12])) * 10;
  } catch {
    return null;
  }
}

class Reader {
  private worker: Worker | null = null;
  private own = '';

  /** @returns null when the drawing took more than it may, or ended its thread; the reason in words */
  async ask<A>(order: IconOrder, mostMs: number): Promise<{ answer: A } | { failed: string }> {
    const worker = (this.worker ??= await this.start());
    return new Promise((resolve) => {
      const cpu = cpuOf(this.own);
      const began = performance.now();
      const over = (out: { answer: A } | { failed: string }): void => {
        clearInterval(timer);
        worker.off('message', heard);
        worker.off('error', broke);
        if ('failed' in out) this.close();
        resolve(out);
      };
      const heard = (reply: IconReply): void => {
        if ('answer' in reply) over({ answer: reply.answer as A });
      };
      const broke = (error: Error): void => over({ failed: `It cannot be read (${error.message}).` });
      const timer = setInterval(() => {
        const now = cpu === null ? null : cpuOf(this.own);
        const taken = now === null ? (performance.now() - began) / CLOCK : now - cpu!;
        if (taken > mostMs)
          over({ failed: `It takes more than ${Math.round(mostMs / 1000)} seconds of computing time. Draw it more simply.` });
      }, 200);
      worker.on('message', heard);
      worker.on('error', broke);
      worker.postMessage(order);
    });
  }

  private start(): Promise<Worker> {
    const worker = new Worker(new URL('./thread.js', import.meta.url), { resourceLimits: { maxOldGenerationSizeMb: 512 } });
    return new Promise((resolve, reject) => {
      worker.once('error', reject);
      worker.once('message', (reply: IconReply) => {
        worker.off('error', reject);
        if ('ready' in reply) this.own = reply.ready;
        resolve(worker);
      });
    });
  }

  close(): void {
    void this.worker?.terminate();
    this.worker = null;
  }
}

/**
 * Threads that read and prove drawings, one a core; they start with the first order and end with `close`. A drawing that
 * takes too long is an answer that says so, and the others go on.
 * @param mostMs CPU time of one drawing
 */
export function iconThreads(few = FEW, mostMs = MOST_MS): IconThreads {
  const readers: Reader[] = [];
  const run = async <A>(orders: readonly IconOrder[], failed: (why: string, i: number) => A): Promise<A[]> => {
    const answers = new Array<A>(orders.length);
    let next = 0;
    const one = async (reader: Reader): Promise<void> => {
      for (let i = next++; i < orders.length; i = next++) {
        const out = await reader.ask<A>(orders[i]!, mostMs);
        answers[i] = 'answer' in out ? out.answer : failed(out.failed, i);
      }
    };
    const count = orders.length < few ? 1 : Math.min(availableParallelism(), orders.length);
    while (readers.length < count) readers.push(new Reader());
    await Promise.all(readers.slice(0, count).map(one));
    return answers;
  };
  return {
    readMany: (orders) =>
      run<ReadAnswer>(
        orders.map((read) => ({ read })),
        (error) => ({ error }),
      ),
    proveMany: (orders) =>
      run<Proof | null>(
        orders.map((prove) => ({ prove })),
        (why) => {
          throw new FontError('too-large', `A drawing could not be compared with its glyph. ${why}`);
        },
      ),
    close: () => readers.forEach((r) => r.close()),
  };
}
