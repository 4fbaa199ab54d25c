import { statfs } from 'node:fs/promises';
import type { DataSource, QueryRunner } from 'typeorm';
import { current } from '../context/current.js';
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

/** Whatever asks the database. */
interface Asks {
  query(sql: string, parameters?: unknown[]): Promise<unknown>;
}

/** Bytes that a workspace holds: what was received and made, uploads under way, results of jobs, and large rows. */
export async function heldBytes(runner: Asks, workspaceId: string): Promise<number> {
  const tables = await largeTables(runner);
  const sums = [
    'SELECT COALESCE(SUM(bytes), 0) AS n FROM blob_head WHERE workspace_id = ?',
    'SELECT COALESCE(SUM(bytes), 0) FROM upload WHERE workspace_id = ?',
    'SELECT COALESCE(SUM(bytes), 0) FROM job WHERE workspace_id = ?',
    ...tables.map((t) => `SELECT COALESCE(SUM(held), 0) FROM \`${t}\` WHERE workspace_id = ?`),
  ];
  const [row] = (await runner.query(
    `SELECT SUM(n) AS n FROM (${sums.join(' UNION ALL ')}) x`,
    sums.map(() => workspaceId),
  )) as { n: string }[];
  return Number(row?.n ?? 0);
}

let tables: Promise<string[]> | null = null;
/** Tables that say how much each of their rows holds. */
function largeTables(runner: Asks): Promise<string[]> {
  tables ??= (
    runner.query(
      "SELECT table_name AS name FROM information_schema.columns WHERE table_schema = DATABASE() AND column_name = 'held' ORDER BY table_name",
    ) as Promise<{ name: string }[]>
  ).then((rows) => rows.map((r) => r.name));
  tables.catch(() => (tables = null));
  return tables;
}

/** What a workspace may keep and keeps. */
export async function quotaOf(runner: Asks, space: Space, workspaceId: string): Promise<{ quota: number; held: number }> {
  const [row] = (await runner.query('SELECT quota_bytes AS quota FROM workspace WHERE id = ?', [workspaceId])) as {
    quota: string | null;
  }[];
  return { quota: row?.quota ? Number(row.quota) : space.quotaBytes, held: await heldBytes(runner, workspaceId) };
}

const overQuota = (held: number, quota: number): HttpProblem =>
  new HttpProblem(
    413,
    'quota',
    `This workspace keeps ${mib(held)} of the ${mib(quota)} it may, and this would be more. Nothing of it was kept; tidy away what is not needed under Order and space, or ask whoever runs the server for more.`,
  );
const diskFull = (): HttpProblem =>
  new HttpProblem(
    507,
    'disk-full',
    'The disk of the server has no room for this. Nothing of it was kept, and nothing else is touched; tell whoever runs the server.',
  );

let looked = { at: 0, dir: '', free: 0 };
/** What is free on the server's disk beside what must stay free, looked at twice a second at most. */
async function freeOn({ dataDir, minFreeBytes }: Space): Promise<number> {
  if (looked.dir !== dataDir || performance.now() - looked.at > 500) {
    const { bavail, bsize } = await statfs(dataDir);
    looked = { at: performance.now(), dir: dataDir, free: bavail * bsize };
  }
  return looked.free - minFreeBytes;
}

/**
 * What is left for an upload. Its bytes are kept as they come, once more as they are sorted, and in a file meanwhile, so
 * three times its size must be free beside what the database needs to live.
 */
export async function roomFor(db: DataSource, space: Space, workspaceId: string): Promise<{ take(bytes: number): void }> {
  const { quota, held } = await quotaOf(db, space, workspaceId);
  const free = await freeOn(space);
  return {
    take(bytes) {
      if (bytes > quota - held) throw overQuota(held, quota);
      if (bytes * 3 > free) throw diskFull();
    },
  };
}

/** Rows of less than this are not asked for. */
const SMALL = 4096;
/** Rows of a workspace in one table, where they are listed whole. */
const MOST_ROWS: Readonly<Record<string, number>> = {
  collection: 2000,
  house_style: 300,
  icon_set: 500,
  invitation: 200,
  kept_recipe: 200,
  kept_search: 500,
  kept_text: 500,
  kit: 5000,
  license: 20_000,
  place: 500,
  proof_sheet: 1000,
  starting_point: 500,
  typeface: 500,
};

/**
 * The one gate that everything written passes: rows of more than 4 KB, and bytes, need room in the quota of the workspace they
 * are written for and on the disk; rows that are listed whole are counted. What a transaction wrote itself counts already.
 */
export class Gate {
  private readonly left = new WeakMap<QueryRunner, { workspaceId: string; bytes: number; until: number }>();

  constructor(private readonly space: Space) {}

  /** @throws HttpProblem 413, 507 or 409; nothing was written then */
  async pass(runner: QueryRunner, sql: string, parameters: readonly unknown[] | undefined): Promise<void> {
    const statement = /^\s*(INSERT|REPLACE|UPDATE)\s+(?:IGNORE\s+)?(?:INTO\s+)?`?(\w+)`?/i.exec(sql);
    const { workspaceId = '', admitted = false } = current() ?? {};
    if (!statement || !workspaceId || workspaceId.startsWith('address ')) return;
    const table = statement[2]!.toLowerCase();
    const most = MOST_ROWS[table];
    if (most !== undefined && statement[1]!.toUpperCase() !== 'UPDATE') {
      const [row] = (await runner.query(`SELECT COUNT(*) AS n FROM \`${table}\` WHERE workspace_id = ?`, [workspaceId])) as { n: string }[];
      if (Number(row?.n ?? 0) >= most)
        throw new HttpProblem(
          409,
          'too-many',
          `A workspace keeps at most ${most.toLocaleString('en-US')} of these, removed ones included. Nothing was kept; free the space of removed ones under Order and space, or delete some.`,
        );
    }
    const bytes = sizeOf(parameters);
    if (bytes <= SMALL) return;
    const known = this.left.get(runner);
    if (known && known.workspaceId === workspaceId && known.until > performance.now() && known.bytes >= bytes) {
      known.bytes -= bytes;
      return;
    }
    const { quota, held: all } = await quotaOf(runner, this.space, workspaceId);
    // Uploads that are sorted just now go when that is done; they do not count beside what is made of them.
    const held = admitted ? all - (await sentBytes(runner, workspaceId)) : all;
    if (held + bytes > quota) throw overQuota(held, quota);
    if (!admitted && bytes > (await freeOn(this.space))) throw diskFull();
    // Not asked again for every row of a long list, but never for more than a hundredth of what is left.
    this.left.set(runner, { workspaceId, bytes: Math.floor((quota - held - bytes) / 100), until: performance.now() + 1000 });
  }
}

async function sentBytes(runner: Asks, workspaceId: string): Promise<number> {
  const [row] = (await runner.query('SELECT COALESCE(SUM(bytes), 0) AS n FROM upload WHERE workspace_id = ?', [workspaceId])) as {
    n: string;
  }[];
  return Number(row?.n ?? 0);
}

function sizeOf(parameters: readonly unknown[] | undefined): number {
  let bytes = 0;
  for (const p of parameters ?? []) {
    if (typeof p === 'string') bytes += p.length;
    else if (p instanceof Uint8Array) bytes += p.byteLength;
    else if (Array.isArray(p)) bytes += sizeOf(p);
  }
  return bytes;
}

const mib = (bytes: number): string => `${Math.round(bytes / 1024 / 1024).toLocaleString('en-US')} MiB`;
