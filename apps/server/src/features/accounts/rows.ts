import type { Color, KeepRule, Role } from '@orderly-glyph/schema';
import { entity, flag, json, key, maybe, text, time, uuid, whole, ws } from '../../platform/database/columns.js';

export interface WorkspaceRow {
  id: string;
  name: string;
  demo: number;
  createdAt: Date;
  keepRule: KeepRule | null;
  palette: Color[] | null;
  calendarSecret: string | null;
  /** IANA name; terms begin and end by its days. */
  timeZone: string;
  /** Bytes it may keep; null for the server's own limit. */
  quotaBytes: number | null;
}

/** demo: 0 an ordinary workspace, 1 the sample business, 2 the sample business while it is being loaded. */
export const Workspace = entity<WorkspaceRow>('workspace', {
  id: key(),
  name: text('name'),
  demo: whole('demo'),
  createdAt: time('created_at'),
  keepRule: json<KeepRule>('keep_rule'),
  palette: json<Color[]>('palette'),
  calendarSecret: text('calendar_secret', 64, maybe),
  timeZone: text('time_zone', 60),
  quotaBytes: {
    name: 'quota_bytes',
    type: 'bigint',
    nullable: true,
    transformer: { to: (v: number | null) => v, from: (v: string | null) => (v === null ? null : Number(v)) },
  },
});

export interface AccountRow {
  id: string;
  email: string;
  name: string;
  passwordHash: string;
  createdAt: Date;
  /** The one account that visitors of the sample business share. */
  demo: boolean;
}

export const Account = entity<AccountRow>('account', {
  id: key(),
  email: text('email', 190),
  name: text('name'),
  passwordHash: text('password_hash'),
  createdAt: time('created_at'),
  demo: flag('demo'),
});

export interface MemberRow {
  id: string;
  workspaceId: string;
  accountId: string;
  role: Role;
  version: number;
}

export const Member = entity<MemberRow>('member', {
  id: key(),
  workspaceId: ws(),
  accountId: uuid('account_id'),
  role: text('role', 10),
  version: whole('version'),
});

export interface SessionRow {
  tokenHash: string;
  accountId: string;
  workspaceId: string | null;
  createdAt: Date;
  expiresAt: Date;
  /** How its owner names it; the token itself is known to nobody else. */
  id: string;
  agent: string;
  seenAt: Date;
}

export const Session = entity<SessionRow>('session', {
  tokenHash: { name: 'token_hash', type: 'char', length: 64, primary: true },
  accountId: uuid('account_id'),
  workspaceId: uuid('workspace_id', maybe),
  createdAt: time('created_at'),
  expiresAt: time('expires_at'),
  id: uuid('id'),
  agent: text('agent', 200),
  seenAt: time('seen_at'),
});

export interface InvitationRow {
  id: string;
  workspaceId: string;
  /** The membership of whoever made it, with which it ends; null for those of before. */
  memberId: string | null;
  tokenHash: string;
  role: Role;
  /** For whom, in the words of whoever made it. */
  note: string;
  createdBy: string;
  createdAt: Date;
  expiresAt: Date;
}

export const Invitation = entity<InvitationRow>('invitation', {
  id: key(),
  workspaceId: ws(),
  memberId: uuid('member_id', maybe),
  tokenHash: { name: 'token_hash', type: 'char', length: 64 },
  role: text('role', 10),
  note: text('note', 120),
  createdBy: text('created_by'),
  createdAt: time('created_at'),
  expiresAt: time('expires_at'),
});

export interface PasswordResetRow {
  tokenHash: string;
  accountId: string;
  workspaceId: string;
  /** The one membership that it was made for, with which it ends. */
  memberId: string;
  memberVersion: number;
  createdBy: string;
  createdAt: Date;
  expiresAt: Date;
}

export const PasswordReset = entity<PasswordResetRow>('password_reset', {
  tokenHash: { name: 'token_hash', type: 'char', length: 64, primary: true },
  accountId: uuid('account_id'),
  workspaceId: ws(),
  memberId: uuid('member_id'),
  memberVersion: whole('member_version'),
  createdBy: text('created_by'),
  createdAt: time('created_at'),
  expiresAt: time('expires_at'),
});

export const accountsRows = [Workspace, Account, Member, Session, Invitation, PasswordReset];
