import type { DataSource } from 'typeorm';

/** Counts up with everything that may change what the library shows; snapshots of an older count are stale. */
export async function touchLibrary(db: Pick<DataSource, 'query'>, workspaceId: string): Promise<void> {
  await db.query('UPDATE workspace SET revision = revision + 1 WHERE id = ?', [workspaceId]);
}
