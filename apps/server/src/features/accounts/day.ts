import type { DataSource, EntityManager } from 'typeorm';

/** The ISO day at a moment in a time zone (IANA name). @throws RangeError for an unknown zone */
export const dayIn = (zone: string, at = new Date()): string =>
  new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short' }).format(at);

/** Today where the workspace is: terms begin and end by its days. */
export async function todayOf(db: DataSource | EntityManager, workspaceId: string): Promise<string> {
  const [row] = (await db.query('SELECT time_zone AS zone FROM workspace WHERE id = ?', [workspaceId])) as { zone: string }[];
  return dayIn(row?.zone ?? 'UTC');
}
