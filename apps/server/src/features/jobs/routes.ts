import { routes } from '@orderly-glyph/schema';
import { In, MoreThan } from 'typeorm';
import type { App } from '../../platform/http/context.js';
import { conflict, HttpProblem, notFound } from '../../platform/http/problem.js';
import { bind, type Bound, type Call } from '../../platform/http/serve.js';
import { sendResult, type CallInput } from '../../platform/jobs/calls.js';
import { JobEntity, type JobRow } from '../../platform/jobs/rows.js';
import { describeJob } from '../../platform/jobs/runner.js';

const ENDED: readonly JobRow['state'][] = ['done', 'failed', 'cancelled'];
/** Ended calls that are listed. */
const MOST_LISTED = 50;
const LISTED_MS = 7 * 86_400_000;

export function jobsRoutes(app: App): Bound[] {
  const jobs = app.db.getRepository(JobEntity);

  /** A call is its person's own; all else is the workspace's. */
  const find = async ({ workspaceId, accountId }: { workspaceId: string; accountId: string }, id: string): Promise<JobRow> => {
    const job = await jobs.findOneBy({ id, workspaceId });
    if (!job || (job.kind === 'call' && job.accountId !== accountId)) throw notFound('This job');
    return job;
  };
  const mayChange = (job: JobRow, role: string): void => {
    if (job.kind !== 'call' && role === 'viewer')
      throw new HttpProblem(
        403,
        'role',
        'This takes the role of an editor; you are a viewer. Ask an owner of the workspace. Nothing was changed.',
      );
  };

  /** Sends the job's state whenever it changed, whichever server runs it, until it ends. */
  const watch = async ({ who, params, request, response }: Call<typeof routes.watchJob>): Promise<void> => {
    let job = await find(who, params.jobId);
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      Connection: 'keep-alive',
      'X-Accel-Buffering': 'no',
    });
    let open = true;
    request.on('close', () => (open = false));
    let last = '';
    let quiet = 0;
    while (open) {
      const now = JSON.stringify(describeJob(job));
      if (now !== last) {
        response.write(`data: ${now}\n\n`);
        last = now;
        quiet = 0;
      } else if (++quiet % 60 === 0) response.write(': still here\n\n');
      if (ENDED.includes(job.state)) break;
      await new Promise((resolve) => setTimeout(resolve, 250));
      // Who was taken out of the workspace or signed out sees no more of it.
      const { caller } = await app.callerOf(request);
      if (caller?.workspaceId !== who.workspaceId) break;
      job = await find(who, params.jobId);
    }
    response.end();
  };

  return [
    bind(app, routes.listJobs, async ({ who }) => {
      const rows = await jobs.find({
        where: [
          { workspaceId: who.workspaceId, accountId: who.accountId, kind: 'call', state: In(['queued', 'running']) },
          {
            workspaceId: who.workspaceId,
            accountId: who.accountId,
            kind: 'call',
            state: In(['done', 'failed']),
            finishedAt: MoreThan(new Date(Date.now() - LISTED_MS)),
          },
        ],
        order: { createdAt: 'DESC' },
        take: MOST_LISTED,
      });
      // What nobody wants once whoever asked has gone waits for nobody.
      const stays = (r: JobRow): boolean =>
        r.fetchedAt === null && app.calls.get((r.input as CallInput | null)?.route ?? '')?.contract.whenLeft !== 'stop';
      return rows.filter(stays).map(describeJob);
    }),
    bind(app, routes.getJob, async ({ who, params }) => describeJob(await find(who, params.jobId))),
    bind(app, routes.watchJob, watch),
    bind(app, routes.jobResult, async ({ who, params, response }) => {
      const job = await find(who, params.jobId);
      if (job.kind !== 'call') throw notFound('A result of this job');
      if (!ENDED.includes(job.state)) throw conflict('It has not come to its end yet.');
      await sendResult(app.db, job, response);
    }),
    bind(app, routes.retryJob, async ({ who, params }) => {
      const job = await find(who, params.jobId);
      if (!['failed', 'cancelled'].includes(job.state)) throw conflict('Only what failed or was stopped can be started again.');
      await app.db.transaction(async (manager) => {
        const { affectedRows } = (await manager.query(
          "UPDATE job SET state = 'queued', attempts = 0, busy = 0, not_before = NULL, cancel_requested = 0, claimed_by = NULL, finished_at = NULL, result = NULL, message = 'Waiting to begin' WHERE id = ? AND state IN ('failed', 'cancelled')",
          [job.id],
        )) as { affectedRows: number };
        if (affectedRows > 0) await app.jobs.kinds.get(job.kind)?.follow?.(manager, job, 'queued');
      });
      app.jobs.nudge();
      return describeJob(await find(who, params.jobId));
    }),
    bind(app, routes.cancelJob, async ({ who, params }) => {
      const job = await find(who, params.jobId);
      mayChange(job, who.role);
      await app.db.transaction(async (manager) => {
        await manager.query("UPDATE job SET cancel_requested = 1 WHERE id = ? AND state IN ('queued', 'running')", [job.id]);
        const { affectedRows } = (await manager.query(
          "UPDATE job SET state = 'cancelled', message = 'Stopped before it began.', finished_at = ? WHERE id = ? AND state = 'queued'",
          [new Date(), job.id],
        )) as { affectedRows: number };
        if (affectedRows > 0) await app.jobs.kinds.get(job.kind)?.follow?.(manager, job, 'cancelled');
      });
      return describeJob(await find(who, params.jobId));
    }),
    bind(app, routes.dismissJob, async ({ who, params }) => {
      const job = await find(who, params.jobId);
      if (job.kind !== 'call' || !ENDED.includes(job.state)) throw conflict('Only a task of yours that ended can be put away.');
      await jobs.delete({ id: job.id });
      return { ok: true as const };
    }),
  ];
}
