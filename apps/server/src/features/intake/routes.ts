import { randomUUID } from 'node:crypto';
import { routes } from '@orderly-glyph/schema';
import { Not } from 'typeorm';
import type { App } from '../../platform/http/context.js';
import { conflict, invalid, notFound } from '../../platform/http/problem.js';
import { bind, type Bound, type Call } from '../../platform/http/serve.js';
import { JobEntity } from '../../platform/jobs/rows.js';
import { describeJob, queueJob } from '../../platform/jobs/runner.js';
import { findCaller } from '../accounts/index.js';
import { describeIntake, describeIntakes, intakeItems, intakeSuggestions } from './describe.js';
import { receiveUpload } from './receive.js';
import { IntakeEntity, Upload } from './rows.js';

const ENDED = ['done', 'failed', 'cancelled'];

export function intakeRoutes(app: App): Bound[] {
  const intakes = app.db.getRepository(IntakeEntity);
  const jobs = app.db.getRepository(JobEntity);

  const findJob = async (workspaceId: string, id: string) => {
    const job = await jobs.findOneBy({ id, workspaceId });
    if (!job) throw notFound('This job');
    return job;
  };

  /** Sends the job's state whenever it changed, whichever server runs it, until it ends. */
  const watch = async ({ who, params, token, request, response }: Call<typeof routes.watchJob>): Promise<void> => {
    let job = await findJob(who.workspaceId, params.jobId);
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
      const caller = token ? await findCaller(app.db, token) : null;
      if (caller?.workspaceId !== who.workspaceId) break;
      job = await findJob(who.workspaceId, params.jobId);
    }
    response.end();
  };

  return [
    bind(app, routes.listIntakes, async ({ who }) =>
      describeIntakes(
        app.db,
        who.workspaceId,
        await intakes.find({ where: { workspaceId: who.workspaceId }, order: { createdAt: 'DESC' }, take: 50 }),
      ),
    ),
    bind(app, routes.createIntake, async ({ who, body }) => {
      const id = randomUUID();
      await intakes.insert({
        id,
        workspaceId: who.workspaceId,
        label: body.label || 'Files',
        state: 'waiting',
        createdBy: who.accountId,
        createdAt: new Date(),
        jobId: null,
      });
      return describeIntake(app.db, who.workspaceId, id);
    }),
    bind(app, routes.getIntake, async ({ who, params }) => ({
      intake: await describeIntake(app.db, who.workspaceId, params.intakeId),
      items: await intakeItems(app.db, who.workspaceId, params.intakeId),
      suggestions: await intakeSuggestions(app.db, who.workspaceId, params.intakeId),
    })),
    bind(app, routes.uploadFile, async ({ who, params, query, request }) => {
      const intake = await intakes.findOneBy({ id: params.intakeId, workspaceId: who.workspaceId });
      if (!intake) throw notFound('This intake');
      if (intake.state !== 'waiting') throw conflict('This intake was started already. Begin a new one for more files.');
      return receiveUpload(app.db, request, { workspaceId: who.workspaceId, intakeId: intake.id, name: query.name }, app.config);
    }),
    bind(app, routes.startIntake, async ({ who, params }) => {
      const jobId = randomUUID();
      await app.db.transaction(async (manager) => {
        const intake = await manager
          .getRepository(IntakeEntity)
          .findOne({ where: { id: params.intakeId, workspaceId: who.workspaceId }, lock: { mode: 'pessimistic_write' } });
        if (!intake) throw notFound('This intake');
        // What was stopped or failed half way still has its uploads and can go on.
        if (!['waiting', 'cancelled', 'failed'].includes(intake.state)) throw conflict('This intake is started already.');
        if (!(await manager.getRepository(Upload).existsBy({ intakeId: intake.id, state: Not('receiving') })))
          throw invalid('There is no file in this intake yet. Choose at least one.');
        await queueJob(manager, { id: jobId, workspaceId: who.workspaceId, kind: 'intake', subjectId: intake.id });
        await manager.getRepository(IntakeEntity).update({ id: intake.id }, { state: 'queued', jobId });
      });
      app.jobs.nudge();
      return describeJob(await jobs.findOneByOrFail({ id: jobId }));
    }),
    bind(app, routes.discardIntake, async ({ who, params }) => {
      const { affected } = await intakes.delete({ id: params.intakeId, workspaceId: who.workspaceId, state: 'waiting' });
      if (!affected) {
        if (await intakes.existsBy({ id: params.intakeId, workspaceId: who.workspaceId }))
          throw conflict('This intake was started, so its report stays.');
        throw notFound('This intake');
      }
      return { ok: true as const };
    }),
    bind(app, routes.getJob, async ({ who, params }) => describeJob(await findJob(who.workspaceId, params.jobId))),
    bind(app, routes.watchJob, watch),
    bind(app, routes.retryJob, async ({ who, params }) => {
      const job = await findJob(who.workspaceId, params.jobId);
      if (!['failed', 'cancelled'].includes(job.state)) throw conflict('Only what failed or was stopped can be started again.');
      await app.db.transaction(async (manager) => {
        const { affectedRows } = (await manager.query(
          "UPDATE job SET state = 'queued', attempts = 0, cancel_requested = 0, claimed_by = NULL, finished_at = NULL, message = 'Waiting to begin' WHERE id = ? AND state IN ('failed', 'cancelled')",
          [job.id],
        )) as { affectedRows: number };
        if (affectedRows > 0 && job.kind === 'intake')
          await manager.getRepository(IntakeEntity).update({ id: job.subjectId, jobId: job.id }, { state: 'queued' });
      });
      app.jobs.nudge();
      return describeJob(await findJob(who.workspaceId, params.jobId));
    }),
    bind(app, routes.cancelJob, async ({ who, params }) => {
      const job = await findJob(who.workspaceId, params.jobId);
      await app.db.transaction(async (manager) => {
        await manager.query("UPDATE job SET cancel_requested = 1 WHERE id = ? AND state IN ('queued', 'running')", [job.id]);
        const { affectedRows } = (await manager.query(
          "UPDATE job SET state = 'cancelled', message = 'Stopped before it began.', finished_at = ? WHERE id = ? AND state = 'queued'",
          [new Date(), job.id],
        )) as { affectedRows: number };
        if (affectedRows > 0 && job.kind === 'intake')
          await manager.getRepository(IntakeEntity).update({ id: job.subjectId }, { state: 'cancelled' });
      });
      return describeJob(await findJob(who.workspaceId, params.jobId));
    }),
  ];
}
