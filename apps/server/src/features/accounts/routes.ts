import { randomUUID } from 'node:crypto';
import { routes, type Role } from '@orderly-glyph/schema';
import type { Request, Response } from 'express';
import type { App } from '../../platform/http/context.js';
import { conflict, HttpProblem, invalid, notFound, stale } from '../../platform/http/problem.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import {
  createInvitation,
  createReset,
  endLinks,
  findInvitation,
  findReset,
  join,
  listInvitations,
  revokeInvitation,
  useReset,
} from './links.js';
import { startSampleOver } from './sample.js';
import { findPassword, hashPassword, newToken, refuseCommon, tokenHash } from './password.js';
import { In, type EntityManager } from 'typeorm';
import { Account, type AccountRow, Member, type MemberRow, Session, Workspace } from './rows.js';
import {
  cookie,
  describeSession,
  endOldest,
  endOthers,
  endSession,
  findCaller,
  listSessions,
  readToken,
  setSessionWorkspace,
  startSession,
} from './sessions.js';
import { BROWSER_COOKIE, type Counted, forgetTries, knowsBrowser, rememberBrowser, returnTry, takeTry } from './tries.js';

/** Accounts that may share one address; more are nobody's honest mistake. */
const MOST_ALIKE = 3;

/** Whether cookies are only sent over HTTPS: where the server is told that people come by HTTPS, or sees that they do. */
const isSecure = (app: App, request: Request): boolean => app.config.publicAddress?.startsWith('https:') === true || request.secure;

/** Whether a request comes from this very machine, and not over a proxy on it. */
const isHere = ({ socket, headers }: Request): boolean =>
  ['127.0.0.1', '::1', '::ffff:127.0.0.1'].includes(socket.remoteAddress ?? '') &&
  headers['x-forwarded-for'] === undefined &&
  headers.forwarded === undefined &&
  headers.via === undefined;

/** Visits of the sample business that are open at once; the oldest ends for a new one. */
const MOST_VISITS = 50;

async function begin(app: App, request: Request, response: Response, accountId: string, workspaceId: string | null, remember: boolean) {
  const { token, maxAge } = await startSession(app.db, accountId, workspaceId, request.headers['user-agent']);
  const cookies = [cookie(token, maxAge, isSecure(app, request))];
  if (remember) {
    const browser = readToken(request.headers.cookie, BROWSER_COOKIE) ?? newToken();
    await rememberBrowser(app.db, browser, accountId);
    cookies.push(cookie(browser, 400 * 86_400, isSecure(app, request), BROWSER_COOKIE));
  }
  response.setHeader('Set-Cookie', cookies);
  return describeSession(app.db, await findCaller(app.db, token), app.config.demo);
}

/** People of a workspace as its page shows them, with the names and addresses of their accounts. */
async function describeMembers(app: App, rows: readonly MemberRow[], me: string) {
  const accounts = await app.db.getRepository(Account).findBy({ id: In(rows.map((m) => m.accountId)) });
  const byId = new Map(accounts.map((a) => [a.id, a]));
  return rows.map(({ id, accountId, role, version }) => {
    const { name, email } = byId.get(accountId)!;
    return { id, name, email, role, you: accountId === me, version };
  });
}

export function accountRoutes(app: App): Bound[] {
  const accounts = app.db.getRepository(Account);
  const members = app.db.getRepository(Member);

  /**
   * Changes a membership with all owners of the workspace held still: whoever asks must still be one, and one must stay. Two
   * owners who demote each other at once do it one after the other, and the second finds that they are none any more.
   */
  const withOwners = <T>(
    who: { workspaceId: string; accountId: string },
    memberId: string,
    next: Role | null,
    change: (manager: EntityManager, member: MemberRow) => Promise<T>,
  ): Promise<T> =>
    app.db.transaction(async (manager) => {
      await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [who.workspaceId]);
      const all = await manager
        .getRepository(Member)
        .find({ where: { workspaceId: who.workspaceId }, lock: { mode: 'pessimistic_write' } });
      if (all.find((m) => m.accountId === who.accountId)?.role !== 'owner')
        throw new HttpProblem(403, 'role', 'You are no owner of this workspace any more. Nothing was changed.');
      const member = all.find((m) => m.id === memberId);
      if (!member) throw notFound('This person');
      // The last owner may neither leave nor step down, or nobody could ever change anything.
      if (member.role === 'owner' && next !== 'owner' && all.filter((m) => m.role === 'owner').length === 1)
        throw conflict('This is the only owner. Make somebody else an owner first; nothing was changed.');
      const out = await change(manager, member);
      await endLinks(manager, member);
      return out;
    });

  const alike = (email: string): Promise<AccountRow[]> =>
    accounts.find({ where: { email }, order: { createdAt: 'ASC' }, take: MOST_ALIKE });
  const describe = async (token: string | null) => describeSession(app.db, token ? await findCaller(app.db, token) : null, app.config.demo);

  /** A new account, not kept yet. */
  const newAccount = async (person: { name: string; email: string; password: string }, own: readonly string[]): Promise<AccountRow> => {
    refuseCommon(person.password, [person.name, person.email, ...own]);
    const others = await alike(person.email);
    return {
      id: randomUUID(),
      email: person.email,
      name: person.name,
      passwordHash: await hashPassword(
        person.password,
        others.map((o) => o.passwordHash),
      ),
      createdAt: new Date(),
      demo: false,
    };
  };

  /**
   * Keeps a new account, or a new address of one, with all that have this address held still. An address that is taken is no
   * hindrance: saying so would tell who has an account here.
   */
  const keepAddress = async (manager: EntityManager, email: string, refuse: () => Error, keep: () => Promise<unknown>): Promise<void> => {
    const now = new Date();
    const lock = tokenHash(`email:${email}`);
    await manager.query(
      'INSERT INTO sign_in_tries (subject, tries, last_at, free_at) VALUES (?, 0, ?, ?) ON DUPLICATE KEY UPDATE subject = VALUES(subject)',
      [lock, now, now],
    );
    await manager.query('SELECT tries FROM sign_in_tries WHERE subject = ? FOR UPDATE', [lock]);
    if ((await manager.getRepository(Account).countBy({ email })) >= MOST_ALIKE) throw refuse();
    await keep();
  };
  const tooAlike = (): HttpProblem =>
    new HttpProblem(429, 'too-many-tries', 'This cannot be done just now. Sign in with the account you have, or try again tomorrow.');
  /** Looks a secret address up; whoever guesses waits longer each time. */
  const guessed = async <T>(request: Request, look: () => Promise<T>): Promise<T> => {
    const counted: Counted[] = [{ kind: 'link', subject: request.ip ?? '' }];
    await takeTry(app.db, counted);
    const found = await look();
    await returnTry(app.db, counted);
    return found;
  };
  const signUpCount = (request: Request): Counted[] => [{ kind: 'account_made', subject: request.ip ?? '' }];

  return [
    bind(app, routes.getSession, ({ token }) => describe(token)),
    bind(app, routes.signIn, async ({ body, request, response }) => {
      const found = await alike(body.email);
      const browser = readToken(request.headers.cookie, BROWSER_COOKIE);
      const known = await knowsBrowser(
        app.db,
        browser,
        found.map((a) => a.id),
      );
      // Whoever signed in from this browser before is counted apart, so that strangers cannot lock them out.
      const counted: Counted[] = known
        ? [{ kind: 'browser', subject: `${browser} ${body.email}` }]
        : [
            { kind: 'account', subject: body.email },
            { kind: 'address', subject: request.ip ?? '' },
          ];
      await takeTry(app.db, counted);
      const at = await findPassword(
        body.password,
        found.map((a) => a.passwordHash),
      );
      const account = found[at];
      if (!account) {
        throw new HttpProblem(401, 'wrong-credentials', 'The e-mail address or the password is wrong. Check both and try again.');
      }
      await forgetTries(app.db, counted[0]!);
      await returnTry(app.db, counted.slice(1));
      const first = await members.findOne({ where: { accountId: account.id } });
      return begin(app, request, response, account.id, first?.workspaceId ?? null, true);
    }),
    bind(app, routes.openDemo, async ({ request, response }) => {
      const demo = app.config.demo && isHere(request) ? await app.db.getRepository(Workspace).findOneBy({ demo: 1 }) : null;
      // One account, made with the sample business, and no other owner of it whoever that may be.
      const [visitor] = demo
        ? ((await app.db.query(
            'SELECT a.id FROM account a JOIN member m ON m.account_id = a.id WHERE a.demo = 1 AND m.workspace_id = ? AND (SELECT COUNT(*) FROM member x WHERE x.account_id = a.id) = 1 LIMIT 1',
            [demo.id],
          )) as { id: string }[])
        : [];
      if (!demo || !visitor) throw new HttpProblem(404, 'no-demo', 'The sample business is not open here. Create an account instead.');
      await endOldest(app.db, visitor.id, MOST_VISITS);
      return begin(app, request, response, visitor.id, demo.id, false);
    }),
    bind(app, routes.startSampleOver, async ({ request }) => {
      const demo = app.config.demo && isHere(request) ? await app.db.getRepository(Workspace).findOneBy({ demo: 1 }) : null;
      if (!demo) throw new HttpProblem(404, 'no-demo', 'The sample business is not open here.');
      await startSampleOver(app.db, app.config, demo.id);
      return { ok: true as const };
    }),
    bind(app, routes.signOut, async ({ token, request, response }) => {
      if (token) await endSession(app.db, token);
      response.setHeader('Set-Cookie', cookie('', 0, isSecure(app, request)));
      return { ok: true as const };
    }),
    bind(app, routes.createAccount, async ({ body, request, response }) => {
      if (app.config.limitSignUps) await takeTry(app.db, signUpCount(request));
      const account = await newAccount(body, [body.workspace]);
      const workspaceId = randomUUID();
      await app.db.transaction(async (manager) => {
        await keepAddress(manager, account.email, tooAlike, () => manager.getRepository(Account).insert(account));
        await manager.getRepository(Workspace).insert({
          id: workspaceId,
          name: body.workspace,
          demo: 0,
          createdAt: account.createdAt,
          keepRule: null,
          palette: null,
          calendarSecret: null,
          timeZone: body.timeZone,
          quotaBytes: null,
        });
        await manager.getRepository(Member).insert({ id: randomUUID(), workspaceId, accountId: account.id, role: 'owner', version: 1 });
      });
      return begin(app, request, response, account.id, workspaceId, true);
    }),
    bind(app, routes.changeAccount, async ({ body, who, token }) => {
      const account = await accounts.findOneByOrFail({ id: who.accountId });
      const change: Partial<AccountRow> = body.name === undefined ? {} : { name: body.name };
      const email = body.email !== undefined && body.email !== account.email ? body.email : null;
      if (email !== null || body.password !== undefined) {
        const counted: Counted[] = [{ kind: 'account', subject: account.email }];
        await takeTry(app.db, counted);
        if ((await findPassword(body.current, [account.passwordHash])) < 0)
          throw invalid('The current password is wrong. Nothing was changed.', 'current');
        await returnTry(app.db, counted);
        const next = body.password ?? body.current;
        if (body.password !== undefined) refuseCommon(next, [account.name, email ?? account.email]);
        const others = email === null ? [] : await alike(email);
        Object.assign(change, {
          ...(email === null ? {} : { email }),
          passwordHash: await hashPassword(
            next,
            others.map((o) => o.passwordHash),
          ),
        });
      }
      await app.db.transaction(async (manager) => {
        const keep = () => manager.getRepository(Account).update({ id: account.id }, change);
        const taken = () => invalid('This address cannot be taken. Nothing was changed.', 'email');
        if (email !== null) await keepAddress(manager, email, taken, keep);
        else if (Object.keys(change).length > 0) await keep();
        if ('passwordHash' in change) {
          await endOthers(manager, account.id, token);
          await manager.query('DELETE FROM known_browser WHERE account_id = ?', [account.id]);
        }
      });
      return describe(token);
    }),
    bind(app, routes.listSessions, ({ who, token }) => listSessions(app.db, who.accountId, token!)),
    bind(app, routes.endSession, async ({ who, params }) => {
      const { affected } = await app.db.getRepository(Session).delete({ id: params.sessionId, accountId: who.accountId });
      if (!affected) throw notFound('This session');
      return { ok: true as const };
    }),
    bind(app, routes.switchWorkspace, async ({ body, who, token }) => {
      if (!(await members.existsBy({ accountId: who.accountId, workspaceId: body.workspaceId }))) throw notFound('This workspace');
      await setSessionWorkspace(app.db, token!, body.workspaceId);
      return describe(token);
    }),
    bind(app, routes.changeWorkspace, async ({ body, who, token }) => {
      await app.db.getRepository(Workspace).update({ id: who.workspaceId }, { name: body.name, timeZone: body.timeZone });
      return describe(token);
    }),
    bind(app, routes.listInvitations, ({ who }) => listInvitations(app.db, who.workspaceId)),
    bind(app, routes.createInvitation, ({ who, body }) => createInvitation(app.db, who, body)),
    bind(app, routes.revokeInvitation, async ({ who, params }) => {
      await revokeInvitation(app.db, who.workspaceId, params.invitationId);
      return { ok: true as const };
    }),
    bind(app, routes.readInvitation, async ({ params, request }) => {
      const { workspace, role, createdBy, expiresAt } = await guessed(request, () => findInvitation(app.db, params.token));
      return { workspace, role, by: createdBy, expiresAt: expiresAt.toISOString() };
    }),
    bind(app, routes.acceptInvitation, async ({ params, body, who, token, request, response }) => {
      await guessed(request, () => findInvitation(app.db, params.token));
      if (body.account === null) {
        const caller = token ? await findCaller(app.db, token) : null;
        if (!caller) throw new HttpProblem(401, 'signed-out', 'Sign in first, then join; or join with a new account.');
        if (caller.demo)
          throw new HttpProblem(403, 'demo', 'Visitors of the sample business share an account, which joins nothing. Sign out first.');
        const workspaceId = await app.db.transaction((manager) => join(manager, params.token, who.accountId));
        await setSessionWorkspace(app.db, token!, workspaceId);
        return describe(token);
      }
      if (app.config.limitSignUps) await takeTry(app.db, signUpCount(request));
      const account = await newAccount(body.account, []);
      const workspaceId = await app.db.transaction(async (manager) => {
        await keepAddress(manager, account.email, tooAlike, () => manager.getRepository(Account).insert(account));
        return join(manager, params.token, account.id);
      });
      return begin(app, request, response, account.id, workspaceId, true);
    }),
    bind(app, routes.resetMember, ({ who, params }) => createReset(app.db, who, params.memberId)),
    bind(app, routes.readReset, async ({ params, request }) => {
      const { by, expiresAt } = await guessed(request, () => findReset(app.db, params.token));
      return { by, expiresAt };
    }),
    bind(app, routes.useReset, async ({ params, body, request }) => {
      const { accountId } = await guessed(request, () => findReset(app.db, params.token));
      const { name, email } = await accounts.findOneByOrFail({ id: accountId });
      refuseCommon(body.password, [name, email]);
      await useReset(app.db, params.token, await hashPassword(body.password));
      return { ok: true as const };
    }),
    bind(app, routes.listMembers, async ({ who }) => {
      return describeMembers(app, await members.findBy({ workspaceId: who.workspaceId }), who.accountId);
    }),
    bind(app, routes.changeMember, async ({ who, params, body }) => {
      const row = await withOwners(who, params.memberId, body.role, async (manager, member) => {
        const { affected } = await manager
          .getRepository(Member)
          .update({ id: member.id, version: body.version }, { role: body.role, version: body.version + 1 });
        if (!affected) throw stale('Somebody changed this person’s role meanwhile');
        return manager.getRepository(Member).findOneByOrFail({ id: member.id });
      });
      return (await describeMembers(app, [row], who.accountId))[0]!;
    }),
    bind(app, routes.removeMember, async ({ who, params }) => {
      await withOwners(who, params.memberId, null, (manager, member) => manager.getRepository(Member).delete({ id: member.id }));
      return { ok: true as const };
    }),
  ];
}
