import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { FontError, type BuildTools, type Proof, type ReadAnswer } from '@orderly-glyph/core';
import type { IconOrder } from './thread.js';

/** Drawings that go to a thread at once. */
const AT_ONCE = 10;
/** Fewer drawings than this are done sooner than a thread starts. */
const FEW = 60;
/** Milliseconds that ten drawings may take before they are given up. */
const MOST_MS = 60_000;

export interface IconThreads extends Required<Pick<BuildTools, 'readMany' | 'proveMany'>> {
  close(): void;
}

/** Threads that read and prove drawings, one a core; they start with the first order and end with `close`. */
export function iconThreads(few = FEW): IconThreads {
  const idle: Worker[] = [];
  const all = new Set<Worker>();
  const run = async <O, A>(orders: readonly O[], as: (id: number, part: readonly O[]) => IconOrder): Promise<A[]> => {
    const parts: (readonly O[])[] = [];
    for (let i = 0; i < orders.length; i += AT_ONCE) parts.push(orders.slice(i, i + AT_ONCE));
    const answers = new Array<A[]>(parts.length);
    let next = 0;
    const one = async (): Promise<void> => {
      const worker = idle.pop() ?? new Worker(new URL('./thread.js', import.meta.url), { resourceLimits: { maxOldGenerationSizeMb: 512 } });
      all.add(worker);
      for (let i = next++; i < parts.length; i = next++) answers[i] = await ask<A>(worker, as(i, parts[i]!));
      idle.push(worker);
    };
    const threads = orders.length < few ? 1 : Math.min(availableParallelism(), parts.length);
    await Promise.all(Array.from({ length: threads }, one));
    return answers.flat();
  };
  return {
    readMany: (orders) => run<(typeof orders)[number], ReadAnswer>(orders, (id, read) => ({ id, read })),
    proveMany: (orders) => run<(typeof orders)[number], Proof | null>(orders, (id, prove) => ({ id, prove })),
    close: () => all.forEach((w) => void w.terminate()),
  };
}

/** @throws FontError when a thread ends over it or takes too long */
function ask<A>(worker: Worker, order: IconOrder): Promise<A[]> {
  return new Promise((resolve, reject) => {
    const failed = (why: string): void => {
      done();
      void worker.terminate();
      reject(new FontError('too-large', why));
    };
    const timer = setTimeout(() => failed('A drawing takes longer than a minute to be read. Draw it more simply.'), MOST_MS);
    const heard = ({ answers }: { answers: A[] }): void => {
      done();
      resolve(answers);
    };
    const broke = (error: Error): void => failed(`A drawing cannot be read (${error.message}).`);
    const done = (): void => {
      clearTimeout(timer);
      worker.off('message', heard);
      worker.off('error', broke);
    };
    worker.on('message', heard);
    worker.on('error', broke);
    worker.postMessage(order);
  });
}
