import { randomUUID } from 'node:crypto';
import { routes } from '@orderly-glyph/schema';
import { Not } from 'typeorm';
import type { App } from '../../platform/http/context.js';
import { conflict, invalid, notFound } from '../../platform/http/problem.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { JobEntity } from '../../platform/jobs/rows.js';
import { describeJob, queueJob } from '../../platform/jobs/runner.js';
import { describeIntake, describeIntakes, intakeItems, intakeSuggestions } from './describe.js';
import { MOST_TRIES } from './job.js';
import { receiveUpload } from './receive.js';
import { IntakeEntity, Upload } from './rows.js';

export function intakeRoutes(app: App): Bound[] {
  const intakes = app.db.getRepository(IntakeEntity);
  const jobs = app.db.getRepository(JobEntity);

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
    bind(app, routes.retryItem, async ({ who, params }) => {
      const jobId = randomUUID();
      await app.db.transaction(async (manager) => {
        const intake = await manager
          .getRepository(IntakeEntity)
          .findOne({ where: { id: params.intakeId, workspaceId: who.workspaceId }, lock: { mode: 'pessimistic_write' } });
        if (!intake) throw notFound('This intake');
        if (['queued', 'running'].includes(intake.state))
          throw conflict('This intake is being sorted just now. Try again when it has ended.');
        const { affectedRows } = (await manager.query(
          "UPDATE item i JOIN upload u ON u.id = i.upload_id SET i.state = 'waiting', i.reason = '', i.tries = 0 WHERE i.id = ? AND i.intake_id = ? AND i.state = 'set-aside' AND i.tries >= ?",
          [params.itemId, intake.id, MOST_TRIES],
        )) as { affectedRows: number };
        if (affectedRows === 0) throw conflict('This file cannot be tried again; bring it in anew.');
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
  ];
}
