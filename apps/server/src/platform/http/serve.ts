import {
  routes,
  USUAL_BYTES,
  type AnyContract,
  type Answer,
  type Body,
  type Contract,
  type Params,
  type Query,
  type Role,
} from '@orderly-glyph/schema';
import express, { type Request, type RequestHandler, type Response, type Router } from 'express';
import type { z } from 'zod';
import type { Caller } from './context.js';
import { touchLibrary } from '../cache/revision.js';
import { describeJob } from '../jobs/runner.js';
import type { App } from './context.js';
import { workingFor } from '../context/current.js';
import { findJob, queueCall, sendResult, type CallRoute } from '../jobs/calls.js';
import { HttpProblem } from './problem.js';

/** What a handler is given. `who.workspaceId` is always the workspace to stay inside of. */
export interface Call<C> {
  app: App;
  params: Params<C>;
  query: Query<C>;
  body: Body<C>;
  who: { accountId: string; name: string; workspaceId: string; role: Role };
  token: string | null;
  request: Request;
  response: Response;
}

/** Handlers of routes that carry bytes write the response themselves and return nothing. */
export type Handler<C> = (call: Call<C>) => Promise<C extends { carries: 'bytes' | 'events' | 'text' } ? void : Answer<C>>;

export interface Bound {
  contract: AnyContract;
  handler: RequestHandler;
}

const RANK: Record<Role, number> = { viewer: 0, editor: 1, owner: 2 };
const NOBODY = { accountId: '', name: '', workspaceId: '', role: 'viewer' as const };

function authorise(contract: AnyContract, caller: Caller | null): Call<AnyContract>['who'] {
  if (contract.access === 'public')
    return caller ? { ...NOBODY, ...caller, workspaceId: caller.workspaceId ?? '', role: caller.role ?? 'viewer' } : NOBODY;
  if (!caller) throw new HttpProblem(401, 'signed-out', 'You are signed out. Sign in and try again; nothing was changed.');
  if (contract.notInDemo && caller.demo)
    throw new HttpProblem(
      403,
      'demo',
      'The account of the sample business is no person’s and stays as it is. Create an account to have a workspace of your own.',
    );
  if (contract.access === 'account') return { ...NOBODY, accountId: caller.accountId, name: caller.name };
  if (!caller.workspaceId || !caller.role)
    throw new HttpProblem(403, 'no-workspace', 'You are not in a workspace. Choose one and try again.');
  if (RANK[caller.role] < RANK[contract.access])
    throw new HttpProblem(
      403,
      'role',
      `This takes the role of ${contract.access === 'owner' ? 'an owner' : 'an editor'}; you are a ${caller.role}. Ask an owner of the workspace. Nothing was changed.`,
    );
  return { accountId: caller.accountId, name: caller.name, workspaceId: caller.workspaceId, role: caller.role };
}

function check<T extends z.ZodType>(schema: T, value: unknown, where: string): z.infer<T> {
  const result = schema.safeParse(value ?? {});
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  const field = issue.path.join('.');
  // An address that cannot name a row is simply not there.
  if (where === 'params') throw new HttpProblem(404, 'not-found', 'There is nothing at this address.');
  throw new HttpProblem(422, 'invalid', `${field ? `“${field}”: ` : ''}${issue.message}. Nothing was changed.`, field);
}

const NAMES = new Map<AnyContract, string>(Object.entries(routes).map(([name, contract]) => [contract as AnyContract, name]));

/** What a caller prefers. Source: RFC 7240, 4.1 and 4.3. */
function preferred(request: Request): { waitMs: number | null } {
  const said = String(request.headers.prefer ?? '');
  if (!/\brespond-async\b/i.test(said)) return { waitMs: null };
  const wait = /\bwait\s*=\s*"?(\d{1,4})/i.exec(said)?.[1];
  return { waitMs: 1000 * Number(wait ?? 0) };
}

/** The page of this application that a request was sent from; null where its browser does not say. */
function pageOf(request: Request): string | null {
  try {
    const { pathname, search } = new URL(request.headers.referer ?? '');
    const page = pathname + search;
    return page.length <= 1000 ? page : null;
  } catch {
    return null;
  }
}

/** How long one look at a job lasts, ms; then it is seen whether whoever asked is still there. */
const LOOK_MS = 5000;

/** Carries a call out as a job, and answers with its result, or with where that will be. */
async function asJob(
  app: App,
  route: Pick<CallRoute, 'name' | 'contract'>,
  who: Call<AnyContract>['who'],
  given: { params: unknown; query: unknown; body: unknown },
  request: Request,
  response: Response,
): Promise<void> {
  const { waitMs } = preferred(request);
  const upload = route.contract.carries === 'upload' ? request : null;
  const id = await queueCall(app.db, app.config, route, who, { ...given, page: pageOf(request), upload });
  app.jobs.nudge();
  const stop = route.contract.whenLeft === 'stop';
  const until = performance.now() + (waitMs ?? Infinity);
  let left = false;
  const gone = (): void => {
    if (response.writableFinished) return;
    left = true;
    // Nobody will look at what comes of it.
    if (stop)
      void app.db
        .query("UPDATE job SET cancel_requested = 1 WHERE id = ? AND state IN ('queued', 'running')", [id])
        .then(() => app.db.query("DELETE FROM job WHERE id = ? AND state = 'queued'", [id]))
        .catch(() => undefined);
  };
  response.once('close', gone);
  while (!(await app.jobs.ended(id, Math.max(0, Math.min(LOOK_MS, until - performance.now()))))) {
    if (left) return;
    if (app.jobs.stopping)
      throw new HttpProblem(
        503,
        'stopping',
        'The server is being started again. What you asked for goes on afterwards; look at it in a moment.',
        undefined,
        5,
      );
    if (performance.now() < until) continue;
    const row = await findJob(app.db, id);
    response.off('close', gone);
    response.status(202).setHeader('Location', `/api/jobs/${id}`);
    response.json({ job: row ? describeJob(row) : null });
    return;
  }
  const row = await findJob(app.db, id);
  if (!row) throw new HttpProblem(409, 'cancelled', 'It was stopped before its end. What was done before stays.');
  await sendResult(app.db, row, response);
}

/** Binds a contract to its handler: access, checked input, checked output. */
export function bind<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, A extends z.ZodType>(
  app: App,
  contract: Contract<P, Q, B, A>,
  handle: (call: Call<Contract<P, Q, B, A>>) => Promise<z.infer<A> | void>,
): Bound {
  const name = NAMES.get(contract as unknown as AnyContract) ?? contract.path;
  const route: CallRoute = {
    name,
    contract,
    carryOut: (call) => handle({ ...call, app, token: null } as unknown as Call<Contract<P, Q, B, A>>),
  };
  if (contract.job) app.calls.set(name, route);
  return {
    contract,
    handler: async (request, response) => {
      const { token, caller } = await app.callerOf(request);
      const who = authorise(contract, caller);
      const params = check(contract.params, request.params, 'params');
      const query = check(contract.query, request.query, 'query');
      const body = contract.carries === 'upload' ? {} : check(contract.body, request.body, 'body');
      if (contract.job) return asJob(app, route, who, { params, query, body }, request, response);
      const current = {
        workspaceId: who.workspaceId || `address ${request.ip ?? ''}`,
        accountId: who.accountId || null,
        signal: null,
        progress: null,
        admitted: false,
        once: null,
      };
      const result = await workingFor(current, () =>
        handle({ app, params, query, body, who, token, request, response } as unknown as Call<Contract<P, Q, B, A>>),
      );
      // Lists kept in memory are stale once something changed what they show.
      if (contract.affects === 'library' && who.workspaceId) await touchLibrary(app.db, who.workspaceId);
      if (contract.carries === 'bytes' || contract.carries === 'events' || contract.carries === 'text') return;
      response.json(contract.answer.parse(result));
    },
  };
}

export function mount(router: Router, bound: readonly Bound[]): void {
  for (const { contract, handler } of bound) {
    const method = contract.method.toLowerCase() as 'get' | 'post' | 'put' | 'patch' | 'delete';
    const parts: RequestHandler[] =
      contract.carries === 'upload' || method === 'get' ? [] : [express.json({ limit: contract.mostBytes ?? USUAL_BYTES, strict: false })];
    router[method](contract.path, ...parts, handler);
  }
}
