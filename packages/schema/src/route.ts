import { z } from 'zod';
import type { Contract, Method } from './contract.js';
import { ok } from './words.js';

const none = z.object({});

/** Fills in what a route leaves out and keeps the exact types of what it states. */
export function route<
  P extends z.ZodType = typeof none,
  Q extends z.ZodType = typeof none,
  B extends z.ZodType = typeof none,
  A extends z.ZodType = typeof ok,
>(
  c: Pick<Contract<P, Q, B, A>, 'path' | 'access' | 'summary' | 'carries' | 'notInDemo' | 'job' | 'doing' | 'whenLeft' | 'mostBytes'> &
    ({ method: 'GET' } | { method: Exclude<Method, 'GET'>; affects: Contract<P, Q, B, A>['affects'] }) & {
      params?: P;
      query?: Q;
      body?: B;
      answer?: A;
    },
): Contract<P, Q, B, A> {
  return { params: none, query: none, body: none, answer: ok, affects: 'nothing', ...c } as unknown as Contract<P, Q, B, A>;
}
