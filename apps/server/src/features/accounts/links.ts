import { randomUUID } from 'node:crypto';
import type { Invitation as InvitationAnswer, Role } from '@orderly-glyph/schema';
import { LessThan, MoreThan, type DataSource, type EntityManager } from 'typeorm';
import { conflict, HttpProblem, notFound } from '../../platform/http/problem.js';
import { newToken, tokenHash } from './password.js';
import { Account, Invitation, type InvitationRow, Member, PasswordReset, Workspace } from './rows.js';
import { endOthers } from './sessions.js';

const INVITED_MS = 7 * 86_400_000;
const RESET_MS = 86_400_000;
/** Invitations that wait at once in a workspace. */
const MOST_OPEN = 100;

const describe = (row: InvitationRow): InvitationAnswer => ({
  id: row.id,
  role: row.role,
  note: row.note,
  by: row.createdBy,
  createdAt: row.createdAt.toISOString(),
  expiresAt: row.expiresAt.toISOString(),
});

const gone = (): HttpProblem =>
  new HttpProblem(
    404,
    'not-found',
    'This address does not hold any more: it was used, taken back, or ran out. Ask whoever sent it for a new one.',
  );

export async function listInvitations(db: DataSource, workspaceId: string): Promise<InvitationAnswer[]> {
  const rows = await db
    .getRepository(Invitation)
    .find({ where: { workspaceId, expiresAt: MoreThan(new Date()) }, order: { createdAt: 'DESC' } });
  return rows.map(describe);
}

/** Makes an invitation. Its token is only in the answer; the database keeps a hash. */
export async function createInvitation(
  db: DataSource,
  who: { workspaceId: string; accountId: string; name: string },
  { role, note }: { role: Role; note: string },
): Promise<InvitationAnswer & { path: string }> {
  const token = newToken();
  const now = Date.now();
  return db.transaction(async (manager) => {
    // One at a time, so that two at once do not both find room for the last one.
    await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [who.workspaceId]);
    const repository = manager.getRepository(Invitation);
    const member = await manager.getRepository(Member).findOneBy({ workspaceId: who.workspaceId, accountId: who.accountId, role: 'owner' });
    if (!member) throw new HttpProblem(403, 'role', 'You are no owner of this workspace any more. Nothing was made.');
    await repository.delete({ workspaceId: who.workspaceId, expiresAt: LessThan(new Date()) });
    if ((await repository.countBy({ workspaceId: who.workspaceId })) >= MOST_OPEN)
      throw conflict(`${MOST_OPEN} invitations wait already. Take some back first; nothing was made.`);
    const row: InvitationRow = {
      id: randomUUID(),
      workspaceId: who.workspaceId,
      memberId: member.id,
      tokenHash: tokenHash(token),
      role,
      note,
      createdBy: who.name,
      createdAt: new Date(now),
      expiresAt: new Date(now + INVITED_MS),
    };
    await repository.insert(row);
    return { ...describe(row), path: `/join/${token}` };
  });
}

/** What a membership gave a way into ends with any change of it: invitations that the person made, and resets of their password. */
export async function endLinks(manager: EntityManager, member: { id: string; accountId: string }): Promise<void> {
  await manager.getRepository(Invitation).delete({ memberId: member.id });
  await manager.getRepository(PasswordReset).delete({ accountId: member.accountId });
}

export async function revokeInvitation(db: DataSource, workspaceId: string, id: string): Promise<void> {
  const { affected } = await db.getRepository(Invitation).delete({ id, workspaceId });
  if (!affected) throw notFound('This invitation');
}

/** @throws HttpProblem 404 for one that does not hold */
export async function findInvitation(db: DataSource | EntityManager, token: string): Promise<InvitationRow & { workspace: string }> {
  const row = await db.getRepository(Invitation).findOneBy({ tokenHash: tokenHash(token), expiresAt: MoreThan(new Date()) });
  const workspace = row && (await db.getRepository(Workspace).findOneBy({ id: row.workspaceId }));
  if (!row || !workspace) throw gone();
  return { ...row, workspace: workspace.name };
}

/** Joins a person, in the caller's transaction; of two that use one invitation at the same moment one finds it gone. */
export async function join(manager: EntityManager, token: string, accountId: string): Promise<string> {
  const found = await findInvitation(manager, token);
  // Whatever else looks at this person's memberships waits for this one.
  await manager.query('SELECT id FROM account WHERE id = ? FOR UPDATE', [accountId]);
  const { affected } = await manager.getRepository(Invitation).delete({ id: found.id });
  if (!affected) throw gone();
  if (await manager.getRepository(Member).existsBy({ workspaceId: found.workspaceId, accountId }))
    throw conflict('You are in this workspace already. The invitation was not used up.');
  await manager.getRepository(Member).insert({ id: randomUUID(), workspaceId: found.workspaceId, accountId, role: found.role, version: 1 });
  // Who works in a second business is no single owner's to reset any more.
  await manager.getRepository(PasswordReset).delete({ accountId });
  return found.workspaceId;
}

/**
 * Makes an address at which a person sets a new password. Only for those who work in this one business: an owner must not
 * come into another business by way of somebody's account.
 */
export async function createReset(
  db: DataSource,
  who: { workspaceId: string; name: string },
  memberId: string,
): Promise<{ path: string; expiresAt: string }> {
  const token = newToken();
  const now = Date.now();
  const expiresAt = new Date(now + RESET_MS);
  await db.transaction(async (manager) => {
    const member = await manager.getRepository(Member).findOneBy({ id: memberId, workspaceId: who.workspaceId });
    if (!member) throw notFound('This person');
    await manager.query('SELECT id FROM account WHERE id = ? FOR UPDATE', [member.accountId]);
    if ((await manager.getRepository(Member).countBy({ accountId: member.accountId })) > 1)
      throw conflict(
        'This person works in another business, too, so no owner of one can reset their password. Whoever runs the server can.',
      );
    await manager.getRepository(PasswordReset).delete({ accountId: member.accountId });
    await manager.getRepository(PasswordReset).insert({
      tokenHash: tokenHash(token),
      accountId: member.accountId,
      workspaceId: who.workspaceId,
      memberId: member.id,
      memberVersion: member.version,
      createdBy: who.name,
      createdAt: new Date(now),
      expiresAt,
    });
  });
  return { path: `/reset/${token}`, expiresAt: expiresAt.toISOString() };
}

/**
 * A reset that holds: the account has exactly the one membership that it was made for, as it was then.
 * @throws HttpProblem 404
 */
export async function findReset(
  db: DataSource | EntityManager,
  token: string,
): Promise<{ by: string; expiresAt: string; accountId: string }> {
  const row = await db.getRepository(PasswordReset).findOneBy({ tokenHash: tokenHash(token), expiresAt: MoreThan(new Date()) });
  const all = row ? await db.getRepository(Member).findBy({ accountId: row.accountId }) : [];
  if (!row || all.length !== 1 || all[0]!.id !== row.memberId || all[0]!.version !== row.memberVersion) throw gone();
  return { by: row.createdBy, expiresAt: row.expiresAt.toISOString(), accountId: row.accountId };
}

/** Sets the password and ends every session; the address holds no more. */
export async function useReset(db: DataSource, token: string, passwordHash: string): Promise<void> {
  await db.transaction(async (manager) => {
    const row = await manager.getRepository(PasswordReset).findOneBy({ tokenHash: tokenHash(token) });
    if (!row) throw gone();
    // Nobody comes into another business between this look and the change.
    await manager.query('SELECT id FROM account WHERE id = ? FOR UPDATE', [row.accountId]);
    await manager.query('SELECT id FROM member WHERE account_id = ? FOR UPDATE', [row.accountId]);
    const { accountId } = await findReset(manager, token);
    const { affected } = await manager.getRepository(PasswordReset).delete({ tokenHash: tokenHash(token) });
    if (!affected) throw gone();
    await manager.getRepository(Account).update({ id: accountId }, { passwordHash });
    await manager.query('DELETE FROM known_browser WHERE account_id = ?', [accountId]);
    await endOthers(manager, accountId, null);
  });
}
