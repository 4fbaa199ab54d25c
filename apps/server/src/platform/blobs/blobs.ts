import type { PoolConnection } from 'mysql2';
import type { EntityManager, QueryRunner } from 'typeorm';
import type { Gate } from './space.js';

/** Bytes are kept in chunks of this size, well under the database's packet limit. */
export const CHUNK = 1024 * 1024;

/** Stores bytes once a workspace, in the caller's transaction, so that no bytes stay without the rows that name them. */
export async function putBlob(manager: EntityManager, workspaceId: string, sha256: string, bytes: Uint8Array): Promise<void> {
  const { affectedRows } = (await manager.query('INSERT IGNORE INTO blob_head (workspace_id, sha256, bytes) VALUES (?, ?, ?)', [
    workspaceId,
    sha256,
    bytes.length,
  ])) as { affectedRows: number };
  if (affectedRows === 0) return;
  for (let seq = 0; seq * CHUNK < bytes.length || seq === 0; seq++) {
    const data = Buffer.from(bytes.buffer, bytes.byteOffset + seq * CHUNK, Math.min(CHUNK, bytes.length - seq * CHUNK));
    await sendBytes(manager.queryRunner!, 'INSERT INTO blob_chunk (workspace_id, sha256, seq, data) VALUES (?, ?, ?, ?)', [
      workspaceId,
      sha256,
      seq,
      data,
    ]);
  }
}

/**
 * Runs a statement with bytes among its parameters over the binary protocol. A plain query would write them out in
 * hexadecimal, twice their size, for the database to read back.
 */
export async function sendBytes(runner: QueryRunner, sql: string, parameters: (string | number | Buffer)[]): Promise<void> {
  await (runner as { gate?: Gate }).gate?.pass(runner, sql, parameters);
  const connection = (await runner.connect()) as PoolConnection;
  await new Promise<void>((resolve, reject) => connection.execute(sql, parameters, (error) => (error ? reject(error) : resolve())));
}

/** Reads bytes whole. @throws Error when they are not there, which rows that name them rule out. */
export async function getBlob(manager: EntityManager, workspaceId: string, sha256: string): Promise<Uint8Array> {
  const rows = (await manager.query('SELECT data FROM blob_chunk WHERE workspace_id = ? AND sha256 = ? ORDER BY seq', [
    workspaceId,
    sha256,
  ])) as { data: Buffer }[];
  if (rows.length === 0) throw new Error(`No bytes are stored under ${sha256}.`);
  return rows.length === 1 ? rows[0]!.data : Buffer.concat(rows.map((r) => r.data));
}
