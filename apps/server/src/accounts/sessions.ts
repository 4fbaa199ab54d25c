import { createHash, randomBytes } from 'node:crypto';
import type { Role, Session as SessionAnswer } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { Account, Member, Session, Workspace } from '../db/entities.js';

const DAYS = 30;
export const COOKIE = 'glyph_session';

/** Who calls, worked out anew at every request so that a changed role takes effect at once. */
export interface Caller {
  accountId: string;
  name: string;
  workspaceId: string | null;
  role: Role | null;
}

/** The database only knows a hash, so a copy of it signs nobody in. */
const hash = (token: string): string => createHash('sha256').update(token).digest('hex');

export async function startSession(
  db: DataSource,
  accountId: string,
  workspaceId: string | null,
): Promise<{ token: string; maxAge: number }> {
  const token = randomBytes(32).toString('base64url');
  const now = Date.now();
  await db.query('DELETE FROM session WHERE expires_at < ?', [new Date(now)]);
  await db
    .getRepository(Session)
    .insert({ tokenHash: hash(token), accountId, workspaceId, createdAt: new Date(now), expiresAt: new Date(now + DAYS * 86_400_000) });
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
    `SELECT a.id AS accountId, a.name, m.workspace_id AS workspaceId, m.role FROM session s JOIN account a ON a.id = s.account_id
     LEFT JOIN member m ON m.account_id = a.id AND m.workspace_id = s.workspace_id WHERE s.token_hash = ? AND s.expires_at > ?`,
    [hash(token), new Date()],
  )) as Caller[];
  return rows[0] ?? null;
}

export function readToken(cookieHeader: string | undefined): string | null {
  for (const part of cookieHeader?.split(';') ?? []) {
    const [name, value] = part.trim().split('=');
    if (name === COOKIE && value && /^[\w-]{43}$/.test(value)) return value;
  }
  return null;
}

export function cookie(token: string, maxAge: number, secure: boolean): string {
  return `${COOKIE}=${token}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${maxAge}${secure ? '; Secure' : ''}`;
}

export async function describeSession(db: DataSource, caller: Caller | null): Promise<SessionAnswer> {
  const demoAvailable = (await db.getRepository(Workspace).countBy({ demo: 1 })) > 0;
  if (!caller) return { signedIn: false, demoAvailable, account: null, workspace: null, role: null, workspaces: [] };
  const account = await db.getRepository(Account).findOneByOrFail({ id: caller.accountId });
  const memberships = await db.getRepository(Member).findBy({ accountId: caller.accountId });
  const names = new Map<string, { name: string; demo: number }>();
  for (const m of memberships) {
    const workspace = await db.getRepository(Workspace).findOneByOrFail({ id: m.workspaceId });
    names.set(m.workspaceId, workspace);
  }
  const current = caller.workspaceId ? names.get(caller.workspaceId) : undefined;
  return {
    signedIn: true,
    demoAvailable,
    account: { id: account.id, name: account.name, email: account.email },
    workspace: caller.workspaceId && current ? { id: caller.workspaceId, name: current.name, isDemo: current.demo > 0 } : null,
    role: caller.role,
    workspaces: memberships.map((m) => ({ id: m.workspaceId, name: names.get(m.workspaceId)!.name, role: m.role })),
  };
}
