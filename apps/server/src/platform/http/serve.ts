import type { AnyContract, Answer, Body, Contract, Params, Query, Role } from '@orderly-glyph/schema';
import type { Request, RequestHandler, Response, Router } from 'express';
import type { z } from 'zod';
import type { Caller } from './context.js';
import { touchLibrary } from '../cache/revision.js';
import type { App } from './context.js';
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
      'Visitors of the sample business share it, so people, places and accounts stay as they are. Create an account to have a workspace of your own.',
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

/** Binds a contract to its handler: access, checked input, checked output. */
export function bind<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, A extends z.ZodType>(
  app: App,
  contract: Contract<P, Q, B, A>,
  handle: (call: Call<Contract<P, Q, B, A>>) => Promise<z.infer<A> | void>,
): Bound {
  return {
    contract,
    handler: async (request, response) => {
      const { token, caller } = await app.callerOf(request);
      const who = authorise(contract, caller);
      const params = check(contract.params, request.params, 'params');
      const query = check(contract.query, request.query, 'query');
      const body = contract.carries === 'upload' ? {} : check(contract.body, request.body, 'body');
      const result = await handle({ app, params, query, body, who, token, request, response } as unknown as Call<Contract<P, Q, B, A>>);
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
    router[method](contract.path, handler);
  }
}
