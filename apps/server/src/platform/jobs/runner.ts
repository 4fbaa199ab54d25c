import { randomUUID } from 'node:crypto';
import type { Job } from '@orderly-glyph/schema';
import type { DataSource, EntityManager } from 'typeorm';
import { touchLibrary } from '../cache/revision.js';
import { JobEntity, type JobRow } from './rows.js';

/** Thrown inside a job when somebody asked it to stop. */
export class Cancelled extends Error {}

/** Thrown inside a job when another server took it over; nothing more may be written by this one. */
export class LeaseLost extends Error {}

/** What a job's work is given. */
export interface JobControl {
  row: JobRow;
  /** Writes progress and the heartbeat; @throws Cancelled, LeaseLost. */
  progress(done: number, total: number, message: string): Promise<void>;
  /** @throws Cancelled, LeaseLost. */
  checkpoint(): Promise<void>;
}

export type JobWork = (control: JobControl) => Promise<string>;

/**
 * Jobs are rows. A server claims one with SKIP LOCKED, keeps a heartbeat, and any server may take over a row whose
 * heartbeat stopped, so a killed server's work goes on and two servers never do the same.
 */
export class JobRunner {
  private readonly me = randomUUID();
  private timer: NodeJS.Timeout | null = null;
  private running = 0;
  private stopped = false;
  private readonly active = new Set<Promise<void>>();

  constructor(
    private readonly db: DataSource,
    private readonly lease: number,
    private readonly work: Record<JobRow['kind'], JobWork>,
    private readonly parallel = 2,
  ) {}

  start(): void {
    const tick = (): void => {
      if (this.stopped) return;
      this.claimAll()
        .catch((error: unknown) => console.error('Claiming a job failed:', error))
        .finally(() => {
          if (!this.stopped) this.timer = setTimeout(tick, 400);
        });
    };
    tick();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
    await Promise.race([Promise.allSettled([...this.active]), new Promise((r) => setTimeout(r, 2000))]);
  }

  /** Looks for work at once instead of at the next tick. */
  nudge(): void {
    if (!this.stopped) this.claimAll().catch((error: unknown) => console.error('Claiming a job failed:', error));
  }

  private async claimAll(): Promise<void> {
    while (!this.stopped && this.running < this.parallel) {
      this.running++;
      const row = await this.claim().catch((error: unknown) => {
        this.running--;
        throw error;
      });
      if (!row) {
        this.running--;
        return;
      }
      const run = this.run(row)
        // Its row could not even be marked: the database went away. The lease runs out, and somebody takes it up again.
        .catch((error: unknown) => console.error(`Job ${row.id} (${row.kind}) is left for later:`, error))
        .finally(() => {
          this.running--;
          this.active.delete(run);
          this.nudge();
        });
      this.active.add(run);
    }
  }

  private claim(): Promise<JobRow | null> {
    return this.db.transaction(async (manager) => {
      const stale = new Date(Date.now() - this.lease);
      const rows = (await manager.query(
        `SELECT id FROM job WHERE state = 'queued' OR (state = 'running' AND heartbeat_at < ?) ORDER BY created_at LIMIT 1 FOR UPDATE SKIP LOCKED`,
        [stale],
      )) as { id: string }[];
      if (!rows[0]) return null;
      await manager.query(`UPDATE job SET state = 'running', claimed_by = ?, heartbeat_at = ?, attempts = attempts + 1 WHERE id = ?`, [
        this.me,
        new Date(),
        rows[0].id,
      ]);
      return manager.getRepository(JobEntity).findOneByOrFail({ id: rows[0].id });
    });
  }

  private async run(row: JobRow): Promise<void> {
    let written = 0;
    let latest = { done: row.done, total: row.total, message: row.message };
    const beat = async (): Promise<void> => {
      // What goes forward is not stuck, however often its servers were killed.
      const { affectedRows } = (await this.db.query(
        'UPDATE job SET heartbeat_at = ?, attempts = IF(? > done, 1, attempts), done = ?, total = ?, message = ? WHERE id = ? AND claimed_by = ? AND state = ?',
        [new Date(), latest.done, latest.done, latest.total, latest.message.slice(0, 500), row.id, this.me, 'running'],
      )) as { affectedRows: number };
      if (affectedRows === 0) throw new LeaseLost();
      await touchLibrary(this.db, row.workspaceId);
    };
    const checkpoint = async (): Promise<void> => {
      if (this.stopped) throw new LeaseLost();
      const [state] = (await this.db.query('SELECT cancel_requested AS cancel, claimed_by AS owner FROM job WHERE id = ?', [row.id])) as {
        cancel: number;
        owner: string;
      }[];
      if (state?.owner !== this.me) throw new LeaseLost();
      if (state.cancel) throw new Cancelled();
    };
    const control: JobControl = {
      row,
      checkpoint,
      progress: async (done, total, message) => {
        latest = { done, total, message };
        // A row written for every small step would cost more than the steps themselves.
        if (Date.now() - written < 200 && done < total) return;
        written = Date.now();
        await beat();
        await checkpoint();
      },
    };
    // One long step must not look like a dead server.
    const pulse = setInterval(() => void beat().catch(() => undefined), Math.max(200, this.lease / 4));
    try {
      if (row.attempts > 5) throw new Error('The job was taken up five times and never came to its end.');
      const message = await this.work[row.kind](control);
      await this.finish(row, 'done', message);
    } catch (error) {
      if (error instanceof LeaseLost) return;
      // The database went away in the middle: nothing is wrong with the job, and whoever finds its lease run out goes on.
      if (isAway(error)) {
        console.error(`Job ${row.id} (${row.kind}) waits for the database:`, (error as Error).message);
        return;
      }
      // Two transactions that waited for each other; one had to give way, and the work goes on from where it was.
      if (GAVE_WAY.has((error as { errno?: number }).errno ?? 0) && row.attempts <= 5) {
        await this.db.query("UPDATE job SET state = 'queued', claimed_by = NULL WHERE id = ? AND claimed_by = ?", [row.id, this.me]);
        return;
      }
      if (error instanceof Cancelled) await this.finish(row, 'cancelled', 'Stopped as asked. What was done stays.');
      else {
        console.error(`Job ${row.id} (${row.kind}) failed:`, error);
        await this.finish(
          row,
          'failed',
          'Something went wrong on our side, and the work stopped. What was done stays; you can start it again.',
        );
      }
    } finally {
      clearInterval(pulse);
    }
  }

  private async finish(row: JobRow, state: JobRow['state'], message: string): Promise<void> {
    // Together, so that nobody who sees the job ended finds its intake still running.
    await this.db.transaction(async (manager) => {
      const { affectedRows } = (await manager.query(
        'UPDATE job SET state = ?, message = ?, finished_at = ?, heartbeat_at = ? WHERE id = ? AND claimed_by = ?',
        [state, message, new Date(), new Date(), row.id, this.me],
      )) as { affectedRows: number };
      if (affectedRows > 0 && row.kind === 'intake')
        await manager.query("UPDATE intake SET state = ? WHERE id = ? AND state IN ('queued', 'running')", [state, row.subjectId]);
    });
    await touchLibrary(this.db, row.workspaceId);
  }
}

const AWAY: ReadonlySet<string> = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'PROTOCOL_CONNECTION_LOST',
  'PROTOCOL_ENQUEUE_AFTER_FATAL_ERROR',
  'ER_SERVER_SHUTDOWN',
  'ER_CON_COUNT_ERROR',
]);

/** Whether an error says that the database cannot be reached, and nothing else. */
export function isAway(error: unknown): boolean {
  const { code, driverError } = error as { code?: string; driverError?: { code?: string } };
  return (
    AWAY.has(code ?? driverError?.code ?? '') || /closed state|connection lost|server has gone away/i.test((error as Error).message ?? '')
  );
}

/** MariaDB: deadlock, lock wait timeout, record changed since last read. */
const GAVE_WAY: ReadonlySet<number> = new Set([1213, 1205, 1020]);

/** Queues a job in the caller's transaction; the caller nudges the runner once that is through. */
export async function queueJob(
  manager: EntityManager,
  job: Pick<JobRow, 'workspaceId' | 'kind' | 'subjectId'> & { id?: string; total?: number },
): Promise<string> {
  const id = job.id ?? randomUUID();
  await manager.getRepository(JobEntity).insert({
    id,
    workspaceId: job.workspaceId,
    kind: job.kind,
    subjectId: job.subjectId,
    state: 'queued',
    done: 0,
    total: job.total ?? 0,
    message: 'Waiting to begin',
    claimedBy: null,
    heartbeatAt: null,
    cancelRequested: false,
    attempts: 0,
    createdAt: new Date(),
    finishedAt: null,
  });
  return id;
}

export function describeJob(row: JobRow): Job {
  return { id: row.id, kind: row.kind, subjectId: row.subjectId, state: row.state, done: row.done, total: row.total, message: row.message };
}
