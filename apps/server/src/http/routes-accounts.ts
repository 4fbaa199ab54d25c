import { randomUUID } from 'node:crypto';
import { routes, type Role } from '@orderly-glyph/schema';
import type { Response } from 'express';
import { checkPassword, hashPassword } from '../accounts/password.js';
import { cookie, describeSession, endSession, findCaller, setSessionWorkspace, startSession } from '../accounts/sessions.js';
import { Account, Member, Workspace } from '../db/entities.js';
import type { App } from './context.js';
import { conflict, HttpProblem, invalid, notFound } from './problem.js';
import { bind, type Bound } from './serve.js';

/** Compared against when the address is unknown, so that the answer takes as long as for a known one. */
const NOBODYS_HASH = hashPassword(randomUUID());

async function begin(app: App, response: Response, accountId: string, workspaceId: string | null) {
  const { token, maxAge } = await startSession(app.db, accountId, workspaceId);
  response.setHeader('Set-Cookie', cookie(token, maxAge, response.req.secure));
  return describeSession(app.db, await findCaller(app.db, token));
}

async function describeMember(app: App, workspaceId: string, memberId: string, me: string) {
  const member = await app.db.getRepository(Member).findOneBy({ id: memberId, workspaceId });
  if (!member) throw notFound('This person');
  const account = await app.db.getRepository(Account).findOneByOrFail({ id: member.accountId });
  return { id: member.id, name: account.name, email: account.email, role: member.role, you: account.id === me };
}

export function accountRoutes(app: App): Bound[] {
  const accounts = app.db.getRepository(Account);
  const members = app.db.getRepository(Member);

  /** The last owner may neither leave nor step down, or nobody could ever change anything. */
  const guardLastOwner = async (workspaceId: string, memberId: string, next: Role | null): Promise<void> => {
    const member = await members.findOneBy({ id: memberId, workspaceId });
    if (!member) throw notFound('This person');
    if (member.role === 'owner' && next !== 'owner' && (await members.countBy({ workspaceId, role: 'owner' })) === 1)
      throw conflict('This is the only owner. Make somebody else an owner first; nothing was changed.');
  };

  return [
    bind(app, routes.getSession, async ({ token }) => describeSession(app.db, token ? await findCaller(app.db, token) : null)),
    bind(app, routes.signIn, async ({ body, response }) => {
      const account = await accounts.findOneBy({ email: body.email });
      const right = await checkPassword(body.password, account?.passwordHash ?? (await NOBODYS_HASH));
      if (!account || !right)
        throw new HttpProblem(401, 'wrong-credentials', 'The e-mail address or the password is wrong. Check both and try again.');
      const first = await members.findOne({ where: { accountId: account.id } });
      return begin(app, response, account.id, first?.workspaceId ?? null);
    }),
    bind(app, routes.openDemo, async ({ response }) => {
      const demo = await app.db.getRepository(Workspace).findOneBy({ demo: 1 });
      const owner = demo ? await members.findOneBy({ workspaceId: demo.id, role: 'owner' }) : null;
      if (!demo || !owner) throw new HttpProblem(404, 'no-demo', 'The sample business is not loaded here. Create an account instead.');
      return begin(app, response, owner.accountId, demo.id);
    }),
    bind(app, routes.signOut, async ({ token, response }) => {
      if (token) await endSession(app.db, token);
      response.setHeader('Set-Cookie', cookie('', 0, response.req.secure));
      return { ok: true as const };
    }),
    bind(app, routes.createAccount, async ({ body, response }) => {
      const accountId = randomUUID();
      const workspaceId = randomUUID();
      const passwordHash = await hashPassword(body.password);
      const createdAt = new Date();
      await app.db.transaction(async (manager) => {
        const { affectedRows } = (await manager.query(
          'INSERT IGNORE INTO account (id, email, name, password_hash, created_at) VALUES (?, ?, ?, ?, ?)',
          [accountId, body.email, body.name, passwordHash, createdAt],
        )) as { affectedRows: number };
        if (affectedRows === 0) throw invalid('There is an account with this e-mail address already. Sign in with it instead.', 'email');
        await manager
          .getRepository(Workspace)
          .insert({ id: workspaceId, name: body.workspace, demo: 0, createdAt, keepRule: null, palette: null, calendarSecret: null });
        await manager.getRepository(Member).insert({ id: randomUUID(), workspaceId, accountId, role: 'owner' });
      });
      return begin(app, response, accountId, workspaceId);
    }),
    bind(app, routes.switchWorkspace, async ({ body, who, token }) => {
      if (!(await members.existsBy({ accountId: who.accountId, workspaceId: body.workspaceId }))) throw notFound('This workspace');
      await setSessionWorkspace(app.db, token!, body.workspaceId);
      return describeSession(app.db, await findCaller(app.db, token!));
    }),
    bind(app, routes.listMembers, async ({ who }) => {
      const rows = await members.findBy({ workspaceId: who.workspaceId });
      return Promise.all(rows.map((m) => describeMember(app, who.workspaceId, m.id, who.accountId)));
    }),
    bind(app, routes.addMember, async ({ who, body }) => {
      const passwordHash = await hashPassword(body.password);
      const memberId = randomUUID();
      await app.db.transaction(async (manager) => {
        // A person who has an account keeps it, with their own name and password.
        await manager.query('INSERT IGNORE INTO account (id, email, name, password_hash, created_at) VALUES (?, ?, ?, ?, ?)', [
          randomUUID(),
          body.email,
          body.name,
          passwordHash,
          new Date(),
        ]);
        const account = await manager.getRepository(Account).findOneByOrFail({ email: body.email });
        const { affectedRows } = (await manager.query(
          'INSERT IGNORE INTO member (id, workspace_id, account_id, role) VALUES (?, ?, ?, ?)',
          [memberId, who.workspaceId, account.id, body.role],
        )) as { affectedRows: number };
        if (affectedRows === 0) throw invalid('This person is in the workspace already.', 'email');
      });
      return describeMember(app, who.workspaceId, memberId, who.accountId);
    }),
    bind(app, routes.changeMember, async ({ who, params, body }) => {
      await guardLastOwner(who.workspaceId, params.memberId, body.role);
      await members.update({ id: params.memberId, workspaceId: who.workspaceId }, { role: body.role });
      return describeMember(app, who.workspaceId, params.memberId, who.accountId);
    }),
    bind(app, routes.removeMember, async ({ who, params }) => {
      await guardLastOwner(who.workspaceId, params.memberId, null);
      await members.delete({ id: params.memberId, workspaceId: who.workspaceId });
      return { ok: true as const };
    }),
  ];
}
