import type { DataSource } from 'typeorm';
import { HttpProblem } from '../../platform/http/problem.js';
import { tokenHash } from './password.js';

/** A run of wrong tries is forgotten after a day without one. */
const FORGOTTEN_MS = 86_400_000;
const LONGEST_S = 900;

/** How many wrong tries of a kind are free, after which each wait is twice the one before. */
const FREE = { account: 5, address: 20, browser: 10, account_made: 10 } as const;
export type Counted = { kind: keyof typeof FREE; subject: string };

const keyOf = ({ kind, subject }: Counted): string => tokenHash(`${kind}:${subject}`);

/** @throws HttpProblem 429 with the seconds to wait when one of the counts says so */
export async function mayTry(db: DataSource, counted: readonly Counted[]): Promise<void> {
  const rows = (await db.query('SELECT free_at AS freeAt FROM sign_in_tries WHERE subject IN (?)', [counted.map(keyOf)])) as {
    freeAt: Date;
  }[];
  const wait = Math.max(0, ...rows.map((r) => Math.ceil((r.freeAt.getTime() - Date.now()) / 1000)));
  if (wait > 0)
    throw new HttpProblem(
      429,
      'too-many-tries',
      `That were too many wrong tries. Wait ${wait < 90 ? `${wait} seconds` : `${Math.ceil(wait / 60)} minutes`} and try again. From a browser you have signed in with before, you need not wait.`,
    );
}

/** Counts a wrong try in the database, so that all servers know of it. */
export async function countTry(db: DataSource, counted: readonly Counted[]): Promise<void> {
  const now = new Date();
  for (const c of counted) {
    const subject = keyOf(c);
    await db.query(
      'INSERT INTO sign_in_tries (subject, tries, last_at, free_at) VALUES (?, 1, ?, ?) ON DUPLICATE KEY UPDATE tries = IF(last_at < ?, 1, tries + 1), last_at = VALUES(last_at)',
      [subject, now, now, new Date(now.getTime() - FORGOTTEN_MS)],
    );
    const [{ tries }] = (await db.query('SELECT tries FROM sign_in_tries WHERE subject = ?', [subject])) as [{ tries: number }];
    const over = Number(tries) - FREE[c.kind];
    const delay = over < 0 ? 0 : Math.min(LONGEST_S, 2 ** Math.min(over, 20));
    await db.query('UPDATE sign_in_tries SET free_at = ? WHERE subject = ?', [new Date(now.getTime() + delay * 1000), subject]);
  }
  await db.query('DELETE FROM sign_in_tries WHERE last_at < ? LIMIT 200', [new Date(now.getTime() - FORGOTTEN_MS)]);
}

export async function forgetTries(db: DataSource, counted: Counted): Promise<void> {
  await db.query('DELETE FROM sign_in_tries WHERE subject = ?', [keyOf(counted)]);
}

export const BROWSER_COOKIE = 'glyph_browser';

/** Whether somebody signed in to an account from this browser before. */
export async function knowsBrowser(db: DataSource, token: string | null, accountIds: readonly string[]): Promise<boolean> {
  if (!token || accountIds.length === 0) return false;
  const [row] = (await db.query('SELECT 1 AS known FROM known_browser WHERE token_hash = ? AND account_id IN (?) LIMIT 1', [
    tokenHash(token),
    accountIds,
  ])) as { known: number }[];
  return row !== undefined;
}

export async function rememberBrowser(db: DataSource, token: string, accountId: string): Promise<void> {
  await db.query(
    'INSERT INTO known_browser (token_hash, account_id, seen_at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE seen_at = VALUES(seen_at)',
    [tokenHash(token), accountId, new Date()],
  );
  await db.query('DELETE FROM known_browser WHERE seen_at < ? LIMIT 200', [new Date(Date.now() - 400 * 86_400_000)]);
}
