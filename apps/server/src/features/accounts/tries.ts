import type { DataSource } from 'typeorm';
import { HttpProblem } from '../../platform/http/problem.js';
import { tokenHash } from './password.js';

/** A run of wrong tries is forgotten after a day without one. */
const FORGOTTEN_MS = 86_400_000;
const LONGEST_S = 900;

/** How many wrong tries of a kind are free, after which each wait is twice the one before. */
const FREE = { account: 5, address: 20, browser: 10, account_made: 10, link: 20, code: 10 } as const;
export type Counted = { kind: keyof typeof FREE; subject: string };

const keyOf = ({ kind, subject }: Counted): string => tokenHash(`${kind}:${subject}`);

/**
 * Counts a try before anything slow is done for it, in the database, so that all servers know of it and of many at once only
 * the free ones go on. Whoever turns out to be right takes the count back with `forgetTries` or `returnTry`.
 * @throws HttpProblem 429 with the seconds to wait when one of the counts says so; then none of them is raised
 */
export async function takeTry(db: DataSource, counted: readonly Counted[]): Promise<void> {
  const now = new Date();
  const long = new Date(now.getTime() - FORGOTTEN_MS);
  // An insert that only ignored would hold rows shared, and two of them wait for each other. In one order, so that two of the same never wait for each other.
  const keys = counted.map((c) => ({ free: FREE[c.kind], subject: keyOf(c) })).sort((a, b) => (a.subject < b.subject ? -1 : 1));
  const wait = await db.transaction(async (manager) => {
    for (const { subject } of keys)
      await manager.query(
        'INSERT INTO sign_in_tries (subject, tries, last_at, free_at) VALUES (?, 0, ?, ?) ON DUPLICATE KEY UPDATE subject = VALUES(subject)',
        [subject, now, now],
      );
    const rows = (await manager.query(
      'SELECT subject, tries, last_at AS lastAt, free_at AS freeAt FROM sign_in_tries WHERE subject IN (?) ORDER BY subject FOR UPDATE',
      [keys.map((k) => k.subject)],
    )) as { subject: string; tries: number; lastAt: Date; freeAt: Date }[];
    const seconds = Math.max(0, ...rows.map((r) => Math.ceil((r.freeAt.getTime() - now.getTime()) / 1000)));
    if (seconds > 0) return seconds;
    for (const { subject, free } of keys) {
      const row = rows.find((r) => r.subject === subject)!;
      const tries = row.lastAt < long ? 1 : Number(row.tries) + 1;
      const over = tries - free;
      const delay = over < 0 ? 0 : Math.min(LONGEST_S, 2 ** Math.min(over, 20));
      await manager.query('UPDATE sign_in_tries SET tries = ?, last_at = ?, free_at = ? WHERE subject = ?', [
        tries,
        now,
        new Date(now.getTime() + delay * 1000),
        subject,
      ]);
    }
    return 0;
  });
  if (wait > 0)
    throw new HttpProblem(
      429,
      'too-many-tries',
      `That were too many tries. Wait ${wait < 90 ? `${wait} seconds` : `${Math.ceil(wait / 60)} minutes`} and try again. From a browser you have signed in with before, you need not wait.`,
      undefined,
      wait,
    );
  // Looked up first and deleted by what they are: a range of an index that others write to would be locked, and they with it.
  const past = (await db.query('SELECT subject FROM sign_in_tries WHERE last_at < ? LIMIT 200', [long])) as { subject: string }[];
  if (past.length > 0) await db.query('DELETE FROM sign_in_tries WHERE subject IN (?) AND last_at < ?', [past.map((r) => r.subject), long]);
}

/** Takes a try back that was right. */
export async function returnTry(db: DataSource, counted: readonly Counted[]): Promise<void> {
  for (const c of counted)
    await db.query('UPDATE sign_in_tries SET tries = GREATEST(0, tries - 1), free_at = LEAST(free_at, ?) WHERE subject = ?', [
      new Date(),
      keyOf(c),
    ]);
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
  const long = new Date(Date.now() - 400 * 86_400_000);
  const unseen = (await db.query('SELECT token_hash AS token, account_id AS account FROM known_browser WHERE seen_at < ? LIMIT 200', [
    long,
  ])) as { token: string; account: string }[];
  for (const { token, account } of unseen)
    await db.query('DELETE FROM known_browser WHERE token_hash = ? AND account_id = ? AND seen_at < ?', [token, account, long]);
}
