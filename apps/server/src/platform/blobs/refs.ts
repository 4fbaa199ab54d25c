import type { EntityManager } from 'typeorm';

/** A column whose rows name kept bytes by workspace and SHA-256. */
export interface BytesColumn {
  table: string;
  column: string;
}

/**
 * Rows that were removed and that nothing rests on any more: they count until somebody frees the space.
 * `where` is SQL over a table `r`, beside that of its workspace.
 */
export interface RemovedRows {
  table: string;
  where: string;
}

/** Says of SQL over `blob_head b` that nobody names its bytes any more. */
export const unnamed = (columns: readonly BytesColumn[]): string =>
  columns
    .map(({ table, column }) => `NOT EXISTS (SELECT 1 FROM ${table} r WHERE r.workspace_id = b.workspace_id AND r.${column} = b.sha256)`)
    .join(' AND ');

/** Deletes bytes that no row of any feature names. */
export async function freeBytes(manager: EntityManager, workspaceId: string, columns: readonly BytesColumn[]): Promise<void> {
  await manager.query(`DELETE b FROM blob_head b WHERE b.workspace_id = ? AND ${unnamed(columns)}`, [workspaceId]);
}
