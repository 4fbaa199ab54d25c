import { randomUUID } from 'node:crypto';
import type { OwnSession, Session as SessionAnswer } from '@orderly-glyph/schema';
import { parse, serialize } from 'cookie';
import { In, LessThan, Not, type DataSource, type EntityManager } from 'typeorm';
import type { Caller } from '../../platform/http/context.js';
import { newToken, tokenHash } from './password.js';
import { Account, Member, Session, Workspace } from './rows.js';

const DAYS = 30;
export const COOKIE = 'glyph_session';

const hash = tokenHash;

export async function startSession(
  db: DataSource,
  accountId: string,
  workspaceId: string | null,
  agent = '',
): Promise<{ token: string; maxAge: number }> {
  const token = newToken();
  const now = Date.now();
  await db.getRepository(Session).delete({ expiresAt: LessThan(new Date(now)) });
  await db.getRepository(Session).insert({
    tokenHash: hash(token),
    accountId,
    workspaceId,
    createdAt: new Date(now),
    expiresAt: new Date(now + DAYS * 86_400_000),
    id: randomUUID(),
    agent: agent.slice(0, 200),
    seenAt: new Date(now),
  });
  return { token, maxAge: DAYS * 86_400 };
}

export async function endSession(db: DataSource, token: string): Promise<void> {
  await db.getRepository(Session).delete({ tokenHash: hash(token) });
}

export async function setSessionWorkspace(db: DataSource, token: string, workspaceId: string): Promise<void> {
  await db.getRepository(Session).update({ tokenHash: hash(token) }, { workspaceId });
}

export async function findCaller(db: DataSource, token: string): Promise<Caller | null> {
  const rows = (await db.query(
    `SELECT a.id AS accountId, a.name, a.demo, m.workspace_id AS workspaceId, m.role, s.seen_at AS seenAt FROM session s JOIN account a ON a.id = s.account_id
     LEFT JOIN member m ON m.account_id = a.id AND m.workspace_id = s.workspace_id WHERE s.token_hash = ? AND s.expires_at > ?`,
    [hash(token), new Date()],
  )) as (Omit<Caller, 'demo'> & { demo: number; seenAt: Date | null })[];
  const row = rows[0];
  if (!row) return null;
  // When a session was last used is told by the hour; a write at every request would cost more than it tells.
  if (!row.seenAt || Date.now() - row.seenAt.getTime() > 3_600_000)
    await db.getRepository(Session).update({ tokenHash: hash(token) }, { seenAt: new Date() });
  return { accountId: row.accountId, name: row.name, workspaceId: row.workspaceId, role: row.role, demo: row.demo > 0 };
}

/** A value of 43 characters, as our tokens are, out of a cookie header. */
export function readToken(cookieHeader: string | undefined, cookieName = COOKIE): string | null {
  const value = parse(cookieHeader ?? '')[cookieName];
  return value && /^[\w-]{43}$/.test(value) ? value : null;
}

export function cookie(token: string, maxAge: number, secure: boolean, name = COOKIE): string {
  return serialize(name, token, { path: '/', httpOnly: true, sameSite: 'lax', maxAge, secure });
}

/** Ends the oldest sessions of an account, so that with one more there are at most so many. */
export async function endOldest(db: DataSource, accountId: string, most: number): Promise<void> {
  const rows = await db.getRepository(Session).find({ where: { accountId }, order: { createdAt: 'DESC' }, skip: most - 1, take: 1000 });
  if (rows.length > 0) await db.getRepository(Session).delete({ tokenHash: In(rows.map((r) => r.tokenHash)) });
}

/** Ends all sessions of an account but, where given, one. */
export async function endOthers(db: DataSource | EntityManager, accountId: string, except: string | null): Promise<void> {
  await db.getRepository(Session).delete({ accountId, tokenHash: Not(except ? hash(except) : '') });
}

export async function listSessions(db: DataSource, accountId: string, token: string): Promise<OwnSession[]> {
  const rows = await db.getRepository(Session).find({ where: { accountId }, order: { seenAt: 'DESC' } });
  return rows.map((r) => ({
    id: r.id,
    agent: r.agent,
    createdAt: r.createdAt.toISOString(),
    seenAt: r.seenAt.toISOString(),
    current: r.tokenHash === hash(token),
  }));
}

export async function describeSession(db: DataSource, caller: Caller | null, demoOn: boolean): Promise<SessionAnswer> {
  const demoAvailable = demoOn && (await db.getRepository(Workspace).countBy({ demo: 1 })) > 0;
  if (!caller) return { signedIn: false, demoAvailable, account: null, workspace: null, role: null, workspaces: [] };
  const account = await db.getRepository(Account).findOneByOrFail({ id: caller.accountId });
  const memberships = await db.getRepository(Member).findBy({ accountId: caller.accountId });
  const own = await db.getRepository(Workspace).findBy({ id: In(memberships.map((m) => m.workspaceId)) });
  const names = new Map(own.map((workspace) => [workspace.id, workspace]));
  const current = caller.workspaceId ? names.get(caller.workspaceId) : undefined;
  return {
    signedIn: true,
    demoAvailable,
    account: { id: account.id, name: account.name, email: account.email, demo: Boolean(account.demo) },
    workspace:
      caller.workspaceId && current
        ? { id: caller.workspaceId, name: current.name, isDemo: current.demo > 0, timeZone: current.timeZone }
        : null,
    role: caller.role,
    workspaces: memberships.map((m) => ({ id: m.workspaceId, name: names.get(m.workspaceId)!.name, role: m.role })),
  };
}

/** Who a request's cookie stands for, and by which token; nobody without a valid one. */
export async function callerOf(db: DataSource, cookieHeader: string | undefined): Promise<{ token: string | null; caller: Caller | null }> {
  const token = readToken(cookieHeader);
  return { token, caller: token ? await findCaller(db, token) : null };
}
