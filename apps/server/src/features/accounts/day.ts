import type { DataSource, EntityManager } from 'typeorm';
import { Workspace } from './rows.js';

/** The ISO day at a moment in a time zone (IANA name). @throws RangeError for an unknown zone */
export const dayIn = (zone: string, at = new Date()): string =>
  new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short' }).format(at);

/** Today where the workspace is: terms begin and end by its days. */
export async function todayOf(db: DataSource | EntityManager, workspaceId: string): Promise<string> {
  return dayIn((await db.getRepository(Workspace).findOneBy({ id: workspaceId }))?.timeZone ?? 'UTC');
}
