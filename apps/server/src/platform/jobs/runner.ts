import { randomUUID } from 'node:crypto';
import type { Job } from '@orderly-glyph/schema';
import type { DataSource, EntityManager } from 'typeorm';
import { touchLibrary } from '../cache/revision.js';
import { ComputeError } from '../compute/error.js';
import { workingFor } from '../context/current.js';
import { isAway } from '../database/away.js';
import { NotOurs } from '../database/data-source.js';
import { HttpProblem } from '../http/problem.js';
import { JobEntity, type CallResult, type JobRow } from './rows.js';

/** Thrown inside a job when somebody asked it to stop. */
export class Cancelled extends Error {}

/** Thrown inside a job when another server took it over, or it was given up; nothing more may be written by this one. */
export class LeaseLost extends Error {}

/** Thrown inside a job that must wait for a quieter hour; what is done stays. */
export class Busy extends Error {
  constructor(readonly what = '') {
    super(`The server was busy${what && `: ${what}`}`);
  }
}

/** What a job's work is given. */
export interface JobControl {
  row: JobRow;
  /** Is aborted when somebody asks the job to stop, or it is given up. */
  signal: AbortSignal;
  /** Writes progress and the heartbeat; @throws Cancelled, LeaseLost. */
  progress(done: number, total: number, message: string): Promise<void>;
  /** @throws Cancelled, LeaseLost. */
  checkpoint(): Promise<void>;
}

export type JobWork = (control: JobControl) => Promise<string | { message: string; result: CallResult }>;

/** One kind of job, declared by the feature it belongs to. */
export interface JobKind {
  work: JobWork;
  /** Brings what the job is about along when its state changes, in the same transaction. */
  follow?(manager: EntityManager, row: JobRow, state: JobRow['state']): Promise<void>;
  /** Milliseconds without any progress after which it is given up; null where what it does has limits of its own. */
  silentMs?: number;
  /** Whether a repeated change must be told from a first one. */
  once?(row: JobRow): boolean;
  /** What is kept of a failure, for whoever asked. */
  failure?(error: unknown): CallResult | null;
}

/** Jobs of one workspace that run at once, on all servers. */
const MOST_OF_WORKSPACE = 6;
/** Pauses before a job that the machine was too busy for is tried again, ms. */
const BUSY_PAUSES = [30_000, 120_000, 480_000];
/** How long the work of a job may take to notice that it was stopped, ms. */
const LET_GO_MS = 3000;

/**
 * Jobs are rows. A server claims one with SKIP LOCKED, keeps a heartbeat, and any server may take over a row whose
 * heartbeat stopped, so a killed server's work goes on and two servers never do the same. Workspaces take turns: the next job
 * is of whoever has fewest running, and among those of whoever was served longest ago.
 */
export class JobRunner {
  private readonly me = randomUUID();
  private timer: NodeJS.Timeout | null = null;
  private running = 0;
  private stopped = false;
  private claiming: Promise<void> | null = null;
  private again = false;
  private turn = 0;
  private readonly served = new Map<string, number>();
  private readonly active = new Set<Promise<void>>();
  private readonly waiters = new Map<string, Set<() => void>>();

  constructor(
    private readonly db: DataSource,
    private readonly lease: number,
    readonly kinds: ReadonlyMap<string, JobKind>,
    private readonly parallel = 24,
    private readonly busyPauses: readonly number[] = BUSY_PAUSES,
  ) {}

  start(): void {
    const tick = (): void => {
      if (this.stopped) return;
      void this.claimAll().finally(() => {
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

  /** Whether this server is about to end. */
  get stopping(): boolean {
    return this.stopped;
  }

  /** Looks for work at once instead of at the next tick. */
  nudge(): void {
    if (!this.stopped) void this.claimAll();
  }

  /** Waits until a job has ended, on whichever server, at most so many ms. Returns whether it has. */
  async ended(jobId: string, mostMs: number): Promise<boolean> {
    const until = performance.now() + mostMs;
    for (;;) {
      let wake = (): void => undefined;
      const heard = new Promise<void>((resolve) => (wake = resolve));
      const waiters = this.waiters.get(jobId) ?? new Set();
      waiters.add(wake);
      this.waiters.set(jobId, waiters);
      try {
        const [row] = (await this.db.query('SELECT state FROM job WHERE id = ?', [jobId])) as { state: JobRow['state'] }[];
        if (!row || ['done', 'failed', 'cancelled'].includes(row.state)) return true;
        const left = until - performance.now();
        if (left <= 0 || this.stopped) return false;
        // What another server ends is only seen by looking.
        await Promise.race([heard, new Promise((r) => setTimeout(r, Math.min(left, 700)))]);
      } finally {
        waiters.delete(wake);
        if (waiters.size === 0) this.waiters.delete(jobId);
      }
    }
  }

  /** One look at a time; who asks meanwhile makes it look once more. */
  private claimAll(): Promise<void> {
    if (this.claiming) {
      this.again = true;
      return this.claiming;
    }
    this.claiming = this.claimSome()
      .catch((error: unknown) => console.error('Claiming a job failed:', error))
      .finally(() => {
        this.claiming = null;
        if (this.again && !this.stopped) {
          this.again = false;
          void this.claimAll();
        }
      });
    return this.claiming;
  }

  private async claimSome(): Promise<void> {
    while (!this.stopped && this.running < this.parallel) {
      this.again = false;
      const row = await this.claim();
      if (!row) return;
      this.running++;
      const run = this.run(row)
        // Its row could not even be marked: the database went away. The lease runs out, and somebody takes it up again.
        .catch((error: unknown) => console.error(`Job ${row.id} (${row.kind}) is left for later:`, error))
        .finally(() => {
          this.running--;
          this.active.delete(run);
          for (const wake of this.waiters.get(row.id) ?? []) wake();
          this.nudge();
        });
      this.active.add(run);
    }
  }

  /** The first that waits of whichever workspace is next. */
  private async claim(): Promise<JobRow | null> {
    const now = new Date();
    const stale = new Date(now.getTime() - this.lease);
    const first = (await this.db.query(
      `SELECT id, workspace_id AS workspaceId FROM (
         SELECT id, workspace_id, ROW_NUMBER() OVER (PARTITION BY workspace_id ORDER BY created_at, id) AS n FROM job
         WHERE (state = 'queued' AND (not_before IS NULL OR not_before <= ?)) OR (state = 'running' AND heartbeat_at < ?)) q WHERE n = 1`,
      [now, stale],
    )) as { id: string; workspaceId: string }[];
    if (first.length === 0) return null;
    const counts = (await this.db.query(
      "SELECT workspace_id AS workspaceId, COUNT(*) AS n FROM job WHERE state = 'running' AND heartbeat_at >= ? GROUP BY workspace_id",
      [stale],
    )) as { workspaceId: string; n: string }[];
    const running = new Map(counts.map((c) => [c.workspaceId, Number(c.n)]));
    const rank = ({ workspaceId }: { workspaceId: string }): [number, number] => [
      running.get(workspaceId) ?? 0,
      this.served.get(workspaceId) ?? 0,
    ];
    const inTurn = first.filter((f) => rank(f)[0] < MOST_OF_WORKSPACE).sort((a, b) => rank(a)[0] - rank(b)[0] || rank(a)[1] - rank(b)[1]);
    for (const { id, workspaceId } of inTurn) {
      const row = await this.db.transaction(async (manager) => {
        const rows = (await manager.query(
          `SELECT id FROM job WHERE id = ? AND ((state = 'queued' AND (not_before IS NULL OR not_before <= ?)) OR (state = 'running' AND heartbeat_at < ?)) FOR UPDATE SKIP LOCKED`,
          [id, now, stale],
        )) as { id: string }[];
        if (!rows[0]) return null;
        await manager.query(`UPDATE job SET state = 'running', claimed_by = ?, heartbeat_at = ?, attempts = attempts + 1 WHERE id = ?`, [
          this.me,
          new Date(),
          id,
        ]);
        return manager.getRepository(JobEntity).findOneByOrFail({ id });
      });
      if (!row) continue;
      this.served.set(workspaceId, ++this.turn);
      if (this.served.size > 5000) this.served.delete(this.served.keys().next().value!);
      return row;
    }
    return null;
  }

  private async run(row: JobRow): Promise<void> {
    const kind = this.kinds.get(row.kind);
    const stop = new AbortController();
    let written = 0;
    let heard = Date.now();
    let gone = false;
    let latest = { done: row.done, total: row.total, message: row.message };
    const beat = async (): Promise<void> => {
      // What goes forward is not stuck, however often its servers were killed.
      const { affectedRows } = (await this.db.query(
        'UPDATE job SET heartbeat_at = ?, attempts = IF(? > done, 1, attempts), done = ?, total = ?, message = ? WHERE id = ? AND claimed_by = ? AND state = ?',
        [new Date(), latest.done, latest.done, latest.total, latest.message.slice(0, 500), row.id, this.me, 'running'],
      )) as { affectedRows: number };
      if (affectedRows === 0) throw new LeaseLost();
      if (row.kind !== 'call') await touchLibrary(this.db, row.workspaceId);
    };
    const checkpoint = async (): Promise<void> => {
      if (this.stopped || gone) throw new LeaseLost();
      const [state] = (await this.db.query('SELECT cancel_requested AS cancel, claimed_by AS owner FROM job WHERE id = ?', [row.id])) as {
        cancel: number;
        owner: string;
      }[];
      if (state?.owner !== this.me) throw new LeaseLost();
      if (state.cancel) throw new Cancelled();
    };
    const control: JobControl = {
      row,
      signal: stop.signal,
      checkpoint,
      progress: async (done, total, message) => {
        heard = Date.now();
        latest = { done, total, message };
        // A row written for every small step would cost more than the steps themselves.
        if (Date.now() - written < 200 && done < total) return;
        written = Date.now();
        await beat();
        await checkpoint();
      },
    };
    // One long step must not look like a dead server, and one that never ends must not look like work.
    let giveUp = (_: Error): void => undefined;
    const givenUp = new Promise<never>((_, reject) => (giveUp = reject));
    givenUp.catch(() => undefined);
    const end = (why: Error): void => {
      if (stop.signal.aborted) return;
      stop.abort();
      // Work that does not notice is left behind: its job ends, and nothing it writes later counts.
      setTimeout(() => giveUp(why), LET_GO_MS).unref();
    };
    const look = async (): Promise<void> => {
      await beat();
      await checkpoint();
      if (kind?.silentMs !== undefined && Date.now() - heard > kind.silentMs) end(new Silent());
    };
    const pulse = setInterval(
      () =>
        void look().catch((error: unknown) => {
          if (error instanceof Cancelled || error instanceof LeaseLost) end(error);
        }),
      Math.min(1000, Math.max(200, this.lease / 4)),
    );
    try {
      if (!kind) throw new Error(`Nobody here knows how to do “${row.kind}”.`);
      if (row.attempts > 5) throw new Error('The job was taken up five times and never came to its end.');
      const work = workingFor(
        {
          workspaceId: row.workspaceId,
          accountId: row.accountId,
          signal: stop.signal,
          progress: (done, total, what) => void control.progress(done, total, what).catch(() => undefined),
          admitted: row.kind !== 'call',
          once: kind.once?.(row) ? { jobId: row.id, by: this.me } : null,
        },
        () => kind.work(control),
      );
      work.catch(() => undefined);
      const said = await Promise.race([work, givenUp]);
      const { message, result } = typeof said === 'string' ? { message: said, result: null } : said;
      await this.finish(row, 'done', message, result);
    } catch (error) {
      await this.failed(row, kind, error);
    } finally {
      gone = true;
      clearInterval(pulse);
    }
  }

  private async failed(row: JobRow, kind: JobKind | undefined, error: unknown): Promise<void> {
    if (error instanceof LeaseLost || this.stopped) return;
    // The database went away in the middle: nothing is wrong with the job, and whoever finds its lease run out goes on.
    if (isAway(error)) {
      console.error(`Job ${row.id} (${row.kind}) waits for the database:`, (error as Error).message);
      return;
    }
    // Two transactions that waited for each other; one had to give way, and the work goes on from where it was.
    if (GAVE_WAY.has((error as { errno?: number }).errno ?? 0) && row.attempts <= 5) return this.requeue(row, null, row.busy, '');
    if (error instanceof Cancelled || error instanceof NotOurs || (error instanceof ComputeError && error.cancelled))
      return this.finish(row, 'cancelled', 'Stopped as asked. What was done stays.', null);
    if (error instanceof Busy || (error instanceof ComputeError && error.busy)) {
      const pause = this.busyPauses[row.busy];
      if (pause !== undefined) {
        const at = new Date(Date.now() + pause);
        return this.requeue(row, at, row.busy + 1, `The server was busy; it is tried again at ${clock(at)}.`);
      }
    }
    const result = kind?.failure?.(error) ?? null;
    if (!result?.problem || result.status >= 500) console.error(`Job ${row.id} (${row.kind}) failed:`, error);
    const message =
      error instanceof Silent
        ? 'It did not come forward any more and was stopped. What was done stays; you can start it again.'
        : (result?.problem?.message ??
          (error instanceof Busy || (error instanceof ComputeError && error.busy)
            ? 'The server was too busy for it four times. What was done stays; start it again when there is less to do.'
            : 'Something went wrong on our side, and the work stopped. What was done stays; you can start it again.'));
    await this.finish(row, 'failed', message, result);
  }

  private async requeue(row: JobRow, notBefore: Date | null, busy: number, message: string): Promise<void> {
    await this.db.transaction(async (manager) => {
      const { affectedRows } = (await manager.query(
        "UPDATE job SET state = 'queued', claimed_by = NULL, not_before = ?, busy = ?, attempts = 0, message = IF(? = '', message, ?) WHERE id = ? AND claimed_by = ? AND state = 'running'",
        [notBefore, busy, message, message, row.id, this.me],
      )) as { affectedRows: number };
      if (affectedRows > 0) await this.kinds.get(row.kind)?.follow?.(manager, row, 'queued');
    });
  }

  private async finish(row: JobRow, state: JobRow['state'], message: string, result: CallResult | null): Promise<void> {
    // Together, so that nobody who sees the job ended finds what it is about still running.
    await this.db.transaction(async (manager) => {
      const { affectedRows } = (await manager.query(
        "UPDATE job SET state = ?, message = ?, finished_at = ?, heartbeat_at = ?, result = ?, not_before = NULL WHERE id = ? AND claimed_by = ? AND state = 'running'",
        [state, message.slice(0, 500), new Date(), new Date(), result === null ? null : JSON.stringify(result), row.id, this.me],
      )) as { affectedRows: number };
      if (affectedRows > 0) await this.kinds.get(row.kind)?.follow?.(manager, row, state);
    });
    if (row.kind !== 'call') await touchLibrary(this.db, row.workspaceId);
  }
}

/** Nothing was heard of the work for too long. */
class Silent extends Error {}

const clock = (at: Date): string => at.toISOString().slice(11, 16) + ' UTC';

/** MariaDB: deadlock, lock wait timeout, record changed since last read. */
const GAVE_WAY: ReadonlySet<number> = new Set([1213, 1205, 1020]);

/** Queues a job in the caller's transaction; the caller nudges the runner once that is through. */
export async function queueJob(
  manager: EntityManager,
  job: Pick<JobRow, 'workspaceId' | 'kind' | 'subjectId'> &
    Partial<Pick<JobRow, 'id' | 'total' | 'accountId' | 'title' | 'page' | 'input' | 'state'>>,
): Promise<string> {
  const id = job.id ?? randomUUID();
  await manager.getRepository(JobEntity).insert({
    id,
    workspaceId: job.workspaceId,
    kind: job.kind,
    subjectId: job.subjectId,
    state: job.state ?? 'queued',
    done: 0,
    total: job.total ?? 0,
    message: 'Waiting to begin',
    claimedBy: null,
    heartbeatAt: null,
    cancelRequested: false,
    attempts: 0,
    createdAt: new Date(),
    finishedAt: null,
    accountId: job.accountId ?? null,
    title: (job.title ?? '').slice(0, 200),
    page: job.page ?? null,
    notBefore: null,
    busy: 0,
    applied: 0,
    input: (job.input ?? null) as never,
    result: null,
    bytes: 0,
    fetchedAt: null,
  });
  return id;
}

/** Calls, and other jobs where a person asks, that a workspace and a person may have waiting and running. */
const MOST_CALLS = { workspace: 60, person: 30 };

/**
 * Takes a place in the queue for one more call, in the transaction that queues it.
 * @throws HttpProblem 429 when the workspace or the person has too many already
 */
export async function takeTurn(manager: EntityManager, workspaceId: string, accountId: string): Promise<void> {
  await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [workspaceId]);
  const [{ all, own }] = (await manager.query(
    "SELECT COUNT(*) AS `all`, COALESCE(SUM(account_id = ?), 0) AS own FROM job WHERE workspace_id = ? AND kind = 'call' AND state IN ('receiving', 'queued', 'running')",
    [accountId, workspaceId],
  )) as [{ all: string; own: string }];
  if (Number(all) < MOST_CALLS.workspace && Number(own) < MOST_CALLS.person) return;
  const whose = Number(own) >= MOST_CALLS.person ? 'You have' : 'This workspace has';
  throw new HttpProblem(
    429,
    'too-much',
    `${whose} ${Number(own) >= MOST_CALLS.person ? own : all} tasks waiting or running already. Nothing was changed; wait for some to end, or stop some.`,
    undefined,
    15,
  );
}

export const describeJob = (row: JobRow): Job => ({
  id: row.id,
  kind: row.kind,
  subjectId: row.subjectId,
  state: row.state,
  done: row.done,
  total: row.total,
  message: row.message,
  title: row.title,
  page: row.page,
  result: row.state === 'done' && row.result ? (row.result.fileName === null ? 'answer' : 'file') : 'none',
  fileName: row.result?.fileName ?? null,
  againAt: row.state === 'queued' ? (row.notBefore?.toISOString() ?? null) : null,
  createdAt: row.createdAt.toISOString(),
  finishedAt: row.finishedAt?.toISOString() ?? null,
});
