import { statfs } from 'node:fs/promises';
import type { DataSource } from 'typeorm';
import { HttpProblem } from '../http/problem.js';

/** A file name as people gave it: no control characters, no drive, forward slashes. */
export function cleanName(name: string): string {
  return (
    name
      .replace(/\\/g, '/')
      .replace(/[\p{Cc}]/gu, '')
      .replace(/^\/+/, '')
      .slice(0, 1000) || 'unnamed'
  );
}

/** What a workspace may keep, and what must stay free where the server's data lies. */
export interface Space {
  dataDir: string;
  quotaBytes: number;
  minFreeBytes: number;
}

/**
 * What is left for an upload. Its bytes are kept as they come, once more as they are sorted, and in a file meanwhile, so
 * three times its size must be free beside what the database needs to live.
 */
export async function roomFor(db: DataSource, space: Space, workspaceId: string): Promise<{ take(bytes: number): void }> {
  const [row] = (await db.query(
    `SELECT w.quota_bytes AS quota, (SELECT COALESCE(SUM(bytes), 0) FROM blob_head WHERE workspace_id = w.id) + (SELECT COALESCE(SUM(bytes), 0) FROM upload WHERE workspace_id = w.id) AS used FROM workspace w WHERE w.id = ?`,
    [workspaceId],
  )) as { quota: string | null; used: string }[];
  const quota = row?.quota ? Number(row.quota) : space.quotaBytes;
  const left = quota - Number(row?.used ?? 0);
  const { bavail, bsize } = await statfs(space.dataDir);
  const free = bavail * bsize - space.minFreeBytes;
  return {
    take(bytes) {
      if (bytes > left)
        throw new HttpProblem(
          413,
          'quota',
          `This workspace keeps ${mib(quota - left)} of the ${mib(quota)} it may, and this would be more. Nothing of it was kept; tidy away what is not needed under Order and space, or ask whoever runs the server for more.`,
        );
      if (bytes * 3 > free)
        throw new HttpProblem(
          507,
          'disk-full',
          'The disk of the server has no room for this. Nothing of it was kept, and nothing else is touched; tell whoever runs the server.',
        );
    },
  };
}

const mib = (bytes: number): string => `${Math.round(bytes / 1024 / 1024).toLocaleString('en-US')} MiB`;
